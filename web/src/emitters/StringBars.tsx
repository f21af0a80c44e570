import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { answer, api, type Light, type Schemas } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { amps, digits, show, text } from '../units/quantity'
import { nodeName } from '../document/names'
import { type Placed } from '../document/tree'

type Sharing = Schemas['Sharing']

/** How each array's strings share its current, what the worst of a bin would take, and whether warming settles. */
export function StringBars({ light, variant, arrays }: { light: Light; variant: number; arrays: Placed[] }) {
  const found = useQuery({ queryKey: ['sharing', variant, light], queryFn: async ({ signal }) => (await answer(api.POST('/api/sharing', { signal, params: { query: { variant } }, body: light }))) ?? [], retry: false, placeholderData: (old) => old })
  if (found.isError) return <Box sx={{ color: 'var(--ink-soft)' }}>{found.error.message}</Box>
  return (
    <Box data-testid="strings">
      {found.data?.map((s) => {
        const placed = arrays.find((p) => p.node.id === s.node)
        return placed && <One key={s.node} s={s} name={nodeName(placed.node)} />
      })}
      {found.data?.length === 0 && <Box sx={{ color: 'var(--ink-soft)' }}>Choose an emitter first: then its strings stand here.</Box>}
    </Box>
  )
}

function One({ s, name }: { s: Sharing; name: string }) {
  const { settings } = useSettings()
  const strings = s.strings ?? []
  const junctions = (x: Schemas['String']) => {
    const known = (x.kinds ?? []).map((k) => k.junctionC).filter((c) => c != null)
    return known.length > 0 ? `, junction ${known.map((c) => text(show(c, 'temperature', settings))).join(' and ')}` : ''
  }
  const at = (spots: number[]) => (spots.length > 0 ? `, on place${spots.length > 1 ? 's' : ''} ${spots.map((i) => i + 1).join(', ')}` : '')
  const count = strings.reduce((n, x) => n + x.count, 0)
  const top = Math.max(s.ratedA ?? 0, s.asItIs?.worstA ?? 0, ...strings.map((x) => x.currentA), 1e-9) * 1.08
  const bar = (label: string, value: number, colour: string, note?: string, soft?: boolean, margin?: number | null) => (
    <Box key={label} sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr) 84px', sm: '210px minmax(0, 1fr) 92px' }, columnGap: 1, alignItems: 'center', py: 0.3 }}>
      <Box sx={{ fontSize: 13, gridColumn: { xs: '1 / 3', sm: 'auto' } }}>
        {label}
        {note && <Box component="span" sx={{ display: 'block', color: 'var(--ink-soft)', fontSize: 12 }}>{note}</Box>}
      </Box>
      <Box sx={{ position: 'relative', height: 16, background: 'var(--track)' }}>
        <Box sx={{ width: `${(100 * value) / top}%`, height: '100%', background: soft ? 'none' : colour, border: soft ? `1px dashed ${colour}` : 0 }} />
        {s.ratedA != null && <Box title="rated" sx={{ position: 'absolute', left: `${(100 * s.ratedA) / top}%`, top: -2, bottom: -2, width: '2px', background: 'var(--caution)' }} />}
      </Box>
      <Box sx={{ textAlign: 'right', fontSize: 13 }}>
        <span className="figure">{amps(value)}</span>
        {margin != null && <Box component="span" sx={{ display: 'block', fontSize: 12, color: margin < 0 ? 'var(--caution-ink)' : 'var(--margin-ink)' }}>{Math.abs(100 * margin).toFixed(0)} % {margin < 0 ? 'over' : 'to spare'}</Box>}
      </Box>
    </Box>
  )
  const school = (label: string, c: Schemas['School'] | null | undefined, note: string) =>
    c && (c.worstA == null
      ? <Box key={label} sx={{ color: 'var(--stop)', fontSize: 13, py: 0.3 }}>{label}: one string warms on without end.</Box>
      : bar(label, c.worstA, 'var(--heat)', `${note}${c.cold ? '; before it warms' : `; settles${c.worstC != null ? ` at ${text(show(c.worstC, 'temperature', settings))}` : ''}`}`, true, c.margin))
  const gain = (label: string, g: number | null | undefined, words: string) =>
    g != null && (
      <Box sx={{ display: 'flex', gap: 1, fontSize: 13, borderTop: '1px solid var(--line)', py: 0.4 }}>
        <Box sx={{ flex: 1 }}>
          {label}
          <Box component="span" sx={{ display: 'block', color: 'var(--ink-soft)', fontSize: 12 }}>{words}</Box>
        </Box>
        <Box className="figure" sx={{ color: g >= 1 ? 'var(--stop)' : g >= 0.5 ? 'var(--caution-ink)' : 'var(--margin-ink)' }}>
          {g.toFixed(2)} {g >= 1 ? 'runs away' : 'settles'}
        </Box>
      </Box>
    )
  return (
    <Box sx={{ mb: 2 }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>Strings of {name}</Box>
      {strings.map((x) => bar(`${x.count} ${x.name}${at(x.spots ?? [])}`, x.currentA, x.open ? 'var(--note)' : 'var(--power-flow)', x.open ? 'dark' : `${x.liveLEDs} lit in series${junctions(x)}`))}
      {count > 1 && (s.binV != null ? (
        <>
          <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>The worst string, by school</Box>
          {school('As it is', s.asItIs, `spread ± ${(s.binV * 1000).toFixed(0)} mV`)}
          {school('Same bin, wide margin', s.sameBin, 'half the spread; stay well below rated')}
          {school('Never without ballast', s.ballast, `${digits(s.ballast?.ballastOhm ?? 0, 2)} Ω in each, ${digits(s.ballast?.ballastW ?? 0, 2)} W in all`)}
        </>
      ) : (
        <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', mt: 0.5 }}>With the emitter’s spread of forward voltage the worst string can be told.</Box>
      ))}
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Does warming settle?</Box>
      {gain('All together', s.commonGain, 'what a kelvin brings back through the source')}
      {count > 1 && s.differentialGain == null && s.commonGain != null && <Box sx={{ fontSize: 12, color: 'var(--ink-soft)', py: 0.4 }}>One against the others: cannot be told without the emitter’s thermal resistance.</Box>}
      {count > 1 && gain('One against the others', s.differentialGain, 'a limit on the whole current does not help')}
      {count > 1 && <Box sx={{ fontSize: 12, color: 'var(--ink-soft)', mt: 0.5 }}>In series on a held current all are equal; in parallel on a voltage each takes what it can.</Box>}
    </Box>
  )
}
