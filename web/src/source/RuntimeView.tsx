import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Light } from '../api/client'
import { set } from '../document/pointer'
import { nodesOf } from '../document/tree'
import { FigureField } from '../figures/FigureField'
import { useSettings } from '../settings/SettingsProvider'
import { amps, clock, digits } from '../units/quantity'
import { packAt } from './groups'
import { useBand } from '../solved/useBand'
import { Nights } from './Nights'
import { Payback } from './Payback'
import { RuntimeChart } from './RuntimeChart'
import { Sureness } from './Sureness'

interface Props {
  light: Light
  variant: number
  at: string
  tryOut: (light: Light, label: string) => void
}

const pct = (q: number) => `${(q * 100).toFixed(0)} %`
const hours = (h: number | null | undefined) => (h == null ? '—' : clock(h * 3600))
const row = { display: 'flex', gap: 1, borderBottom: '1px solid var(--line)', py: 0.25, fontSize: 13 }

/** Months are what people ask of a light that lies in a drawer. */
const long = (h: number) => (h < 60 * 24 ? `${digits(h / 24, 2)} days` : h < 3 * 8766 ? `${digits(h / 730.5, 2)} months` : `${digits(h / 8766, 2)} years`)

/** How long the pack lasts by every school, when the light dims, and what would last as long as is wanted. */
export function RuntimeView({ light, variant, at, tryOut }: Props) {
  const { settings } = useSettings()
  const v = light.variants[variant]!
  const drawing = useBand(light, variant)
  const band = drawing.band
  const [perDay, setPerDay] = useState<number>()
  const [resting, setResting] = useState<number>()
  const [wanted, setWanted] = useState<number | undefined>(light.brief.runtimeH)
  const query = { variant, wantedH: wanted ?? 0, pricePerKWh: settings.pricePerKWh ?? 0, restingV: resting ?? 0 }
  const found = useQuery({ queryKey: ['runtime', query, light], queryFn: ({ signal }) => answer(api.POST('/api/runtime', { signal, params: { query }, body: light })), retry: false, placeholderData: (old) => old })
  if (found.isError) return <Box role="alert" sx={{ color: 'var(--ink-soft)', mt: 1.5 }}>{found.error.message}</Box>
  if (!found.data) return <Box sx={{ color: 'var(--ink-soft)', mt: 1.5 }}>It runs down…</Box>
  const r = found.data
  const longest = Math.max(...r.schools.map((s) => s.hours ?? 0), 1e-9)
  const pack = packAt(v, at)
  const driver = nodesOf(v, at).find((p) => p.node.driver?.partId && p.node.driver.programOhm === undefined)
  return (
    <Box data-testid="runtime" sx={{ mt: 1.5 }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>A pack of <span className="figure">{digits(r.packAh, 3)} Ah</span>, <span className="figure">{digits(r.packWh, 3)} Wh</span></Box>
      {r.why && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>The time solve has no end: {r.why}.</Box>}
      {pack && <RuntimeChart feed={pack.feed} schools={r.schools} band={band?.ranges['endS']} />}
      <Box component="ul" aria-label="Schools of runtime" sx={{ listStyle: 'none', m: 0, p: 0, mt: 1 }}>
        {r.schools.map((s) => (
          <Box component="li" key={s.name} sx={{ py: 0.5 }}>
            <Box sx={{ display: 'grid', gridTemplateColumns: '190px 1fr 84px', gap: 1, alignItems: 'center', fontSize: 13 }}>
              <Box sx={{ fontWeight: s.name === 'solved in time' ? 700 : 400 }}>{s.name}</Box>
              <Box aria-hidden sx={{ height: 9, background: 'var(--track)' }}><Box sx={{ height: 9, width: `${((s.hours ?? 0) / longest) * 100}%`, background: s.name === 'solved in time' ? 'var(--power)' : 'var(--power-flow)' }} /></Box>
              <Box className="figure" sx={{ textAlign: 'right' }}>{hours(s.hours)}</Box>
            </Box>
            <Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>{s.reason}</Box>
          </Box>
        ))}
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) minmax(0, 1fr)' }, columnGap: 3, rowGap: 1, mt: 1 }}>
        <Box>
          <Box component="h3" sx={{ fontSize: 13, m: 0 }}>On the way down</Box>
          {r.moments.map((m) => <Box key={m.name} sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>{m.name}</Box><span className="figure">{m.s == null ? 'not before it is empty' : clock(m.s)}</span></Box>)}
          {r.warnS != null && <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>Warning, from dimmed to dark</Box><span className="figure" style={{ color: r.warnS < 120 ? 'var(--caution-ink)' : undefined }}>{r.warnS < 1 ? 'none: it goes out at once' : clock(r.warnS)}</span></Box>}
          {r.alarm && <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>The alarm sounds{r.alarm.leftS != null && <Box component="span" sx={{ display: 'block', fontSize: 12, color: r.alarm.guarded ? 'inherit' : 'var(--caution-ink)' }}>{r.alarm.guarded ? `then ${clock(r.alarm.leftS)} until it is cut off` : `and nothing cuts: ${clock(r.alarm.leftS)} later the cells come to harm`}</Box>}</Box><span className="figure">{r.alarm.cellV != null && <Box component="span" sx={{ color: 'var(--ink-soft)', mr: 1 }}>weakest cell {digits(r.alarm.cellV, 3)} V</Box>}{r.alarm.s == null ? 'not before the end' : clock(r.alarm.s)}</span></Box>}
          {r.flatH != null && <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>Only left off, flat after{r.offA > 0 ? `, ${amps(r.offA, 2)} drawn` : ''}</Box><span className="figure">{long(r.flatH)}</span></Box>}
          {r.costPerH != null && <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>{r.primary ? 'An hour of light costs, in cells' : 'An hour of light costs, in energy'}</Box><span className="figure">{digits(r.costPerH, 2)}</span></Box>}
          {light.variants.length > 1 && <Payback light={light} variant={variant} />}
        </Box>
        <Box>
          <Box component="h3" sx={{ fontSize: 13, m: 0 }}>Asked the other way</Box>
          <FigureField label="It shall last to half light" pointer="wantedH" quantity="hours" value={wanted} fallback="not asked" onChange={setWanted} />
          {wanted !== undefined && (
            <>
              <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>{r.cells == null ? 'No pack of up to 64 strings does' : `${r.cells} ${r.cells === 1 ? 'string' : 'strings'} in parallel${r.cellsS == null ? '' : `, ${clock(r.cellsS)}`}`}</Box>{r.cells != null && pack && r.cells !== pack.pack.parallel && pack.pack.groups === undefined && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => tryOut(set(light, `${pack.pointer}/parallel`, r.cells), `${r.cells} strings in parallel`)}>Try it</Button>}</Box>
              {r.setA != null && <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>{r.currentA == null ? 'No current of the driver does' : <>or <span className="figure">{amps(r.currentA)}</span>, set are <span className="figure">{amps(r.setA)}</span></>}</Box>{r.currentA != null && driver && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => tryOut(set(light, `${driver.pointer}/driver/setCurrentA`, Number(r.currentA!.toPrecision(3))), amps(r.currentA!))}>Try it</Button>}</Box>}
            </>
          )}
          <FigureField label="Read at rest, the whole pack" pointer="restingV" quantity="voltage" value={resting} fallback="not read" onChange={setResting} />
          {r.gauge && resting !== undefined && (
            <Box sx={{ ...row, display: 'block' }}>
              <Box sx={{ display: 'flex' }}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>Charge left</Box><span className="figure">{pct(r.gauge.charge)}, between {pct(r.gauge.low)} and {pct(r.gauge.high)}</span></Box>
              {r.gauge.leftS != null && <Box sx={{ display: 'flex' }}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>It lasts from there</Box><span className="figure">{clock(r.gauge.leftS)}{r.gauge.lowS != null && r.gauge.highS != null && `, between ${clock(r.gauge.lowS)} and ${clock(r.gauge.highS)}`}</span></Box>}
              {r.gauge.weak && <Box sx={{ fontSize: 12, color: 'var(--caution-ink)' }}>The voltage of these cells is flat here: it hardly tells how much is left. Count the hours instead.</Box>}
            </Box>
          )}
          <FigureField label="Lit on a day" pointer="hoursPerDay" quantity="hours" value={perDay} fallback="not asked" onChange={setPerDay} />
          {perDay !== undefined && <Nights light={light} variant={variant} hoursPerDay={perDay} />}
        </Box>
      </Box>
      <Sureness drawing={drawing} longestH={longest} />
    </Box>
  )
}
