import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { answer, api, type Schemas } from '../api/client'
import { sendPhoto } from '../api/photo'

type Photo = Schemas['BenchPhoto']

interface Props {
  id: string
  /** The sitting they are taken at now. */
  sitting: string
  /** Names of the sittings, by key; photos of none of them stand with those of now. */
  names: Map<string, string>
}

/** Photos of what was built and measured, by sitting. */
export function Photos({ id, sitting, names }: Props) {
  const client = useQueryClient()
  const file = useRef<HTMLInputElement>(null)
  const [open, setOpen] = useState<string>()
  const [going, setGoing] = useState<string>()
  const [note, setNote] = useState('')
  const found = useQuery({ queryKey: ['photos', id], queryFn: ({ signal }) => answer(api.GET('/api/lights/{id}/photos', { signal, params: { path: { id } } })), retry: false })
  const photos: Photo[] = found.data ?? []
  const shown = photos.find((p) => p.id === open)
  const again = () => client.invalidateQueries({ queryKey: ['photos', id] })
  const src = (p: Photo) => `/api/lights/${id}/photos/${p.id}`
  const keep = async (files: File[]) => {
    setNote('Being kept…')
    try {
      for (const f of files) await sendPhoto(id, sitting, f)
      setNote('')
    } catch (e) {
      setNote((e as Error).message)
    }
    await again()
  }
  const act = async (request: Promise<{ data?: unknown; error?: unknown; response: Response }>) => {
    setNote('')
    try {
      await answer(request)
    } catch (e) {
      setNote((e as Error).message)
    }
    await again()
  }
  const say = (p: Photo, words: string) => {
    const caption = words.trim()
    if (caption !== p.caption) void act(api.PUT('/api/lights/{id}/photos/{photo}', { params: { path: { id, photo: p.id } }, body: { caption, sitting: p.sitting } }))
  }
  const groups = new Map<string, Photo[]>()
  for (const p of photos) {
    const key = names.has(p.sitting) ? p.sitting : ''
    groups.set(key, [...(groups.get(key) ?? []), p])
  }
  return (
    <Box data-testid="photos" sx={{ mt: 1 }}>
      {[...groups].map(([key, list]) => (
        <Box key={key}>
          {key && <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>{names.get(key)}</Box>}
          <Box sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap', mb: 0.5 }}>
            {list.map((p) => (
              <Box key={p.id} component="button" onClick={() => { setGoing(undefined); setOpen(p.id) }} aria-label={`Photo: ${p.caption || 'without words'}`} sx={{ p: 0, border: '1px solid var(--line)', background: 'none', cursor: 'pointer', lineHeight: 0 }}>
                <Box component="img" src={src(p)} alt="" loading="lazy" sx={{ width: 72, height: 54, objectFit: 'cover' }} />
              </Box>
            ))}
          </Box>
        </Box>
      ))}
      <Button sx={{ p: 0, minWidth: 0, fontSize: 13 }} onClick={() => file.current?.click()}>Add photos…</Button>
      <input ref={file} type="file" aria-label="Photos" accept="image/jpeg,image/png,image/webp,image/heic" multiple hidden
        onChange={(e) => {
          const files = [...(e.target.files ?? [])]
          e.target.value = ''
          if (files.length > 0) void keep(files)
        }} />
      {note && <Box role="alert" sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>{note}</Box>}
      {shown && (
        <Dialog open onClose={() => setOpen(undefined)} maxWidth="lg" fullWidth aria-label="Photo" slotProps={{ paper: { sx: { background: 'var(--paper)', p: 1.5 } } }}>
          <Box component="img" src={src(shown)} alt={shown.caption} sx={{ width: '100%', height: '70vh', objectFit: 'contain' }} />
          <Box component="form" sx={{ display: 'flex', gap: 1.5, alignItems: 'baseline', mt: 1 }} onSubmit={(e: React.FormEvent<HTMLFormElement>) => {
            e.preventDefault()
            say(shown, e.currentTarget.querySelector('input')?.value ?? '')
          }}>
            <Box component="input" key={shown.id} aria-label="What the photo shows" placeholder="what it shows" defaultValue={shown.caption} maxLength={300}
              onBlur={(e: React.FocusEvent<HTMLInputElement>) => say(shown, e.target.value)}
              sx={{ flex: 1, minWidth: 0, font: 'inherit', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'inherit' }} />
            <Button sx={{ p: 0, minWidth: 0, color: 'var(--ink-soft)' }} onClick={() => {
              if (going !== shown.id) return setGoing(shown.id)
              setOpen(undefined)
              void act(api.DELETE('/api/lights/{id}/photos/{photo}', { params: { path: { id, photo: shown.id } } }))
            }}>{going === shown.id ? 'Take it out for good' : 'Take it out'}</Button>
            <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setOpen(undefined)}>Close</Button>
          </Box>
        </Dialog>
      )}
    </Box>
  )
}
