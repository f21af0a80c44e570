import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { answer, api, type Schemas } from '../api/client'
import { save } from '../api/save'
import { CabinetTabs } from '../cabinet/CabinetTabs'
import { useStored } from '../cabinet/useStored'
import { CellTable } from './CellTable'
import { Grouping } from './Grouping'
import { Labels } from './Labels'
import { PasteDialog } from './PasteDialog'
import { Rules } from './Rules'
import { csvOf, freshLabel } from './cells'

type Lot = Schemas['Lot']

/** One lot of found cells. */
export function LotPage() {
  const { id = '' } = useParams()
  const stored = useQuery({ queryKey: ['lot', id], queryFn: () => answer(api.GET('/api/lots/{id}', { params: { path: { id } } })), retry: false, refetchOnWindowFocus: false })
  if (stored.isError) return <Box sx={{ p: 2.5 }}><CabinetTabs open="lots" /><Alert severity="error" sx={{ mt: 1 }}>{stored.error.message}</Alert></Box>
  if (!stored.data) return <Box sx={{ p: 2.5, color: 'var(--ink-soft)' }}>Opening the lot…</Box>
  return <Open key={id} stored={stored.data} />
}

function Open({ stored }: { stored: Schemas['CellLot'] }) {
  const queries = useQueryClient()
  const [lot, setLot] = useState<Lot>(stored.lot)
  const [grades, setGrades] = useState(stored.grades)
  const [past, setPast] = useState<Lot[]>([])
  const [pasting, setPasting] = useState(false)
  const [labels, setLabels] = useState(false)
  const { store, wrong, failure } = useStored<Lot>(
    stored.revision,
    async (next, base) => {
      const saved = await answer(api.PUT('/api/lots/{id}', { params: { path: { id: stored.id }, header: { 'If-Match': String(base) } }, body: next }))
      setGrades(saved.grades)
      return saved
    },
    () => void queries.invalidateQueries({ queryKey: ['lots'] }),
  )
  useEffect(() => {
    document.title = `${lot.name} – Photherm`
  }, [lot.name])
  useEffect(() => () => void queries.removeQueries({ queryKey: ['lot', stored.id] }), [queries, stored.id])
  const change = (next: Lot) => {
    setPast((p) => [...p.slice(-49), lot])
    setLot(next)
    void store(next)
  }
  const undo = () => {
    const before = past.at(-1)
    if (!before) return
    setPast((p) => p.slice(0, -1))
    setLot(before)
    void store(before)
  }
  if (labels) return <Labels lot={lot} grades={grades} onClose={() => setLabels(false)} />
  return (
    <Box sx={{ px: { xs: 1.5, sm: 2.5 }, py: 1, maxWidth: 1720, mx: 'auto' }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap', minHeight: 42 }}>
        <Box component="input" aria-label="Name of the lot" key={lot.name} defaultValue={lot.name} maxLength={120} onBlur={(e) => {
          const name = e.target.value.trim()
          if (name === '') e.target.value = lot.name
          else if (name !== lot.name) change({ ...lot, name })
        }} sx={{ border: 0, background: 'none', color: 'inherit', fontFamily: 'inherit', fontSize: 19, fontWeight: 700, p: 0, width: `min(${lot.name.length + 2}ch, 60vw)`, '&:hover': { borderBottom: '1px dotted var(--power)' } }} />
        <CabinetTabs open="lots" />
        <Box sx={{ ml: 'auto', display: 'flex', flexWrap: 'wrap' }}>
          <Button onClick={() => change({ ...lot, cells: [...lot.cells, { label: freshLabel(lot.cells) }] })}>Add a cell</Button>
          <Button onClick={() => setPasting(true)}>Paste a table…</Button>
          <Button onClick={() => setLabels(true)} disabled={lot.cells.length === 0}>Labels…</Button>
          <Button onClick={() => save(`${lot.name}.csv`, new Blob([csvOf(lot, grades)], { type: 'text/csv' }))}>CSV</Button>
          <Button onClick={() => save(`${lot.name}.json`, new Blob([JSON.stringify(lot, null, 1)], { type: 'application/json' }))}>File</Button>
          <Button disabled={past.length === 0} onClick={undo}>Undo</Button>
        </Box>
      </Box>
      {failure && <Alert severity="warning" sx={{ mb: 1 }}>{failure}{[...wrong.values()].filter((w) => !failure.includes(w)).map((w) => ` ${w}.`)}</Alert>}
      <Box sx={{ display: 'grid', gap: 2.5, gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 350px' }, alignItems: 'start' }}>
        <CellTable lot={lot} grades={grades} wrong={wrong} change={change} />
        <Box sx={{ background: 'var(--paper)', border: '1px solid var(--line)', px: 1.75, py: 1.25 }}>
          <Grouping lot={lot} />
          <Rules lot={lot} change={change} />
        </Box>
      </Box>
      {pasting && <PasteDialog lot={lot} change={change} onClose={() => setPasting(false)} />}
    </Box>
  )
}
