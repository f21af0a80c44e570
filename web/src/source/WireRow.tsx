import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Light } from '../api/client'
import { set } from '../document/pointer'
import { digits } from '../units/quantity'
import type { PackPlace } from './groups'

/** A wire from the pack: what it drops, loses, and whether it gets warm. */
export function WireRow({ light, variant, pack, tryOut }: { light: Light; variant: number; pack: PackPlace; tryOut: (light: Light, label: string) => void }) {
  const [wire, setWire] = useState('')
  const found = useQuery({ queryKey: ['pack', variant, light, wire], queryFn: ({ signal }) => answer(api.POST('/api/pack', { signal, params: { query: { variant, wire } }, body: light })), enabled: wire !== '', retry: false })
  const w = wire === '' || found.isError ? undefined : found.data?.wire
  return (
    <Box sx={{ mt: 1.5, fontSize: 13, borderBottom: '1px solid var(--line)', py: 0.25 }}>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Box component="label" htmlFor="pack-wire" sx={{ flex: '1 1 180px', color: 'var(--ink-soft)' }}>A wire from the pack, one way</Box>
        <input id="pack-wire" defaultValue="" placeholder="length and gauge, or mm²" maxLength={60} onBlur={(e) => setWire(e.target.value.trim())} onKeyDown={(e) => e.key === 'Enter' && setWire(e.currentTarget.value.trim())} style={{ border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', font: 'inherit', width: 200, textAlign: 'right', padding: 0 }} />
      </Box>
      {wire !== '' && found.isError && <Box role="alert" sx={{ fontSize: 12.5, color: 'var(--caution-ink)' }}>{found.error.message}</Box>}
      {w && (
        <Box sx={{ fontSize: 12.5, color: w.care ? 'var(--caution-ink)' : 'var(--ink-soft)' }}>
          There and back <span className="figure">{digits(w.ohm * 1000, 2)} mΩ</span>: <span className="figure">{w.dropV < 0.1 ? `${digits(w.dropV * 1000, 2)} mV` : `${digits(w.dropV, 2)} V`}</span> and <span className="figure">{digits(w.lostW, 2)} W</span> at the light’s current, {digits(w.perMm2A, 2)} A a mm².{w.care && ` ${w.care[0]!.toUpperCase()}${w.care.slice(1)}.`}{' '}
          <Button sx={{ p: 0, minWidth: 0, fontSize: 12.5, verticalAlign: 'baseline' }} onClick={() => tryOut(set(light, `${pack.pointer}/contactOhm`, Number(((pack.pack.contactOhm ?? 0) + w.ohm).toPrecision(3))), 'A wire added')}>Add it</Button>
        </Box>
      )}
    </Box>
  )
}
