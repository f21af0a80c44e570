import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { answer, api, type Schemas } from '../api/client'

const quantities: [string, string][] = [['voltage', 'Volts'], ['current', 'Amperes'], ['resistance', 'Ohms'], ['power', 'Watts'], ['temperature', 'Temperature'], ['light', 'Light'], ['duration', 'Time']]

/** What there is to measure with: none ticked means any. */
export function ToolList({ have, onHave }: { have: string[]; onHave: (have: string[]) => void }) {
  const found = useQuery({ queryKey: ['tools'], queryFn: ({ signal }) => answer(api.GET('/api/tools', { signal })), staleTime: Infinity })
  const tools: Schemas['Tool'][] = found.data ?? []
  const toggle = (id: string) => onHave(have.includes(id) ? have.filter((h) => h !== id) : [...have, id])
  return (
    <Box component="section" aria-label="Tools at hand">
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>What is at hand</Box>
      <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>{have.length === 0 ? 'Nothing ticked: the best of each is taken.' : 'Each reading takes the best of these; a poorer one has a wider band.'}</Box>
      {quantities.map(([q, name]) => (
        <Box key={q} sx={{ mt: 0.75 }}>
          <Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>{name}</Box>
          {tools.filter((t) => t.quantity === q).map((t) => (
            <Box key={t.id} component="label" sx={{ display: 'flex', gap: 0.75, fontSize: 13, alignItems: 'baseline' }}><input type="checkbox" checked={have.includes(t.id)} onChange={() => toggle(t.id)} />{t.name}</Box>
          ))}
        </Box>
      ))}
    </Box>
  )
}
