import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { answer, api, type Light } from '../api/client'
import { sendFile } from '../api/lightFile'

/** A light with nothing chosen yet: the plain chain, ready to be filled in. */
const empty: Light = {
  format: 'photherm/light', version: 9, name: 'New light', progress: 'idea', brief: {}, conditions: { ambientC: 25 }, parts: [],
  variants: [{
    id: 'a', name: 'First idea', bodies: [{ id: 'body', name: 'Body', touchable: true }],
    feeds: [{ id: 'power', sources: [{ id: 'pack', pack: { series: 1, parallel: 1, bodyId: 'body' } }], loads: [{ id: 'driver', bodyId: 'body', driver: {}, loads: [{ id: 'emitters', bodyId: 'body', array: { series: 1, parallel: 1 } }] }] }],
  }],
}

/** The ways that ask nothing: a copy of a light, a file, an empty chain. */
export function OtherWays() {
  const [anchor, setAnchor] = useState<HTMLElement>()
  const file = useRef<HTMLInputElement>(null)
  const queries = useQueryClient()
  const navigate = useNavigate()
  const lights = useQuery({ queryKey: ['lights', 'to copy'], queryFn: () => answer(api.GET('/api/lights', { params: { query: { bin: false, offset: 0, limit: 100 } } })), enabled: anchor !== undefined })
  const go = (id: string) => {
    void queries.invalidateQueries({ queryKey: ['lights'] })
    void navigate(`/lights/${id}`)
  }
  const create = useMutation({ mutationFn: (light: Light) => answer(api.POST('/api/lights', { body: light })), onSuccess: (l) => go(l.id) })
  const copy = useMutation({
    mutationFn: async (id: string) => {
      const { light } = await answer(api.GET('/api/lights/{id}', { params: { path: { id } } }))
      return answer(api.POST('/api/lights', { body: { ...light, name: `${light.name}, copy`.slice(0, 120) } }))
    },
    onSuccess: (l) => go(l.id),
  })
  const open = useMutation({ mutationFn: sendFile, onSuccess: go })
  const failure = create.error ?? copy.error ?? open.error ?? lights.error
  return (
    <Box sx={{ mt: 2.5, pt: 1, borderTop: '1px solid var(--line)', display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 1 }}>
      <Box component="span" sx={{ color: 'var(--ink-soft)' }}>Or:</Box>
      <Button onClick={(e) => setAnchor(e.currentTarget)}>a copy of a light on the shelf…</Button>
      <Menu anchorEl={anchor} open={anchor !== undefined} onClose={() => setAnchor(undefined)}>
        {lights.data?.lights.length === 0 && <MenuItem disabled>There is no light yet</MenuItem>}
        {lights.isPending && <MenuItem disabled>Fetching the lights…</MenuItem>}
        {lights.data?.lights.filter((l) => !l.summary?.unreadable).map((l) => (
          <MenuItem key={l.id} onClick={() => { setAnchor(undefined); copy.mutate(l.id) }}>
            {l.name}
          </MenuItem>
        ))}
      </Menu>
      <Button onClick={() => file.current?.click()}>a light file…</Button>
      <input ref={file} type="file" aria-label="Light file" accept=".json,application/json" hidden
        onChange={(e) => {
          if (e.target.files?.[0]) open.mutate(e.target.files[0])
          e.target.value = ''
        }} />
      <Button onClick={() => create.mutate(empty)}>nothing at all: an empty chain</Button>
      {failure && <Alert severity="error" sx={{ width: '100%' }}>{failure.message}</Alert>}
    </Box>
  )
}
