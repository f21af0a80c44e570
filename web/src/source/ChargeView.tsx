import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { Chart } from '../charts/Chart'
import type { Line } from '../charts/lines'
import { set } from '../document/pointer'
import { FigureField } from '../figures/FigureField'
import { chargeable } from '../parts/description'
import { useSettings } from '../settings/SettingsProvider'
import { amps, clock, digits, show, text } from '../units/quantity'
import { packAt } from './groups'

const row = { display: 'flex', gap: 1, borderBottom: '1px solid var(--line)', py: 0.25, fontSize: 13 }

/** How the pack is charged: current and voltage in time with the phases named, the heat of it, and what a lower end gives up. */
export function ChargeView({ light, variant, at, tryOut }: { light: Light; variant: number; at: string; tryOut: (light: Light, label: string) => void }) {
  const { settings } = useSettings()
  const [from, setFrom] = useState<number>()
  const [lit, setLit] = useState(false)
  const [wantedA, setWantedA] = useState<number>()
  const query = { variant, from: from ?? 0, lit, wantedA: wantedA ?? 0 }
  const pack = packAt(light.variants[variant]!, at)
  const found = useQuery({ queryKey: ['charge', query, light], queryFn: ({ signal }) => answer(api.POST('/api/charge', { signal, params: { query }, body: light })), enabled: pack?.pack.charger !== undefined, retry: false, placeholderData: (old) => old })
  const chemistry = light.parts.find((p) => p.id === pack?.pack.partId)?.cell?.chemistry
  if (pack && !chargeable(chemistry)) return <Box sx={{ color: 'var(--ink-soft)', mt: 1.5, maxWidth: 560 }}>Dry cells are changed, and never charged: they leak or burst. A set of them costs what the Runtime pane says an hour.</Box>
  if (!pack?.pack.charger) return <Box sx={{ color: 'var(--ink-soft)', mt: 1.5, maxWidth: 560 }}>Nothing charges this pack inside the light: it is taken out to be charged. Put a charger in, on the left, or a bench supply set to an end voltage and a current.</Box>
  if (found.isError) return <Box role="alert" sx={{ color: 'var(--ink-soft)', mt: 1.5 }}>{found.error.message}</Box>
  if (!found.data) return <Box sx={{ color: 'var(--ink-soft)', mt: 1.5 }}>It charges…</Box>
  const c = found.data
  const resistor = light.parts.find((p) => p.id === pack.pack.charger?.partId)?.charger?.programV !== undefined
  return (
    <Box data-testid="charge" sx={{ mt: 1.5 }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>{c.fullS == null ? 'It does not end' : <>Charged in <span className="figure">{clock(c.fullS)}</span></>}, <span className="figure">{digits(c.reached * 100, 3)} %</span></Box>
      {c.why && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>{c.why[0]!.toUpperCase() + c.why.slice(1)}.</Box>}
      {c.over && <Box role="alert" data-testid="over-charged" sx={{ fontSize: 13, color: 'var(--stop)', fontWeight: 600 }}>{c.over[0]!.toUpperCase() + c.over.slice(1)}.</Box>}
      <Curves c={c} />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) minmax(0, 1fr)' }, columnGap: 3, rowGap: 1, mt: 1 }}>
        <Box>
          <FigureField label="Begins with, of its charge" pointer="from" quantity="fraction" value={from} fallback="empty" onChange={setFrom} />
          <Box sx={row}><Box component="label" sx={{ flex: 1, color: 'var(--ink-soft)' }}><input type="checkbox" checked={lit} onChange={(e) => setLit(e.target.checked)} /> the light is on meanwhile</Box></Box>
          <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>Into each cell</Box><span className="figure" style={{ color: c.cellA > c.cellMaxA * 1.0001 ? 'var(--caution-ink)' : undefined }}>{amps(c.cellA)} of {amps(c.cellMaxA)}</span></Box>
          <Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>{c.cellMaxWhy}</Box>
          <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>The highest cell comes to</Box><span className="figure" style={{ color: c.over ? 'var(--stop)' : undefined }}>{digits(c.highCellV, 3)} of {digits(c.bearsV, 3)} V</span></Box>
          {c.mostW != null && <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>Heat in the charger, at most</Box><span className="figure">{digits(c.mostW, 2)} W{c.mostC != null && `, ${text(show(c.mostC, 'temperature', settings))}`}</span></Box>}
          {c.inWh != null && <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>Taken for it</Box><span className="figure">{digits(c.inWh, 3)} Wh</span></Box>}
          <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>Cells are charged between</Box><span className="figure">{text(show(c.lowC, 'temperature', settings))} and {text(show(c.highC, 'temperature', settings))}</span></Box>
          {resistor && (
            <>
              <FigureField label="Resistor for a current of" pointer="wantedA" quantity="current" value={wantedA} fallback="not asked" onChange={setWantedA} />
              {c.ohm != null && <Box sx={row}><Box sx={{ flex: 1, color: 'var(--ink-soft)' }}><span className="figure">{c.ohm >= 1000 ? `${digits(c.ohm / 1000, 3)} kΩ` : `${digits(c.ohm, 3)} Ω`}</span></Box><Button sx={{ p: 0, minWidth: 0 }} onClick={() => tryOut(set(light, `${pack.pointer}/charger/programOhm`, Number(c.ohm!.toPrecision(3))), 'Programming resistor')}>Try it</Button></Box>}
            </>
          )}
        </Box>
        {c.ends.length > 0 && (
          <Box>
            <Box component="h3" sx={{ fontSize: 13, m: 0 }}>Where to end</Box>
            {c.ends.map((e) => (
              <Box key={e.cellV} sx={row}>
                <Box sx={{ flex: 1, fontWeight: e.use ? 700 : 400 }}><span className="figure">{digits(e.cellV, 3)} V</span> a cell{e.use && ', as it is set'}<Box component="span" sx={{ display: 'block', fontSize: 12, fontWeight: 400, color: 'var(--ink-soft)' }}>{e.lifeHigh > 1 ? `perhaps ${digits(e.lifeLow, 2)} to ${digits(e.lifeHigh, 2)} times as many charges in its life` : 'the usual end: all of the charge, the shortest life'}</Box></Box>
                <Box className="figure" sx={{ textAlign: 'right' }}>{digits(e.reached * 100, 3)} %{e.fullS != null && <Box component="span" sx={{ display: 'block', fontSize: 12 }}>{clock(e.fullS)}</Box>}</Box>
                {!e.use && <Button sx={{ p: 0, minWidth: 0, alignSelf: 'start' }} onClick={() => tryOut(set(light, `${pack.pointer}/charger/endCellV`, Number(e.cellV.toFixed(3))), `Charged to ${digits(e.cellV, 3)} V`)}>Try it</Button>}
              </Box>
            ))}
            <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 0.5 }}>Stay near while it charges, on stone or metal; never in the frost, never cells that were found empty for long.</Box>
          </Box>
        )}
      </Box>
    </Box>
  )
}

function Curves({ c }: { c: Schemas['Charge'] }) {
  const chart = useMemo(() => {
    const longest = c.t.at(-1) ?? 1
    const unit = longest > 7200 ? 3600 : 60
    const xs = c.t.map((s) => s / unit)
    const lines: Line[] = [
      { name: 'into the cells', unit: 'A', colour: '--power', axis: 0, points: xs.map((x, i) => [x, c.currentA[i]!]) },
      { name: c.highV.length > 0 ? 'mean cell' : 'each cell', unit: 'V', colour: '--margin', axis: 1, points: xs.map((x, i) => [x, c.cellV[i]!]) },
    ]
    if (c.highV.length > 0) lines.push({ name: 'highest cell', unit: 'V', colour: c.over ? '--stop' : '--heat', axis: 1, dashed: true, points: xs.map((x, i) => [x, c.highV[i]!]) })
    const at = (s: number) => c.currentA[Math.min(c.t.length - 1, Math.round((s / longest) * (c.t.length - 1)))]!
    const marks = c.phases.filter((p) => p.fromS <= longest && p.name !== 'ended').map((p) => ({ x: p.fromS / unit, y: at(p.fromS), name: p.name }))
    return { lines, marks, end: xs.at(-1)!, name: unit === 3600 ? 'Time, h' : 'Time, min', unit, most: Math.max(...c.currentA, 1e-3), low: Math.min(...c.cellV), high: Math.max(...c.cellV, ...c.highV) }
  }, [c])
  return <Chart title="Charging" lines={chart.lines} marks={chart.marks} x={{ name: chart.name, max: chart.end, format: (x) => clock(x * chart.unit) }} y={[{ name: 'Current, A', min: 0, max: Number((chart.most * 1.2).toPrecision(2)) }, { name: 'Each cell, V', min: Math.floor(chart.low * 10 - 0.5) / 10, max: Math.ceil(chart.high * 10 + 0.5) / 10 }]} height={230} />
}
