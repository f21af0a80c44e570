import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { set } from '../../document/pointer'
import { clock } from '../../units/quantity'
import { ReadRow } from '../FigureField'
import { nodeName, nodesOf, partOf } from '../tree'
import { BenchTitle, Field, type BenchProps } from './fields'
import { PartLine, x } from './rows'

export function SourceBench(bench: BenchProps) {
  const { light, variant, at, moment, solution } = bench
  const between = nodesOf(variant, at).filter((p) => (p.node.switch ?? p.node.auxiliary) && !p.above.some((a) => a.node.driver))
  return (
    <>
      <BenchTitle title="Source" keyName="1" />
      {variant.feeds.map((f, i) => {
        const source = f.sources[0]
        const here = `${at}/feeds/${i}/sources/0`
        if (source?.supply) {
          return (
            <Box key={f.id}>
              <ReadRow label="Supply">{source.name ?? source.id}</ReadRow>
              <Field bench={bench} label="Voltage without load" pointer={`${here}/supply/voltageV`} quantity="voltage" required />
              <Field bench={bench} label="Source resistance" pointer={`${here}/supply/resistanceOhm`} quantity="resistance" fallback="0 Ω" />
              <Field bench={bench} label="Current limit" pointer={`${here}/supply/maxCurrentA`} quantity="current" fallback="none" />
            </Box>
          )
        }
        if (source?.mains) {
          return (
            <Box key={f.id}>
              <ReadRow label="Mains">{source.name ?? source.id}</ReadRow>
              <Field bench={bench} label="Voltage" pointer={`${here}/mains/voltageV`} quantity="voltage" required />
              {moment && <ReadRow label="Takes from the wall">{x(moment.figure(f.id, 'sourceW'), 'W')}</ReadRow>}
              {moment && <ReadRow label="In a day, lit all day">{x(((moment.figure(f.id, 'sourceW') ?? 0) * 24) / 1000, 'kWh')}</ReadRow>}
            </Box>
          )
        }
        const pack = source?.pack
        const part = partOf(light, pack?.partId)
        const bus = moment?.figure(f.id, 'busA') ?? 0
        const openPack = () => bench.edit(set(light, here, { id: 'pack', pack: { series: 1, parallel: 1 } }), 'Pack')
        if (!pack) return <Button key={f.id} onClick={openPack}>Add a pack</Button>
        const capacity = part?.part.cell ? part.part.cell.capacityAh * (part.part.cell.health ?? 1) * pack.parallel : undefined
        const driver = nodesOf(variant, at).find((p) => p.node.driver && p.feed === i)
        const ledA = driver && moment?.figure(driver.node.id, 'outA')
        const a = solution?.answers
        return (
          <Box key={f.id}>
            <PartLine bench={bench} kind="cell" id={pack.partId} usedAt={`${here}/pack/partId`} empty="No cell chosen yet" />
            <Field bench={bench} label="Cells in series" pointer={`${here}/pack/series`} quantity="count" required />
            <Field bench={bench} label="Strings in parallel" pointer={`${here}/pack/parallel`} quantity="count" required />
            {part && <Field bench={bench} label="Capacity of a cell" pointer={`${part.pointer}/cell/capacityAh`} quantity="charge" required />}
            {part && <Field bench={bench} label="Resistance of a cell" pointer={`${part.pointer}/cell/resistanceOhm`} quantity="resistance" required />}
            <Field bench={bench} label="Springs, strip, wires" pointer={`${here}/pack/contactOhm`} quantity="resistance" fallback="0 Ω" />
            <Field bench={bench} label="Cut-off, each cell" pointer={`${here}/pack/cutoffCellV`} quantity="voltage" fallback={`${part?.part.cell?.minV ?? 2.8} V`} />
            {moment && <ReadRow label="At the terminals">{`${x(moment.figure(f.id, 'busV'), 'V')} · ${x(bus, 'A')}`}</ReadRow>}
            {moment && <ReadRow label="Charge left">{`${((moment.figure(f.id, 'charge') ?? 0) * 100).toFixed(0)} %`}</ReadRow>}
            {a?.endS != null && capacity !== undefined && ledA !== undefined && ledA > 0 && (
              <ReadRow label="Rule of thumb, mAh ÷ LED mA">{clock((capacity / ledA) * 3600)}</ReadRow>
            )}
          </Box>
        )
      })}
      {between.map((p) => (
        <Box key={p.node.id}>
          {p.node.switch && <Field bench={bench} label={`${nodeName(p.node)}, contact`} pointer={`${p.pointer}/switch/contactOhm`} quantity="resistance" fallback="0 Ω" />}
          {p.node.auxiliary && <Field bench={bench} label={`${nodeName(p.node)}, draw`} pointer={`${p.pointer}/auxiliary/currentA`} quantity="current" fallback="0 A" />}
        </Box>
      ))}
    </>
  )
}
