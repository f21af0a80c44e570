import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { Chart } from '../charts/Chart'
import type { Line } from '../charts/lines'
import { useSettings } from '../settings/SettingsProvider'
import { useSolved } from '../solved/useSolved'
import { clock, show, text } from '../units/quantity'

type WarmUp = Schemas['WarmUp']

/** At most so many places have a line: the hottest. */
const mostLines = 6

/** How the light warms from switch-on, and how long it bears to run with something taken away. */
export function WarmUpView({ light, variant }: { light: Light; variant: number }) {
  const { settings } = useSettings()
  const t = useSolved((s) => s.t)
  const found = useQuery({ queryKey: ['warmup', variant, light], queryFn: ({ signal }) => answer(api.POST('/api/warmup', { signal, params: { query: { variant } }, body: light })), retry: false, placeholderData: (old) => old })
  if (found.isError) return <Box role="alert" sx={{ color: 'var(--ink-soft)' }}>{found.error.message}</Box>
  if (!found.data) return <Box sx={{ color: 'var(--ink-soft)' }}>It warms up…</Box>
  const w = found.data
  if (w.curves.length === 0) return <Box sx={{ color: 'var(--ink-soft)', maxWidth: 480 }}>Nothing that warms is known yet: mount what gets warm on a body, and say its measures or its K/W.</Box>
  const degrees = (c: number | null | undefined) => (c == null ? '—' : text(show(c, 'temperature', settings)))
  return (
    <Box data-testid="warmup">
      <Curves w={w} t={t} fahrenheit={settings.fahrenheit} />
      {w.unknown.length > 0 && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>How slowly it warms is not told: the mass of {w.unknown.join(' and ')} is not known.</Box>}
      <Box component="table" aria-label="Temperatures at marks" sx={{ width: '100%', fontSize: 13, borderCollapse: 'collapse', mt: 1, '& td, & th': { borderTop: '1px solid var(--line)', py: 0.4, pl: 1, textAlign: 'right', fontWeight: 400 }, '& th[scope=row]': { textAlign: 'left', color: 'var(--ink-soft)', pl: 0 }, '& thead th': { fontWeight: 700, borderTop: 0 } }}>
        <thead>
          <tr><td />{w.marksS.map((s) => <th key={s} scope="col">{clock(s)}</th>)}<th scope="col">for ever</th><th scope="col">63 % after</th><th scope="col">bears</th></tr>
        </thead>
        <tbody>
          {w.curves.map((c) => (
            <tr key={`${c.owner} ${c.figure}`}>
              <th scope="row">{c.name}</th>
              {c.atMarks.map((x, i) => <td key={i} className="figure">{x == null ? 'out' : degrees(x)}</td>)}
              <td className="figure">{c.restC == null ? 'no rest' : degrees(c.restC)}</td>
              <td className="figure">{c.tauS == null ? '—' : clock(c.tauS)}</td>
              <td className="figure">{degrees(c.limitC)}</td>
            </tr>
          ))}
        </tbody>
      </Box>
      {w.unsettled && <Box sx={{ fontSize: 13, color: 'var(--stop)', mt: 0.5 }}>It does not come to rest: {w.unsettled}.</Box>}
      {w.constantsS.length > 0 && <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 0.5 }}>Its heat has the time constants <span className="figure">{w.constantsS.slice(0, 4).map((s) => (s < 10 ? `${s.toPrecision(2)} s` : clock(s))).join(' · ')}</span>: the longest tells when it is warm through, the shortest how fast a junction follows.</Box>}
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>How long it bears to run</Box>
      <Box component="ul" aria-label="Bare tests" sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(200px, 1fr))', gap: 1 }}>
        {w.bare.map((b) => (
          <Box component="li" key={b.name} sx={{ borderTop: '2px solid', borderColor: b.afterS == null ? 'var(--line)' : 'var(--stop)', pt: 0.5, fontSize: 13 }}>
            <Box sx={{ color: 'var(--ink-soft)' }}>{b.name}</Box>
            {b.afterS == null ? <><Box className="figure">as long as it runs</Box><Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>{b.hotC != null && `${b.hot}: up to ${degrees(b.hotC)}`}</Box></> : <><Box className="figure" sx={{ color: 'var(--stop)' }}>{b.afterS < 1 ? 'not at all' : clock(b.afterS)}</Box><Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>then {b.what} passes {degrees(b.limitC)}</Box></>}
          </Box>
        ))}
      </Box>
    </Box>
  )
}

function Curves({ w, t, fahrenheit }: { w: WarmUp; t: number; fahrenheit: boolean }) {
  const chart = useMemo(() => {
    const to = (c: number) => (fahrenheit ? c * 1.8 + 32 : c)
    const unit = fahrenheit ? '°F' : '°C'
    const top = w.curves.toSorted((a, b) => Math.max(...b.c) - Math.max(...a.c)).slice(0, mostLines)
    const lines: Line[] = top.map((c) => ({ name: c.name, unit, colour: c.figure === 'bodyC' || c.figure === 'insideC' ? '--heat-flow' : '--heat', axis: 0, dashed: c.figure === 'bodyC' || c.figure === 'insideC', points: w.t.map((s, i) => [s / 60, to(c.c[i]!)]) }))
    const hottest = top[0]!
    const end = w.t.at(-1)! / 60
    const marks = w.marksS.filter((s) => s / 60 <= end).map((s) => ({ x: s / 60, y: to(hottest.c[Math.round((s / 60 / end) * (w.t.length - 1))]!), name: clock(s) }))
    const levels = hottest.limitC == null ? [] : [{ value: to(hottest.limitC), axis: 0 as const, name: hottest.limitOf, colour: '--ink' }]
    const high = Math.max(...lines.flatMap((l) => l.points.map(([, y]) => y)))
    return { lines, marks, levels: levels.filter((l) => l.value < 1.5 * high), end, unit, high: Math.ceil((high + 6) / 10) * 10 }
  }, [w, fahrenheit])
  return <Chart title="Warming from switch-on" lines={chart.lines} marks={chart.marks} levels={chart.levels} x={{ name: 'Time, min', max: chart.end, format: (x) => clock(x * 60) }} y={[{ name: `Temperature, ${chart.unit}`, max: Math.max(chart.high, ...chart.levels.map((l) => l.value)) }]} cursor={t / 60 <= chart.end ? t / 60 : undefined} height={230} />
}
