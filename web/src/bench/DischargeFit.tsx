import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { corrected } from '../document/readings'
import type { Change } from '../document/store'
import { clock, digits } from '../units/quantity'

/** How often a log that is being written is looked at anew, chosen. */
const againMs = 5000
const pick = { font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)' } as const

/** What a pack that was run down says of its cells. */
export function DischargeFit({ light, variant, log, change }: { light: Light; variant: number; log: Schemas['BenchLog']; change: Change }) {
  const of = (quantity: string) => Math.max(0, log.channels.findIndex((c) => c.quantity === quantity))
  const [v, setV] = useState(of('voltage'))
  const [a, setA] = useState(of('current'))
  const query = { variant, log: log.id, v, a }
  const found = useQuery({ queryKey: ['discharge', query, light, log.state === 'running' ? 0 : log.readings], refetchInterval: log.state === 'running' ? againMs : false, queryFn: ({ signal }) => answer(api.POST('/api/bench/discharge', { signal, params: { query }, body: light })), retry: false, placeholderData: (old) => old })
  const d = found.isError ? undefined : found.data
  const list = log.channels.map((c, i) => <option key={i} value={i}>{c.name}</option>)
  return (
    <Box data-testid="discharge" sx={{ mt: 0.5, fontSize: 13 }}>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap' }}>
        <label>Volts of the pack <select value={v} onChange={(e) => setV(Number(e.target.value))} style={pick}>{list}</select></label>
        <label>Amperes out of it <select value={a} onChange={(e) => setA(Number(e.target.value))} style={pick}>{list}</select></label>
      </Box>
      {found.isError && <Box role="alert" sx={{ color: 'var(--caution-ink)' }}>{found.error.message}</Box>}
      {d && d.ah <= 0 && <Box sx={{ color: 'var(--ink-soft)' }}>No charge was taken out of it.</Box>}
      {d && d.ah > 0 && (
        <>
          <Box sx={{ fontSize: 16, mt: 0.5 }}><span className="figure">{digits(d.cellAh, 3)} Ah</span> a cell <Box component="span" sx={{ color: 'var(--ink-soft)', fontSize: 13 }}>said {digits(d.saidAh, 3)} Ah; {digits(d.wh, 3)} Wh out of the pack at {digits(d.meanA, 2)} A on average</Box> <Button sx={{ p: 0, minWidth: 0 }} onClick={() => change((l) => corrected(l, variant, d.take), 'Capacity taken')}>Take</Button></Box>
          {!d.whole && <Box sx={{ color: 'var(--caution-ink)' }}>The log ends before the pack is empty: it holds more than that.</Box>}
          {d.cellOhm != null && <Box><span className="figure">{digits(d.cellOhm * 1000, 3)} mΩ</span> a cell by <span className="figure">{d.steps}</span> steps of the current, said {digits(d.saidOhm * 1000, 3)} mΩ</Box>}
          <Box>It lasted <span className="figure">{clock(d.endS)}</span>{d.saidS != null && <>; as computed the light lasts <span className="figure">{clock(d.saidS)}</span></>}.</Box>
        </>
      )}
    </Box>
  )
}
