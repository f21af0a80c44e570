import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { bringIn, takeOut } from '../api/archive'
import { save } from '../api/save'
import { answer, api, type Schemas } from '../api/client'
import { sendFile } from '../api/lightFile'
import { ArchiveNote, Going } from './ArchiveNote'
import { ShelfRow } from './ShelfRow'

/** How many lights stand on a page of the shelf. */
const pageOf = 100

/** All lights, each a small ribbon of its own with its answers and how far it has come. */
export function ShelfPage() {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const [bin, setBin] = useState(false)
  const file = useRef<HTMLInputElement>(null)
  // What is being summarised just now is looked for again until it is there.
  const lights = useInfiniteQuery({
    queryKey: ['lights', bin],
    initialPageParam: 0,
    queryFn: ({ pageParam }) => answer(api.GET('/api/lights', { params: { query: { bin, offset: pageParam, limit: pageOf } } })),
    getNextPageParam: (last, all) => (all.length * pageOf < last.total ? all.length * pageOf : undefined),
    refetchInterval: (q) => (q.state.status === 'error' ? 2000 : q.state.data?.pages.some((p) => p.lights.some((l) => !l.current)) ? 1000 : false),
  })
  const list = lights.data?.pages.flatMap((p) => p.lights) ?? []
  const total = lights.data?.pages.at(-1)?.total ?? 0
  const refresh = () => queries.invalidateQueries({ queryKey: ['lights'] })
  const open = useMutation({
    mutationFn: sendFile,
    onSuccess: (id) => {
      void refresh()
      void navigate(`/lights/${id}`)
    },
  })
  const [step, setStep] = useState<Schemas['ArchiveStep']>()
  const archive = useMutation({
    mutationFn: ({ file: f, beside }: { file: File; beside: boolean }) => {
      setStep(undefined)
      return bringIn(f, beside, setStep)
    },
    onSettled: () => queries.invalidateQueries(),
  })
  const [gone, setGone] = useState<[done: number, of: number]>()
  const out = useMutation({
    mutationFn: () => takeOut((done, of) => setGone([done, of])),
    onSuccess: ({ name, content }) => save(name, content),
  })
  const take = (f: File) => (f.name.toLowerCase().endsWith('.zip') ? archive.mutate({ file: f, beside: false }) : open.mutate(f))
  const move = useMutation({
    mutationFn: ({ id, back }: { id: string; back: boolean }) => (back ? answer(api.POST('/api/lights/{id}/restore', { params: { path: { id } } })) : answer(api.DELETE('/api/lights/{id}', { params: { path: { id } } }))),
    onSettled: refresh,
  })
  useEffect(() => {
    document.title = 'Shelf – Photherm'
  }, [])
  const failure = lights.error ?? open.error ?? archive.error ?? out.error ?? move.error
  return (
    <Box sx={{ px: { xs: 1.5, sm: 2.5 }, py: 1, maxWidth: 1720, mx: 'auto' }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap', minHeight: 42 }}>
        <Box component="h1" sx={{ fontSize: 19, m: 0, mr: 'auto' }}>
          {bin ? 'Bin' : 'Shelf'}
        </Box>
        {!bin && (
          <>
            <Button variant="contained" component={Link} to="/start">
              New light
            </Button>
            <Button onClick={() => file.current?.click()}>Open a light file or an archive…</Button>
            <input ref={file} type="file" aria-label="Light file or archive" accept=".json,.zip,application/json,application/zip" hidden
              onChange={(e) => {
                if (e.target.files?.[0]) take(e.target.files[0])
                e.target.value = ''
              }} />
            <Button disabled={out.isPending} onClick={() => out.mutate()} title="All lights with all their revisions, the cabinet, the bins: one zip of open files">Take everything out</Button>
          </>
        )}
        <Button onClick={() => setBin((b) => !b)}>{bin ? 'Back to the shelf' : 'Bin'}</Button>
      </Box>
      {failure && (
        <Alert severity="error" sx={{ mb: 1 }}>
          {failure.message}
        </Alert>
      )}
      {out.isPending && <Going word="Taking out" done={gone?.[0] ?? 0} of={gone?.[1] ?? 0} />}
      {out.isSuccess && (
        <Alert severity="success" sx={{ mb: 1 }} onClose={out.reset}>
          {gone?.[0]} of {gone?.[1]} lights and parts are in {out.data.name}.
        </Alert>
      )}
      {(archive.isPending || archive.isSuccess) && (
        <ArchiveNote step={step} report={archive.isPending ? undefined : archive.data} onBeside={() => archive.mutate({ file: archive.variables.file, beside: true })} onClose={archive.reset} />
      )}
      {lights.isPending && <Box sx={{ color: 'var(--ink-soft)', py: 2 }}>Fetching the lights…</Box>}
      {lights.data && total === 0 && (
        <Box sx={{ py: 4, maxWidth: 560 }}>
          {bin ? (
            'The bin is empty.'
          ) : (
            <>
              <strong>No light yet.</strong> Begin with <Link to="/start">New light</Link>: say what you have, an old lamp, parts, readings, strip, and the page tells how bright, how long and how hot. Or open a light file someone gave you, or an archive taken out on another machine.
            </>
          )}
        </Box>
      )}
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, background: 'var(--paper)', border: list.length ? '1px solid var(--line)' : 0 }}>
        {list.map((l) => <ShelfRow key={l.id} entry={l} bin={bin} onMove={() => move.mutate({ id: l.id, back: bin })} />)}
      </Box>
      {list.length < total && (
        <Box sx={{ py: 1, color: 'var(--ink-soft)' }}>
          {list.length} of {total} lights, last changed first. <Button onClick={() => void lights.fetchNextPage()} disabled={lights.isFetchingNextPage}>Show more</Button>
        </Box>
      )}
    </Box>
  )
}
