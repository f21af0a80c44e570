import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState, type FocusEvent, type RefObject } from 'react'
import { answer, api, type Light } from '../api/client'
import type { LightStore } from '../document/store'
import { recorded } from '../document/readings'
import { nodesOf } from '../document/tree'
import { useKept } from '../settings/useKept'
import { Column } from '../workbench/Column'
import { Tabs } from '../workbench/Tabs'
import { CalibrationView } from './CalibrationView'
import { ClaimsView } from './ClaimsView'
import { DrawView } from './DrawView'
import { LogsView } from './LogsView'
import { Instruments } from './Instruments'
import { useInstruments } from './useInstruments'
import type { BenchRow } from './ReadingRow'
import { goToRow, keyOf, ReadingsView } from './ReadingsView'
import { Says } from './Says'
import { earlier, Sittings } from './Sittings'
import { ToolList } from './ToolList'

interface Props {
  id: string
  doc: LightStore
  light: Light
  index: number
  pane: string
  onPane: (pane: string) => void
  onGo: (pointer: string) => void
  /** What the key that records does. */
  recordRef: RefObject<() => void>
}

/** The second face of a light: what to measure, what was measured, and what that makes of it. */
export function BenchFace({ id, doc, light, index, pane, onPane, onGo, recordRef }: Props) {
  const [have, setHave] = useKept<string[]>('tools', [])
  const [ways, setWays] = useState<Record<string, string>>({})
  const [open, setOpen] = useState('')
  const query = { variant: index, tools: have, ways: Object.entries(ways).map(([node, way]) => `${node}=${way}`) }
  const found = useQuery({ queryKey: ['bench', query, light], queryFn: ({ signal }) => answer(api.POST('/api/bench/plan', { signal, params: { query }, body: light })), retry: false, placeholderData: (old) => old })
  const plan = found.data
  const instruments = useInstruments(light, index)
  const [reading, setReading] = useState('')
  const [beside, setBeside] = useState('')
  const before = earlier(light, index).find((e) => e.key === beside)?.done
  const readRow = async (row: BenchRow) => {
    const key = keyOf(row)
    setOpen(key)
    setReading(key)
    const got = await instruments.read(row)
    setReading('')
    if (got) doc.change((l) => recorded(l, index, row.node, row.step, { reading: got.value, to: undefined, with: got.tool, sure: undefined }), 'Reading')
  }
  const load = nodesOf(light.variants[index]!, `/variants/${index}`).find((p) => p.node.load)
  // The open row, or the first that was not read; by an instrument, if one can, else by hand.
  useEffect(() => {
    recordRef.current = () => {
      const rows = plan?.stages.flatMap((s) => s.rows) ?? []
      const row = rows.find((r) => keyOf(r) === open && r.reading) ?? rows.find((r) => r.reading && r.reading.actual == null)
      if (!row) return
      if (instruments.forRow(row)) void readRow(row)
      else goToRow(keyOf(row))
    }
  })
  const left = (e: FocusEvent<HTMLElement>) => !e.currentTarget.contains(e.relatedTarget) && void doc.save()
  return (
    <>
      <Column label="Bench" below onBlur={left}>
        <Instruments of={instruments} />
        <ToolList have={have} onHave={setHave} />
      </Column>
      <Column label="Readings" onBlur={left}>
        <Tabs label="About the bench" value={pane} onChange={onPane} tabs={[['', 'Readings'], ['logs', 'Logs'], ...(load ? [['draw', 'Draw'] as [string, string]] : []), ['calibration', 'Calibration'], ['claims', 'Claims']]} />
        {found.isError && <Box role="alert" sx={{ color: 'var(--ink-soft)', mt: 1.5 }}>{found.error.message}</Box>}
        {!plan && !found.isError && <Box sx={{ color: 'var(--ink-soft)', mt: 1.5 }}>What to read is worked out…</Box>}
        {pane === 'logs' ? <LogsView id={id} light={light} variant={index} change={doc.change} plan={plan} instruments={instruments.list} /> : pane === 'claims' ? <ClaimsView light={light} variant={index} change={doc.change} /> : pane === 'draw' && load ? <DrawView key={load.node.id} id={id} light={light} variant={index} load={load} change={doc.change} /> : pane === 'calibration' ? <CalibrationView light={light} variant={index} query={query} change={doc.change} onReadings={() => onPane('')} /> : plan && <ReadingsView plan={plan} variant={index} change={doc.change} ways={ways} onWays={setWays} open={open} onOpen={setOpen} canRead={(row) => instruments.forRow(row) !== undefined} before={before} reading={reading} onRead={(row) => void readRow(row)} />}
      </Column>
      <Column label="What they say" onBlur={left}>
        {plan && <Says plan={plan} onGo={onGo} />}
        <Sittings id={id} light={light} variant={index} change={doc.change} beside={beside} onBeside={setBeside} />
      </Column>
    </>
  )
}
