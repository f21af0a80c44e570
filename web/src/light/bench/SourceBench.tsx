import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Schemas } from '../../api/client'
import { set } from '../../document/pointer'
import { clock } from '../../units/quantity'
import { ReadRow } from '../FigureField'
import { nodeName, nodesOf, partOf } from '../tree'
import { BenchTitle, Field, Words, type BenchProps } from './fields'
import { PartLine, x } from './rows'

type Feed = Schemas['Feed']

export function SourceBench(bench: BenchProps) {
  const { light, variant, at } = bench
  const between = nodesOf(variant, at).filter((p) => p.node.switch ?? p.node.auxiliary)
  return (
    <>
      <BenchTitle title="Source" keyName="1" />
      {variant.feeds.map((f, i) => (
        <Box key={f.id}>
          {variant.feeds.length > 1 && <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>{f.name ?? f.id}</Box>}
          {f.sources.length === 0 && <Button data-pointer={`${at}/feeds/${i}/sources`} onClick={() => bench.edit(set(light, `${at}/feeds/${i}/sources`, [{ id: `${f.id}-pack`, pack: { series: 1, parallel: 1 } }]), 'Pack')}>Add a pack</Button>}
          {f.sources.map((s, k) => (
            <Box key={s.id}>
              {k > 0 && <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Must also accept: {s.name ?? s.id}</Box>}
              <OneSource bench={bench} feed={f} index={i} source={k} />
            </Box>
          ))}
        </Box>
      ))}
      {between.map((p) => (
        <Box key={p.node.id}>
          {p.node.switch && <Field bench={bench} label={`${nodeName(p.node)}, contact`} pointer={`${p.pointer}/switch/contactOhm`} quantity="resistance" fallback="0 Ω" />}
          {p.node.switch && <Field bench={bench} label="switches fast: share of time closed" pointer={`${p.pointer}/switch/duty`} quantity="fraction" fallback="100 %, it does not" />}
          {p.node.switch && <Field bench={bench} label="rated" pointer={`${p.pointer}/switch/ratingA`} quantity="current" fallback="not known" />}
          {p.node.auxiliary && <Field bench={bench} label={`${nodeName(p.node)}, draw`} pointer={`${p.pointer}/auxiliary/currentA`} quantity="current" fallback="0 A" />}
        </Box>
      ))}
    </>
  )
}

function OneSource({ bench, feed, index, source: k }: { bench: BenchProps; feed: Feed; index: number; source: number }) {
  const { light, moment, at } = bench
  const source = feed.sources[k]!
  const here = `${at}/feeds/${index}/sources/${k}`
  const inUse = k === 0
  if (source.supply) {
    return (
      <>
        <ReadRow label="Supply">{source.name ?? source.id}</ReadRow>
        <Field bench={bench} label="Voltage without load" pointer={`${here}/supply/voltageV`} quantity="voltage" required />
        <Field bench={bench} label="Source resistance" pointer={`${here}/supply/resistanceOhm`} quantity="resistance" fallback="0 Ω" hint="an unregulated adapter is high off load: no-load less loaded voltage, over the current" />
        <Field bench={bench} label="Current limit" pointer={`${here}/supply/maxCurrentA`} quantity="current" fallback="none" />
        <Words bench={bench} label="A rail of" pointer={`${here}/supply/unit`} fallback="no other rails" />
        {source.supply.unit && <Field bench={bench} label="All its rails together" pointer={`${here}/supply/unitMaxW`} quantity="power" fallback="not known" />}
      </>
    )
  }
  if (source.mains) {
    return (
      <>
        <ReadRow label="Mains">{source.name ?? source.id}</ReadRow>
        <Field bench={bench} label="Voltage" pointer={`${here}/mains/voltageV`} quantity="voltage" required />
        {inUse && moment && <ReadRow label="Takes from the wall">{x(moment.figure(feed.id, 'sourceW'), 'W')}</ReadRow>}
        {inUse && moment && <ReadRow label="In a day, lit all day">{x(((moment.figure(feed.id, 'sourceW') ?? 0) * 24) / 1000, 'kWh')}</ReadRow>}
      </>
    )
  }
  if (!source.pack) return <Button data-pointer={here} onClick={() => bench.edit(set(light, here, { id: source.id, pack: { series: 1, parallel: 1 } }), 'Pack')}>Add a pack</Button>
  return <Pack bench={bench} feed={feed} index={index} here={here} pack={source.pack} inUse={inUse} />
}

function Pack({ bench, feed, index, here, pack, inUse }: { bench: BenchProps; feed: Feed; index: number; here: string; pack: NonNullable<Schemas['Source']['pack']>; inUse: boolean }) {
  const { light, variant, at, moment, solution } = bench
  const part = partOf(light, pack.partId)
  const cell = part?.part.cell
  const capacity = cell ? cell.capacityAh * (cell.health ?? 1) * pack.parallel : undefined
  const driver = nodesOf(variant, at).find((p) => p.node.driver && p.feed === index)
  const ledA = driver && moment?.figure(driver.node.id, 'outA')
  const a = solution?.answers
  return (
    <>
      <PartLine bench={bench} kind="cell" id={pack.partId} usedAt={`${here}/pack/partId`} empty="No cell chosen yet" />
      <Field bench={bench} label="Cells in series" pointer={`${here}/pack/series`} quantity="count" required />
      <Field bench={bench} label="Strings in parallel" pointer={`${here}/pack/parallel`} quantity="count" required />
      {part && <Field bench={bench} label="Capacity of a cell" pointer={`${part.pointer}/cell/capacityAh`} quantity="charge" required />}
      {part && <Field bench={bench} label="Resistance of a cell" pointer={`${part.pointer}/cell/resistanceOhm`} quantity="resistance" required />}
      <Field bench={bench} label="Springs, strip, wires" pointer={`${here}/pack/contactOhm`} quantity="resistance" fallback="0 Ω" />
      <Field bench={bench} label="Cut-off, each cell" pointer={`${here}/pack/cutoffCellV`} quantity="voltage" fallback={cell?.minV !== undefined ? `${cell.minV} V` : 'usual for the chemistry'} />
      <Field bench={bench} label="Back on above, rested" pointer={`${here}/pack/releaseCellV`} quantity="voltage" fallback="stays off" />
      {(pack.cutoffCellV !== undefined || pack.cutoffDelayS !== undefined) && <Field bench={bench} label="Waits before it cuts" pointer={`${here}/pack/cutoffDelayS`} quantity="duration" fallback="not at all" />}
      {part && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => bench.onFigures(part.pointer)}>All figures…</Button>}
      {inUse && moment && <ReadRow label="At the terminals">{`${x(moment.figure(feed.id, 'busV'), 'V')} · ${x(moment.figure(feed.id, 'busA') ?? 0, 'A')}`}</ReadRow>}
      {inUse && moment && <ReadRow label={(moment.figure(feed.id, 'busA') ?? 0) > 0 ? 'Each cell' : 'Each cell, resting'}>{x(moment.figure(feed.id, 'cellV'), 'V')}</ReadRow>}
      {inUse && moment && <ReadRow label="Charge left">{`${((moment.figure(feed.id, 'charge') ?? 0) * 100).toFixed(0)} %`}</ReadRow>}
      {inUse && a?.endS != null && capacity !== undefined && ledA !== undefined && ledA > 0 && <ReadRow label="Rule of thumb, mAh ÷ LED mA">{clock((capacity / ledA) * 3600)}</ReadRow>}
    </>
  )
}
