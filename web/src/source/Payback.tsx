import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Light } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { clock, digits } from '../units/quantity'

/** After how many hours of light this variant has paid itself against another: the lamp it replaces. */
export function Payback({ light, variant }: { light: Light; variant: number }) {
  const { settings } = useSettings()
  const others = light.variants.map((v, i) => ({ i, name: v.name })).filter((v) => v.i !== variant)
  const [picked, setPicked] = useState<number>()
  const against = others.some((o) => o.i === picked) ? picked : undefined
  const query = { variant, against: against ?? 0, pricePerKWh: settings.pricePerKWh ?? 0 }
  const found = useQuery({ queryKey: ['payback', query, light], queryFn: ({ signal }) => answer(api.POST('/api/payback', { signal, params: { query }, body: light })), enabled: against !== undefined, retry: false, placeholderData: (old) => old })
  const p = against === undefined || found.isError ? undefined : found.data
  return (
    <Box sx={{ fontSize: 13, borderBottom: '1px solid var(--line)', py: 0.25 }}>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Box component="label" htmlFor="payback-against" sx={{ flex: 1, color: 'var(--ink-soft)' }}>Pays itself against</Box>
        <select id="payback-against" value={against ?? ''} onChange={(e) => setPicked(e.target.value === '' ? undefined : Number(e.target.value))} style={{ font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)', maxWidth: 160 }}>
          <option value="">not asked</option>
          {others.map((o) => <option key={o.i} value={o.i}>{o.name}</option>)}
        </select>
      </Box>
      {found.isError && against !== undefined && <Box role="alert" sx={{ color: 'var(--caution-ink)' }}>{found.error.message}</Box>}
      {p && <Box sx={{ color: 'var(--ink-soft)' }}>{p.why ? <>{`${p.why[0]!.toUpperCase()}${p.why.slice(1)}`}{p.hours != null && <>; it is ahead for <span className="figure">{clock(p.hours * 3600)}</span> of light</>}.</> : <>after <span className="figure">{clock((p.hours ?? 0) * 3600)}</span> of light</>} Parts {digits(p.cost, 3)} against {digits(p.otherCost, 3)}{p.costPerH != null && p.otherCostPerH != null && `, an hour ${digits(p.costPerH, 2)} against ${digits(p.otherCostPerH, 2)}`}.</Box>}
    </Box>
  )
}
