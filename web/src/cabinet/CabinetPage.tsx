import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import { answer, api, type Part, type Schemas } from '../api/client'
import { facts } from '../parts/facts'
import { kindOf, kindWord, partKinds, type PartKind } from '../parts/description'
import { MeasuredDialog } from '../parts/MeasuredDialog'
import { CabinetTabs } from './CabinetTabs'
import { PartEditor } from './PartEditor'
import { begin } from '../parts/begin'

export type CabinetPart = Schemas['CabinetPart']

/** The parts on hand: how many, what each still lacks, where its figures come from, and which lights hold a copy. */
export function CabinetPage() {
  const queries = useQueryClient()
  const [bin, setBin] = useState(false)
  const [sought, setSought] = useState('')
  const [kind, setKind] = useState<PartKind>()
  const [open, setOpen] = useState<string>()
  const [measuring, setMeasuring] = useState(false)
  const file = useRef<HTMLInputElement>(null)
  const parts = useQuery({ queryKey: ['cabinet', bin], queryFn: () => answer(api.GET('/api/cabinet', { params: { query: { bin } } })), refetchInterval: (q) => (q.state.status === 'error' ? 2000 : false) })
  const refresh = () => queries.invalidateQueries({ queryKey: ['cabinet'] })
  const add = useMutation({
    mutationFn: (body: { stock: number; part: Part }) => answer(api.POST('/api/cabinet', { body })),
    onSuccess: (p) => {
      setOpen(p.id)
      void refresh()
    },
  })
  const bring = useMutation({
    mutationFn: async (f: File) => {
      const format = f.name.endsWith('.json') ? 'json' : 'csv'
      const response = await fetch(`/api/cabinet/import?format=${format}`, { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: f })
      const body = (await response.json()) as Schemas['Imported'] & { detail?: string }
      if (!response.ok) throw new Error(body.detail ?? 'The file cannot be read.')
      return { added: body.added.length, there: body.there }
    },
    onSettled: refresh,
  })
  const move = useMutation({
    mutationFn: ({ id, back }: { id: string; back: boolean }) => (back ? answer(api.POST('/api/cabinet/{id}/restore', { params: { path: { id } } })) : answer(api.DELETE('/api/cabinet/{id}', { params: { path: { id } } }))),
    onSettled: refresh,
  })
  useEffect(() => {
    document.title = 'Cabinet – Photherm'
  }, [])
  const shown = useMemo(() => {
    const words = sought.toLowerCase().split(/\s+/).filter(Boolean)
    return (parts.data ?? []).filter((p) => !p.unreadable && (!kind || kindOf(p.part) === kind) && words.every((w) => `${p.part.name} ${facts(p.part)} ${p.part.note ?? ''}`.toLowerCase().includes(w)))
  }, [parts.data, sought, kind])
  const unreadable = parts.data?.filter((p) => p.unreadable) ?? []
  const chosen = parts.data?.find((p) => p.id === open)
  const failure = parts.error ?? add.error ?? bring.error ?? move.error
  return (
    <Box sx={{ px: { xs: 1.5, sm: 2.5 }, py: 1, maxWidth: 1720, mx: 'auto' }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap', minHeight: 42 }}>
        <Box component="h1" sx={{ fontSize: 19, m: 0 }}>{bin ? 'Cabinet: bin' : 'Cabinet'}</Box>
        <Box sx={{ mr: 'auto' }}><CabinetTabs open="parts" /></Box>
        {!bin && (
          <>
            {partKinds.map((k) => (
              <Button key={k} onClick={() => add.mutate(begin(k))}>New {kindWord[k][0]}</Button>
            ))}
            <Button onClick={() => setMeasuring(true)}>Emitter from readings…</Button>
            <Button onClick={() => file.current?.click()}>Import…</Button>
            <input ref={file} type="file" aria-label="File of parts" accept=".csv,.json,text/csv,application/json" hidden
              onChange={(e) => {
                if (e.target.files?.[0]) bring.mutate(e.target.files[0])
                e.target.value = ''
              }} />
            <Button component="a" href="/api/cabinet.csv" download="cabinet.csv">CSV</Button>
            <Button component="a" href="/api/cabinet.json" download="cabinet.json">JSON</Button>
          </>
        )}
        <Button onClick={() => setBin((b) => !b)}>{bin ? 'Back to the cabinet' : 'Bin'}</Button>
      </Box>
      <MeasuredDialog open={measuring} onKeep={(part) => add.mutateAsync({ stock: 1, part })} onClose={() => setMeasuring(false)} />
      {failure && <Alert severity="error" sx={{ mb: 1 }} data-testid="cabinet-error">{failure.message}</Alert>}
      {unreadable.map((p) => (
        <Alert key={p.id} severity="error" sx={{ mb: 1 }} action={<Button onClick={() => move.mutate({ id: p.id, back: bin })}>{bin ? 'Take back' : 'To the bin'}</Button>}>
          {p.part.name}: this part cannot be read ({p.unreadable}). It is kept as it is: <a href={`/api/cabinet/${p.id}/raw`} download>download its text</a>.
        </Alert>
      ))}
      {bring.isSuccess && <Alert severity="success" sx={{ mb: 1 }} onClose={bring.reset}>{bring.data.added} {bring.data.added === 1 ? 'part' : 'parts'} imported{bring.data.there > 0 ? `; ${bring.data.there} were there already` : ''}.</Alert>}
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap', mb: 1 }}>
        <Box component="input" type="search" aria-label="Find a part" placeholder="Find: name, current, size…" value={sought} onChange={(e) => setSought(e.target.value)}
          sx={{ width: 260, maxWidth: '100%', font: 'inherit', color: 'inherit', background: 'var(--paper)', border: '1px solid var(--line)', borderRadius: 1, px: 1, py: 0.5 }} />
        <Button aria-pressed={!kind} variant={kind ? 'text' : 'outlined'} sx={{ borderRadius: 4, py: 0.1 }} onClick={() => setKind(undefined)}>All</Button>
        {partKinds.map((k) => (
          <Button key={k} aria-pressed={kind === k} variant={kind === k ? 'outlined' : 'text'} sx={{ borderRadius: 4, py: 0.1 }} onClick={() => setKind(k)}>{kindWord[k][1]}</Button>
        ))}
      </Box>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: chosen ? 'minmax(0, 1fr) 480px' : 'minmax(0, 1fr)' }, alignItems: 'start' }}>
        <Box>
          {parts.isPending && <Box sx={{ color: 'var(--ink-soft)', py: 2 }}>Opening the cabinet…</Box>}
          {parts.data?.length === 0 && <Box sx={{ py: 4, maxWidth: 560 }}>{bin ? 'The bin is empty.' : <><strong>The cabinet is empty.</strong> Put in what lies in the drawer, or import a list as CSV or JSON. Lights take copies; a change here changes no light by itself.</>}</Box>}
          {parts.data && parts.data.length > unreadable.length && shown.length === 0 && <Box sx={{ py: 3, color: 'var(--ink-soft)' }}>No part is like that.</Box>}
          {shown.length > 0 && (
            <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, background: 'var(--paper)', border: '1px solid var(--line)' }}>
              {shown.map((p, i) => (
                <Box component="li" key={p.id} sx={{ borderTop: i > 0 ? '1px solid var(--line)' : 0, background: p.id === open ? 'var(--track)' : 'none' }}>
                  <Row part={p} bin={bin} heading={i === 0 || kindOf(shown[i - 1]!.part) !== kindOf(p.part)} onOpen={() => setOpen(p.id === open ? undefined : p.id)} onMove={() => move.mutate({ id: p.id, back: bin })}
                    onCopy={() => add.mutate({ stock: 0, part: { ...p.part, name: `${p.part.name}, copy` } })} />
                </Box>
              ))}
            </Box>
          )}
        </Box>
        {chosen && !bin && <PartEditor key={chosen.id} stored={chosen} onSaved={refresh} onClose={() => setOpen(undefined)} />}
      </Box>
    </Box>
  )
}

function Row({ part: p, bin, heading, onOpen, onMove, onCopy }: { part: CabinetPart; bin: boolean; heading: boolean; onOpen: () => void; onMove: () => void; onCopy: () => void }) {
  const whole = Math.max(p.lacks.length, 1)
  return (
    <>
      {heading && <Box component="h2" sx={{ fontSize: 13, m: 0, px: 1.5, pt: 1, color: 'var(--ink-soft)' }}>{kindWord[kindOf(p.part)][1]}</Box>}
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr) auto', md: '44px minmax(0, 5fr) minmax(0, 3fr) minmax(0, 2fr) auto' }, gap: 1, alignItems: 'baseline', px: 1.5, py: 0.75 }}>
        <Box className="figure" title="on hand" sx={{ color: p.stock > 0 ? 'inherit' : 'var(--ink-soft)', textAlign: { md: 'right' }, gridRow: { xs: 2, md: 'auto' } }}>{p.stock} ×</Box>
        <Box component="button" onClick={onOpen} disabled={bin} sx={{ textAlign: 'left', border: 0, background: 'none', color: 'inherit', font: 'inherit', p: 0, cursor: bin ? 'default' : 'pointer', gridRow: { xs: 1, md: 'auto' }, gridColumn: { xs: '1 / 3', md: 'auto' } }}>
          <strong>{p.part.name}</strong>
          <Box component="span" className="figure" sx={{ display: 'block', color: 'var(--ink-soft)', fontSize: 13 }}>{facts(p.part)}</Box>
        </Box>
        <Box sx={{ fontSize: 13, color: p.lacks.length > 0 ? 'var(--caution-ink)' : 'var(--margin-ink)', display: { xs: 'none', md: 'block' } }} title={p.lacks.join(', ')}>
          {p.lacks.length === 0 ? 'complete' : `lacks ${p.lacks.slice(0, 2).join(', ')}${whole > 2 ? ` and ${whole - 2} more` : ''}`}
          {p.part.basis && <Box component="span" sx={{ color: 'var(--ink-soft)' }}> · {p.part.basis}</Box>}
        </Box>
        <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', display: { xs: 'none', md: 'block' } }}>
          {p.usedIn.length === 0 ? 'in no light' : p.usedIn.map((u, i) => (
            <span key={u.light}>
              {i > 0 && ', '}
              <Link to={`/lights/${u.light}`} style={{ color: 'var(--power-ink)' }}>{u.name}</Link>
              {u.changed && ' (its copy differs)'}
            </span>
          ))}
        </Box>
        <Box sx={{ whiteSpace: 'nowrap', justifySelf: 'end' }}>
          {!bin && <Button sx={{ minWidth: 0, p: 0.5 }} onClick={onCopy} aria-label={`Copy ${p.part.name}`}>Copy</Button>}
          <Button sx={{ minWidth: 0, p: 0.5, color: 'var(--ink-soft)' }} color="inherit" onClick={onMove} aria-label={`${bin ? 'Take back' : 'Bin'} ${p.part.name}`}>{bin ? 'Take back' : 'Bin'}</Button>
        </Box>
      </Box>
    </>
  )
}
