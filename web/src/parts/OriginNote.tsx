import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { answer, api, type Part } from '../api/client'
import { kindOf } from './description'

/** Where a copy came from; if the cabinet's part has changed since, its figures can be taken over. */
export function OriginNote({ part, onTake }: { part: Part; onTake: (part: Part) => void }) {
  const kind = kindOf(part)
  const parts = useQuery({ queryKey: ['cabinet', 'of', kind], queryFn: () => answer(api.GET('/api/cabinet', { params: { query: { kind } } })), enabled: part.origin !== undefined })
  const now = parts.data?.find((p) => p.id === part.origin?.id)
  return (
    <Box sx={{ color: 'var(--ink-soft)', fontSize: 13, mb: 1 }}>
      This light’s own copy: the cabinet and other lights are not touched.{' '}
      {now && part.origin && now.hash !== part.origin.hash && (
        <Box component="span" sx={{ color: 'var(--caution-ink)' }}>
          The cabinet’s part has changed since it was taken.{' '}
          <Button sx={{ p: 0, minWidth: 0, fontSize: 13, verticalAlign: 'baseline' }} onClick={() => onTake({ ...now.part, id: part.id, origin: { id: now.id, hash: now.hash } })}>Take its figures</Button>
        </Box>
      )}
    </Box>
  )
}
