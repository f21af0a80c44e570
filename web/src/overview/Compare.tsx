import Box from '@mui/material/Box'
import { useQueries } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { answer, api, type Light, type Solution, type Trace } from '../api/client'
import { Chart } from '../charts/Chart'
import { FieldMap } from '../charts/FieldMap'
import type { Line } from '../charts/lines'
import { variantDifferences } from '../document/compare'
import { series } from '../solved/trace'
import { lookQuery } from '../solved/useLook'
import { useSolved } from '../solved/useSolved'
import { useSettings } from '../settings/SettingsProvider'
import { quantityOf } from '../parts/description'
import { amps, clock, digits, editable, mark, markEvery, show, text, type Preferences } from '../units/quantity'
import { litWords, wordOf } from '../units/words'

/** One variant with what was solved of it. */
interface Solved {
  solution?: Solution
  trace?: Trace
  error?: string
}

const colours = ['--power', '--heat', '--margin', '--light', '--note', '--caution']

/** The variants side by side: answers, what it costs, what differs, and their light and heat on one scale. */
export function Compare({ light }: { light: Light }) {
  const solved = useQueries({
    queries: light.variants.map((_, variant) => ({
      queryKey: ['compare', light, variant],
      queryFn: async ({ signal }: { signal: AbortSignal }): Promise<Solved> => {
        const solution = await answer(api.POST('/api/solve', { params: { query: { variant, atS: 30 } }, body: light, signal }))
        return { solution, trace: await answer(api.POST('/api/trace', { params: { query: { variant } }, body: light, signal })) }
      },
      retry: false,
      staleTime: Infinity,
      placeholderData: (before: Solved | undefined) => before,
    })),
    combine: (list) => list.map((q): Solved => q.data ?? { error: q.error?.message }),
  })
  const [all, setAll] = useState(false)
  if (light.variants.length < 2) return <Box sx={{ color: 'var(--ink-soft)' }}>There is one variant. Make another with + beside its name, change what you like in it, and both stand here side by side.</Box>
  return (
    <Box data-testid="compare" sx={{ overflowX: 'auto', minHeight: 'max-content' }}>
      <Box component="table" sx={{ borderCollapse: 'collapse', width: '100%', fontSize: 13.5, '& th, & td': { textAlign: 'left', py: 0.4, pr: 2, borderTop: '1px solid var(--line)', verticalAlign: 'top' }, '& thead th': { borderTop: 0 }, '& tbody th': { fontWeight: 400, color: 'var(--ink-soft)' } }}>
        <thead>
          <tr>
            <th />
            {light.variants.map((v) => <th key={v.id} scope="col">{v.name}</th>)}
          </tr>
        </thead>
        <tbody>
          <AnswerRows light={light} solved={solved} all={all} />
          <DifferenceRows light={light} />
        </tbody>
      </Box>
      <label>
        <input type="checkbox" checked={all} onChange={(e) => setAll(e.target.checked)} /> rows that are alike too
      </label>
      <SharedCharts light={light} solved={solved} />
      <SharedMaps light={light} />
    </Box>
  )
}

/** Where the light of each variant goes, on one scale with the same lines. */
function SharedMaps({ light }: { light: Light }) {
  const t = useSolved((s) => s.t)
  const maps = useQueries({
    queries: light.variants.map((_, variant) => lookQuery(light, variant, t)),
    combine: (list) => list.map((q) => q.data?.area ?? q.data?.strip?.map ?? q.data?.tank?.bottom ?? q.data?.around?.map),
  })
  const drawn = maps.filter((m) => m != null)
  const top = Math.max(0, ...drawn.map((m) => m.max))
  const highest = drawn.find((m) => m.max === top)
  if (drawn.length < 2 || !highest || drawn.some((m) => m.unit !== highest.unit)) return null
  return (
    <Box sx={{ mt: 2 }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>Where the light goes, on one scale</Box>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) minmax(0, 1fr)' } }}>
        {light.variants.map((v, i) => maps[i] && <Box key={v.id}><Box sx={{ fontSize: 13 }}>{v.name}: <span className="figure">{digits(maps[i].mean, 3)} {maps[i].unit}</span>, least over mean <span className="figure">{maps[i].minOverMean.toFixed(2)}</span></Box><FieldMap map={maps[i]} title={v.name} top={top} levels={highest.levels} most={200} /></Box>)}
      </Box>
    </Box>
  )
}

/** What parts of a variant cost, as far as prices are known. */
function cost({ cost: { sum, priced, unpriced } }: Solution): string {
  if (priced === 0) return 'no prices'
  return `${sum.toFixed(2)}${unpriced > 0 ? ` and ${unpriced} without a price` : ''}`
}

/** A row of the comparison: how it is said, and where there is one which way is better. */
interface Row {
  name: string
  say: (s: Solution) => string | undefined
  value?: (s: Solution) => number | undefined
  better?: 1 | -1
}

function AnswerRows({ light, solved, all }: { light: Light; solved: Solved[]; all: boolean }) {
  const { settings } = useSettings()
  const hours = light.brief.hoursADay ?? 24
  const rows = useMemo((): Row[] => {
    const about = (s: Solution, exact: string) => (s.assumed.length > 0 ? `≈ ${exact}` : exact)
    const lm = (s: Solution) => s.answers.fluxLm ?? undefined
    const half = (s: Solution) => s.answers.halfS ?? undefined
    const empty = (s: Solution) => s.answers.endS ?? undefined
    const degrees = (c: number | null | undefined) => (c == null ? undefined : text(show(c, 'temperature', settings)))
    const count = (s: Solution, of: string) => s.findings.filter((f) => f.severity === of).length
    const said = (f: (s: Solution) => number | undefined, how: (x: number) => string) => (s: Solution) => {
      const x = f(s)
      return x === undefined ? undefined : about(s, how(x))
    }
    return [
      { name: 'Output', say: (s) => said(lm, (x) => text(show(x, 'luminousFlux', settings, s.assumed.length > 0 ? 2 : 3)))(s) ?? s.answers.fluxWhy, value: lm, better: 1 },
      { name: 'Where it is wanted', say: (s) => s.reached && about(s, `${digits(s.reached.got, 3)} ${s.reached.unit}`), value: (s) => s.reached?.got, better: 1 },
      { name: 'Takes', say: said((s) => s.answers.inputW, (x) => `${digits(x, 3)} W`), value: (s) => s.answers.inputW, better: -1 },
      { name: 'Light for it', say: said((s) => s.answers.efficacyLmPerW ?? undefined, (x) => `${x.toFixed(0)} lm/W`), value: (s) => s.answers.efficacyLmPerW ?? undefined, better: 1 },
      { name: 'Runtime to half light', say: said(half, clock), value: half, better: 1 },
      { name: 'Time to empty', say: (s) => said(empty, clock)(s) ?? s.answers.runtimeWhy, value: empty, better: 1 },
      { name: 'Hottest junction', say: (s) => degrees(s.answers.junctionC), value: (s) => s.answers.junctionC ?? undefined, better: -1 },
      { name: 'Hottest to touch', say: (s) => degrees(s.answers.touchC), value: (s) => s.answers.touchC ?? undefined, better: -1 },
      { name: 'Stops', say: (s) => String(count(s, 'stop')), value: (s) => count(s, 'stop'), better: -1 },
      { name: 'Cautions', say: (s) => String(count(s, 'caution')), value: (s) => count(s, 'caution'), better: -1 },
      { name: `Energy a month, ${litWords(hours)}`, say: said((s) => (s.answers.energyPerDayWh * 30.4) / 1000, (x) => `${digits(x, 3)} kWh${settings.pricePerKWh === undefined ? '' : `, costs ${(x * settings.pricePerKWh).toFixed(2)}`}`), value: (s) => s.answers.energyPerDayWh, better: -1 },
      { name: 'Its parts cost', say: cost },
      { name: 'Assumed figures', say: (s) => String(s.assumed.length), value: (s) => s.assumed.length, better: -1 },
    ]
  }, [settings, hours])
  return rows.map((r) => {
    const said = solved.map((v) => (v.solution ? (r.say(v.solution) ?? '—') : (v.error ?? '…')))
    if (!all && said.every((x) => x === said[0])) return null
    const values = solved.map((v) => v.solution && r.value?.(v.solution))
    const known = values.filter((x) => x !== undefined)
    const best = r.better && known.length === values.length && new Set(known).size > 1 ? (r.better > 0 ? Math.max(...known) : Math.min(...known)) : undefined
    return (
      <tr key={r.name}>
        <th scope="row">{r.name}</th>
        {said.map((x, i) => (
          <td key={light.variants[i]!.id} className="figure">
            {x}
            {best !== undefined && values[i] === best && <span title="the better one" aria-label="the better one"> ▲</span>}
          </td>
        ))}
      </tr>
    )
  })
}

const say = (value: unknown, pointer: string, settings: Preferences): string => {
  if (value === undefined) return '—'
  if (typeof value === 'string' && /^\[[\d.,e-]+\]$/.test(value)) return (JSON.parse(value) as number[]).map((x) => say(x, pointer, settings)).join(' · ')
  if (typeof value === 'number') {
    const quantity = quantityOf(pointer.slice(pointer.lastIndexOf('/') + 1))
    return quantity === 'current' ? amps(value) : text(editable(value, quantity, settings))
  }
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  return typeof value === 'string' ? wordOf(value, pointer) : 'differs'
}

/** What was chosen differently, part by part and figure by figure. */
function DifferenceRows({ light }: { light: Light }) {
  const { settings } = useSettings()
  const rows = useMemo(() => variantDifferences(light), [light])
  if (rows.length === 0) return null
  return rows.map((r) => (
    <tr key={r.name} data-differs>
      <th scope="row">{r.name}</th>
      {r.values.map((v, i) => <td key={light.variants[i]!.id} className="figure">{say(v, r.pointer, settings)}</td>)}
    </tr>
  ))
}

/** Light and the hottest body of every variant, on one scale each. */
function SharedCharts({ light, solved }: { light: Light; solved: Solved[] }) {
  const charts = useMemo(() => {
    const end = Math.max(0, ...solved.map((s) => s.trace?.endS ?? 0))
    if (end <= 0) return undefined
    const lines = (figure: (s: Solved) => [string, string] | undefined, unit: string, d: number): Line[] => solved.flatMap((s, i): Line[] => {
      const of = figure(s)
      const values = s.trace && of && series(s.trace, ...of)
      if (!s.trace || !values) return []
      return [{ name: light.variants[i]!.name, unit, colour: colours[i % colours.length]!, axis: 0, digits: d, dashed: i % 2 === 1, points: s.trace.t.map((t, k): [number, number] => [t, values[k]!]) }]
    })
    const x = { name: 'Time since switch-on', max: end, format: clock, every: markEvery(end), mark }
    return [
      { title: 'Light of each', lines: lines(() => ['total', 'fluxLm'], 'lm', 0), y: [{ name: 'Light, lm', min: 0 }] as [{ name: string; min: number }], x },
      { title: 'Hottest junction of each', lines: lines((s) => (s.solution?.answers.junctionNode ? [s.solution.answers.junctionNode, 'junctionC'] : undefined), '°C', 0), y: [{ name: 'Temperature, °C' }] as [{ name: string }], x },
    ].filter((c) => c.lines.length > 0)
  }, [light, solved])
  return charts?.map((c) => <Chart key={c.title} {...c} height={210} />)
}
