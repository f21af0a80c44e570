import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { answer, api, type Schemas } from '../api/client'
import { CabinetTabs } from '../cabinet/CabinetTabs'
import { wordOf } from '../units/words'

const blank: Schemas['Lot'] = { format: 'photherm/lot', version: 1, name: 'New lot of cells', chemistry: 'li-ion-4.2', size: '18650', rules: {}, cells: [] }

/** The lots of found cells: how many, and how they are graded. */
export function LotsPage() {
  const queries = useQueryClient()
  const go = useNavigate()
  const [bin, setBin] = useState(false)
  const file = useRef<HTMLInputElement>(null)
  const lots = useQuery({ queryKey: ['lots', bin], queryFn: () => answer(api.GET('/api/lots', { params: { query: { bin } } })), refetchInterval: (q) => (q.state.status === 'error' ? 2000 : false) })
  const add = useMutation({ mutationFn: (body: Schemas['Lot']) => answer(api.POST('/api/lots', { body })), onSuccess: (l) => void go(`/cabinet/lots/${l.id}`), onSettled: () => queries.invalidateQueries({ queryKey: ['lots'] }) })
  const bring = useMutation({
    mutationFn: async (f: File) => {
      const lot = JSON.parse(await f.text()) as Schemas['Lot']
      if (lot.format !== 'photherm/lot') throw new Error(`${f.name} is no lot of cells.`)
      return add.mutateAsync(lot)
    },
  })
  const move = useMutation({ mutationFn: ({ id, back }: { id: string; back: boolean }) => (back ? answer(api.POST('/api/lots/{id}/restore', { params: { path: { id } } })) : answer(api.DELETE('/api/lots/{id}', { params: { path: { id } } }))), onSettled: () => queries.invalidateQueries({ queryKey: ['lots'] }) })
  useEffect(() => {
    document.title = 'Lots of cells – Photherm'
  }, [])
  const failure = lots.error ?? add.error ?? bring.error ?? move.error
  return (
    <Box sx={{ px: { xs: 1.5, sm: 2.5 }, py: 1, maxWidth: 1100, mx: 'auto' }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap', minHeight: 42 }}>
        <Box component="h1" sx={{ fontSize: 19, m: 0 }}>{bin ? 'Lots of cells: bin' : 'Lots of cells'}</Box>
        <CabinetTabs open="lots" />
        <Box sx={{ ml: 'auto' }}>
          {!bin && <Button onClick={() => add.mutate(blank)}>New lot</Button>}
          {!bin && <Button onClick={() => file.current?.click()}>Import…</Button>}
          <input ref={file} type="file" aria-label="File of a lot" accept=".json,application/json" hidden onChange={(e) => {
            if (e.target.files?.[0]) bring.mutate(e.target.files[0])
            e.target.value = ''
          }} />
          <Button onClick={() => setBin((b) => !b)}>{bin ? 'Back to the lots' : 'Bin'}</Button>
        </Box>
      </Box>
      {failure && <Alert severity="error" sx={{ mb: 1 }}>{failure.message}</Alert>}
      {lots.isPending && <Box sx={{ color: 'var(--ink-soft)', py: 2 }}>Opening the lots…</Box>}
      {lots.data?.length === 0 && <Box sx={{ py: 4, maxWidth: 560 }}>{bin ? 'The bin is empty.' : <><strong>No lot is kept yet.</strong> Number the cells you took out of old packs, and log what each gives: capacity, resistance, and its voltage after a week of rest. They are graded as you type, and grouped into the best pack they make.</>}</Box>}
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {lots.data?.map((l) => (
          <Box component="li" key={l.id} sx={{ display: 'flex', gap: 2, alignItems: 'baseline', borderTop: '1px solid var(--line)', py: 1, flexWrap: 'wrap' }}>
            <Box sx={{ flex: '1 1 280px' }}>
              {bin || l.unreadable ? <strong>{l.lot.name}</strong> : <Link to={`/cabinet/lots/${l.id}`} style={{ color: 'var(--power-ink)', fontWeight: 700 }}>{l.lot.name}</Link>}
              <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>{l.unreadable ? `cannot be read: ${l.unreadable}; it is kept as it is` : [wordOf(l.lot.chemistry), l.lot.size].filter(Boolean).join(' · ')}</Box>
            </Box>
            <Box className="figure" sx={{ fontSize: 13 }}>{counted(l.grades)}</Box>
            <Button color="inherit" sx={{ minWidth: 0, p: 0.5, color: 'var(--ink-soft)' }} onClick={() => move.mutate({ id: l.id, back: bin })} aria-label={`${bin ? 'Take back' : 'Bin'} ${l.lot.name}`}>{bin ? 'Take back' : 'Bin'}</Button>
          </Box>
        ))}
      </Box>
    </Box>
  )
}

const counted = (grades: Schemas['Graded'][]) => {
  const n = (g: string) => grades.filter((x) => x.grade === g).length
  return `${grades.length} cells: ${n('A')} A · ${n('B')} B · ${n('reject')} rejected · ${n('open')} open`
}
