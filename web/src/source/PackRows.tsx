import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Schemas } from '../api/client'
import { set } from '../document/pointer'
import { nodesOf, partOf, timesOf, type Placed } from '../document/tree'
import { ReadRow } from '../figures/FigureField'
import { chargeable, type PartKind } from '../parts/description'
import { useFigures, useSolution, useSolved } from '../solved/useSolved'
import { clock } from '../units/quantity'
import { Choice, Field, Tick, type WorkbenchProps } from '../workbench/fields'
import { PartLine, x } from '../workbench/rows'

type Feed = Schemas['Feed']

const buildWords = { '': 'not said', 'spot-welded': 'welded strip', holders: 'holders with springs', 'existing-wires': 'tabs that are there', soldered: 'solder' }

/** What a pack is made of, what protects it and what charges it. */
export function PackRows({ work, feed, index, here, pack, inUse }: { work: WorkbenchProps; feed: Feed; index: number; here: string; pack: NonNullable<Schemas['Source']['pack']>; inUse: boolean }) {
  const { light, variant, at } = work
  const part = partOf(light, pack.partId)
  const board = partOf(light, pack.protectionId)?.part.protection
  const charger = partOf(light, pack.charger?.partId)?.part.charger
  const cell = part?.part.cell
  const capacity = cell && !pack.groups ? cell.capacityAh * (cell.health ?? 1) * pack.parallel : undefined
  // Those whose current is the emitters': what hangs on them lights up.
  const drivers = nodesOf(variant, at).filter((p) => p.node.driver && p.feed === index && (p.node.loads ?? []).some((n) => n.array ?? n.strip ?? n.load))
  return (
    <>
      <PartLine work={work} kind="cell" id={pack.partId} usedAt={`${here}/pack/partId`} empty="No cell chosen yet" />
      {pack.groups ? (
        <>
          <ReadRow label="Each cell by itself">{`${pack.series} in series, ${pack.parallel} side by side`}</ReadRow>
          <Button data-pointer={`${here}/pack/groups`} sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(l, `${here}/pack/groups`, undefined), 'All cells as their part')}>Take all as their part again</Button>
        </>
      ) : (
        <>
          <Field work={work} label="Cells in series" pointer={`${here}/pack/series`} quantity="count" required />
          <Field work={work} label="Strings in parallel" pointer={`${here}/pack/parallel`} quantity="count" required />
        </>
      )}
      {part && <Field work={work} label="Capacity of a cell" pointer={`${part.pointer}/cell/capacityAh`} quantity="charge" required />}
      {part && <Field work={work} label="Resistance of a cell" pointer={`${part.pointer}/cell/resistanceOhm`} quantity="resistance" required />}
      <Choice work={work} label="Joined by" pointer={`${here}/pack/build`} standard="" options={buildWords} />
      <Field work={work} label="Springs, strip, wires" pointer={`${here}/pack/contactOhm`} quantity="resistance" fallback="0 Ω" />
      <Field work={work} label="Cut-off, each cell" pointer={`${here}/pack/cutoffCellV`} quantity="voltage" fallback={board ? `${board.cutCellV} V (board)` : cell?.minV !== undefined ? `${cell.minV} V` : 'usual'} />
      <Field work={work} label="Back on above, rested" pointer={`${here}/pack/releaseCellV`} quantity="voltage" fallback={board?.releaseCellV !== undefined && !board.latches ? `${board.releaseCellV} V (board)` : 'stays off'} />
      {(pack.cutoffCellV !== undefined || pack.cutoffDelayS !== undefined) && <Field work={work} label="Waits before it cuts" pointer={`${here}/pack/cutoffDelayS`} quantity="duration" fallback={board ? `${board.cutDelayS ?? 0.1} s (board)` : 'not at all'} />}
      <Field work={work} label="Alarm sounds below, each cell" pointer={`${here}/pack/alarmCellV`} quantity="voltage" fallback="there is none" />
      <Field work={work} label="Or the whole pack" pointer={`${here}/pack/alarmPackV`} quantity="voltage" fallback="not watched" />
      <Field work={work} label="Fuse" pointer={`${here}/pack/fuseA`} quantity="current" fallback="none" />
      {part && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.onFigures(part.pointer)}>All figures of the cell…</Button>}
      {part && <Optional work={work} title="Protection" kind="protection" pointer={`${here}/pack/protectionId`} id={pack.protectionId} empty="No board: nothing watches single cells" />}
      {(part ?? pack.charger) && <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Charging</Box>}
      {pack.charger ? (
        <>
          <PartLine work={work} kind="charger" id={pack.charger.partId} usedAt={`${here}/pack/charger/partId`} empty="A bench supply set to an end voltage" optional />
          <Field work={work} label="Current it is set to" pointer={`${here}/pack/charger/currentA`} quantity="current" fallback={charger?.currentA !== undefined ? `${charger.currentA} A` : 'not known'} />
          {charger?.programV !== undefined && <Field work={work} label="Programming resistor" pointer={`${here}/pack/charger/programOhm`} quantity="resistance" fallback="not fitted" />}
          <Field work={work} label="Ends at, each cell" pointer={`${here}/pack/charger/endCellV`} quantity="voltage" fallback={charger?.endCellV !== undefined ? `${charger.endCellV} V` : 'usual'} />
          <Tick work={work} label="Plugged in while it is looked at" pointer={`${here}/pack/charger/pluggedIn`} />
          <Button data-pointer={`${here}/pack/charger`} sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(l, `${here}/pack/charger`, undefined), 'No charger')}>Take the charger out</Button>
        </>
      ) : part && (
        !chargeable(cell?.chemistry) ? <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>Dry cells: they are changed, and never charged.</Box> : <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>It is taken out to be charged. <Button data-pointer={`${here}/pack/charger`} sx={{ p: 0, minWidth: 0, verticalAlign: 'baseline' }} onClick={() => work.change((l) => set(l, `${here}/pack/charger`, {}), 'A charger')}>Put a charger in</Button></Box>
      )}
      {inUse && part && <Readings feed={feed.id} drivers={drivers} capacityAh={capacity} />}
    </>
  )
}

/** A part that may be left out. */
function Optional({ work, title, kind, pointer, id, empty }: { work: WorkbenchProps; title: string; kind: PartKind; pointer: string; id: string | undefined; empty: string }) {
  const part = partOf(work.light, id)
  return (
    <>
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>{title}</Box>
      <PartLine work={work} kind={kind} id={id} usedAt={pointer} empty={empty} optional />
      {part && (
        <Box>
          <Button sx={{ p: 0, minWidth: 0, mr: 1.5 }} onClick={() => work.onFigures(part.pointer)}>All figures of the board…</Button>
          <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(l, pointer, undefined), `No ${title.toLowerCase()}`)}>Leave it out</Button>
        </Box>
      )}
    </>
  )
}

function Readings({ feed, drivers, capacityAh }: { feed: string; drivers: Placed[]; capacityAh: number | undefined }) {
  const { busV, busA = 0, cellV, charge = 0, chargerA, packA } = useFigures(feed, 'busV', 'busA', 'cellV', 'charge', 'chargerA', 'packA')
  const ledA = useSolved((s) => drivers.reduce((sum, p) => sum + timesOf(p) * (s.moment?.figure(p.node.id, 'outA') ?? 0), 0))
  const ends = useSolution((s) => s.answers.endS) != null
  if (cellV === undefined) return null
  return (
    <>
      <ReadRow label="At the terminals">{`${x(busV, 'V')} · ${x(busA, 'A')}`}</ReadRow>
      <ReadRow label={busA > 0 ? 'Each cell' : 'Each cell, resting'}>{x(cellV, 'V')}</ReadRow>
      {chargerA !== undefined && <ReadRow label="The charger gives">{x(chargerA, 'A')}</ReadRow>}
      {packA !== undefined && <ReadRow label={packA < 0 ? 'Into the cells' : 'Out of the cells'}>{x(Math.abs(packA), 'A')}</ReadRow>}
      <ReadRow label="Charge left">{`${(charge * 100).toFixed(0)} %`}</ReadRow>
      {ends && capacityAh !== undefined && ledA > 0 && <ReadRow label={drivers.length > 1 ? 'Rule of thumb, mAh ÷ mA of all LEDs' : 'Rule of thumb, mAh ÷ LED mA'}>{clock((capacityAh / ledA) * 3600)}</ReadRow>}
    </>
  )
}
