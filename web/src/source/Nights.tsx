import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { answer, api, type Light } from '../api/client'
import { nodesOf } from '../document/tree'
import { FigureField } from '../figures/FigureField'
import { useSettings } from '../settings/SettingsProvider'
import { clock, digits } from '../units/quantity'

const row = { display: 'flex', gap: 1, borderBottom: '1px solid var(--line)', py: 0.25, fontSize: 13 }

/** For how many nights of the same use one charge lasts, with part of the night in other modes of the drivers. */
export function Nights({ light, variant, hoursPerDay }: { light: Light; variant: number; hoursPerDay: number }) {
  const { settings } = useSettings()
  const [inMode, setInMode] = useState<Record<string, number | undefined>>({})
  const modes = useMemo(() => [...new Set(nodesOf(light.variants[variant]!, '').flatMap((p) => p.node.driver?.modes?.map((m) => m.name) ?? []))], [light, variant])
  const others = modes.reduce((sum, m) => sum + (inMode[m] ?? 0), 0)
  const plain = Math.max(hoursPerDay - others, 0)
  const spells = [...(plain > 0 ? [String(plain)] : []), ...modes.filter((m) => (inMode[m] ?? 0) > 0).map((m) => `${inMode[m]} ${m}`)]
  const query = { variant, spells, pricePerKWh: settings.pricePerKWh ?? 0 }
  const found = useQuery({ queryKey: ['nights', query, light], queryFn: ({ signal }) => answer(api.POST('/api/nights', { signal, params: { query }, body: light })), enabled: spells.length > 0, retry: false, placeholderData: (old) => old })
  const n = found.isError ? undefined : found.data
  return (
    <>
      {modes.map((m) => <FigureField key={m} label={`of that in “${m}”`} pointer={`hoursIn/${m}`} quantity="hours" value={inMode[m]} fallback="none" onChange={(x, done) => done && setInMode({ ...inMode, [m]: x })} />)}
      {found.isError && <Box role="alert" sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>{found.error.message}</Box>}
      {n && (
        <>
          <Box sx={row}>
            <Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>{n.outH != null && n.whole === 0 ? 'It does not last a night: out after' : n.primary ? 'Whole nights on one set of cells' : 'Whole nights on one charge'}{n.outH != null && n.whole > 0 && <Box component="span" sx={{ display: 'block', fontSize: 12 }}>the night after it goes out at {clock(n.outH * 3600)}</Box>}</Box>
            <span className="figure">{n.outH == null ? 'a year, and more' : n.whole === 0 ? clock(n.outH * 3600) : n.whole}</span>
          </Box>
          {n.perWeek != null && <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>{n.primary ? 'Sets of cells a week' : 'Charges a week'}</Box><span className="figure">{digits(n.perWeek, 2)}</span></Box>}
          {n.perYear != null && <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>{n.primary ? 'Sets of cells a year' : 'Charges a year'}{n.costPerYear != null && `, cost ${digits(n.costPerYear, 2)}`}</Box><span className="figure">{digits(n.perYear, 3)}</span></Box>}
          {n.dusk.length > 2 && <Dusk charge={n.dusk} />}
        </>
      )}
    </>
  )
}

/** The charge at each dusk, as a small picture. */
function Dusk({ charge }: { charge: number[] }) {
  const w = 280
  const h = 44
  const step = w / Math.max(charge.length, 12)
  return (
    <Box component="svg" viewBox={`0 0 ${w} ${h}`} role="img" aria-label={`Charge at each dusk, from ${(charge[0]! * 100).toFixed(0)} to ${(charge.at(-1)! * 100).toFixed(0)} %`} sx={{ width: '100%', maxWidth: w, display: 'block', mt: 0.5 }}>
      {charge.map((q, i) => <rect key={i} x={i * step} y={h * (1 - q)} width={Math.max(step - 1, 0.5)} height={h * q} fill="var(--power-flow)" />)}
    </Box>
  )
}
