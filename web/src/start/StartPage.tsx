import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { answer, api, type Light } from '../api/client'
import { assumedAt } from '../document/assumed'
import { get } from '../document/pointer'
import { placeName } from '../document/tree'
import { Answers } from '../frame/Answers'
import { quantityOf } from '../parts/description'
import { useSettings } from '../settings/SettingsProvider'
import { SolvedContext } from '../solved/useSolved'
import { digits, show, text, type Preferences } from '../units/quantity'
import { capital } from '../units/words'
import { StationBox, type Fill } from './ChainDrawing'
import { FactInput } from './FactInput'
import { OtherWays } from './OtherWays'
import { useBegun, useCabinet } from './useBegun'
import { stationWords, ways, type Facts, type Station } from './ways'

const keptKey = 'photherm-start'

/** What was typed for a way, as this tab has it: leaving the page loses nothing. */
function kept(way: Facts['way']): Facts {
  try {
    return JSON.parse(sessionStorage.getItem(`${keptKey}-${way}`) ?? 'null') as Facts | null ?? { way }
  } catch {
    return { way }
  }
}

/** Where a place of the light stands in the drawing. */
function stationOf(pointer: string, light: Light): Station {
  const part = /^\/parts\/(\d+)/.exec(pointer)
  const p = part && light.parts[Number(part[1])]
  if (p) return p.cell ? 'source' : p.driver ? 'driver' : 'emitters'
  if (pointer.includes('/bodies/') || pointer.includes('/joint')) return 'body'
  if (pointer.includes('/sources/')) return 'source'
  if (pointer.includes('/driver/')) return 'driver'
  return pointer.startsWith('/conditions') ? 'place' : 'emitters'
}

/** How a light begins: a way, its few facts in any order, and the four answers that already count. */
export function StartPage() {
  const { way: named } = useParams()
  const navigate = useNavigate()
  const way = named !== undefined && named in ways ? (named as Facts['way']) : undefined
  useEffect(() => {
    document.title = 'New light – Photherm'
  }, [])
  return (
    <Box sx={{ px: { xs: 1.5, sm: 2.5 }, py: 1, maxWidth: 1400, mx: 'auto' }}>
      <Box component="h1" sx={{ fontSize: 19, m: 0, minHeight: 42, display: 'flex', alignItems: 'center' }}>
        New light: how does it begin?
      </Box>
      <Box component="nav" aria-label="How it begins" sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mb: 1.5 }}>
        {Object.entries(ways).map(([key, w]) => (
          <Button key={key} variant={key === way ? 'contained' : 'outlined'} aria-pressed={key === way} onClick={() => void navigate(`/start/${key}`, { replace: true })}>
            {w.title}
          </Button>
        ))}
      </Box>
      {way ? <Chain key={way} way={way} /> : (
        <Box component="p" sx={{ maxWidth: 640 }}>
          Take the way that is nearest to what you have: an old lamp, some parts, a lamp and a meter, strip, or boards over an area. Each asks at most five things, and none must be answered: what you leave open is assumed, shown as such, and can be replaced later.
        </Box>
      )}
      <OtherWays />
    </Box>
  )
}

function Chain({ way }: { way: Facts['way'] }) {
  const [facts, setFacts] = useState(() => kept(way))
  const said = Object.keys(facts).some((k) => k !== 'way' && k !== 'name' && (facts[k as keyof Facts] as unknown[] | string | undefined)?.length !== 0 && facts[k as keyof Facts] !== undefined)
  const cabinet = useCabinet()
  const { begun, solved, error } = useBegun(said ? facts : undefined)
  const queries = useQueryClient()
  const navigate = useNavigate()
  const change = (next: Facts) => {
    setFacts(next)
    sessionStorage.setItem(`${keptKey}-${way}`, JSON.stringify(next))
  }
  const create = useMutation({
    // What stands on the page may be of the words before: what was typed last is asked for again.
    mutationFn: async () => answer(api.POST('/api/lights', { body: (await answer(api.POST('/api/begin', { body: facts }))).light })),
    onSuccess: (l) => {
      sessionStorage.removeItem(`${keptKey}-${way}`)
      void queries.invalidateQueries({ queryKey: ['lights'] })
      void navigate(`/lights/${l.id}`)
    },
  })
  const assumed = begun?.light.variants[0]?.assumed ?? []
  const fillOf = (station: Station, names: string[]): Fill => {
    if (!said) return 'asked'
    const told = names.some((n) => facts[n as keyof Facts] !== undefined)
    return told || (facts.parts ?? []).some((p) => stationWords[station] === capital(p.cell ? 'source' : p.driver ? 'driver' : 'emitters')) ? 'said' : begun && assumed.some((a) => stationOf(assumedAt(begun.light, 0, a.at) ?? '', begun.light) === station) ? 'assumed' : 'asked'
  }
  const w = ways[way]
  return (
    <SolvedContext value={solved}>
      <Box component="p" sx={{ m: 0, mb: 1.5, color: 'var(--ink-soft)' }}>{w.says}</Box>
      <Box sx={{ display: 'flex', flexDirection: { xs: 'column', md: 'row' }, gap: { xs: 1, md: 2.5 } }}>
        {w.stations.map((s, i) => (
          <StationBox key={s.station} word={stationWords[s.station]} question={s.question} fill={fillOf(s.station, s.facts.map((f) => f.name))} last={i === w.stations.length - 1}>
            {s.facts.map((f) => <FactInput key={f.name} fact={f} facts={facts} cabinet={cabinet} understood={said ? begun?.understood[f.name] : undefined} unused={said ? begun?.unused[f.name] : undefined} remarks={said ? begun?.remarks.filter((r) => r.fact === f.name) : undefined} onChange={change} />)}
          </StationBox>
        ))}
      </Box>
      {(error ?? create.error) && <Alert severity="error" sx={{ mt: 1 }}>{(error ?? create.error)?.message}</Alert>}
      <Box sx={{ mt: 1.5, minHeight: 80 }}>{begun ? <Answers idea light={begun.light} variant={0} onAssumed={() => document.getElementById('assumed')?.scrollIntoView()} /> : <Box sx={{ py: 2, color: 'var(--ink-soft)' }}>Say anything you know, and the four answers stand here: how bright, how long, how hot, and what is over a limit.</Box>}</Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, mt: 1.5, flexWrap: 'wrap' }}>
        <label>
          Its name{' '}
          <Box component="input" data-fact="name" value={facts.name ?? ''} maxLength={120} placeholder={begun?.light.name ?? 'may wait'} onChange={(e: React.ChangeEvent<HTMLInputElement>) => change({ ...facts, name: e.target.value || undefined })} sx={{ font: 'inherit', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', width: 220 }} />
        </label>
        <Button variant="contained" disabled={!begun || create.isPending} onClick={() => create.mutate()}>
          Put it on the shelf
        </Button>
        {begun && begun.light.variants.length > 1 && <Box sx={{ color: 'var(--ink-soft)' }}>“{begun.light.variants[1]!.name}” stands beside it as a variant.</Box>}
      </Box>
      {begun && assumed.length > 0 && <AssumedList light={begun.light} />}
    </SolvedContext>
  )
}

/** An assumed figure: two digits are enough of it. */
function roughly(value: number, pointer: string, settings: Preferences): string {
  const quantity = quantityOf(pointer.slice(pointer.lastIndexOf('/') + 1))
  return quantity === 'count' && !Number.isInteger(value) ? digits(value, 2) : text(show(value, quantity, settings, 2))
}

/** What was not said, by the place it is assumed for. */
function AssumedList({ light }: { light: Light }) {
  const { settings } = useSettings()
  const list = light.variants[0]?.assumed ?? []
  return (
    <Box id="assumed" sx={{ mt: 2 }}>
      <Box component="h2" sx={{ fontSize: 15, m: 0 }}>{list.length} assumed</Box>
      <Box component="p" sx={{ m: 0, color: 'var(--ink-soft)' }}>Typical figures for what was not said. On the light’s page each leads to the control that replaces it.</Box>
      <Box component="ul" sx={{ m: 0, mt: 0.5, p: 0, listStyle: 'none', columns: { md: 2 }, columnGap: 4, fontSize: 13 }}>
        {list.map((a) => {
          const pointer = assumedAt(light, 0, a.at) ?? ''
          const value = get(light, pointer)
          const name = capital(placeName(light, pointer))
          return (
            <Box component="li" key={a.at} sx={{ breakInside: 'avoid', py: 0.25 }}>
              {!name.startsWith(stationWords[stationOf(pointer, light)]) && <Box component="span" sx={{ color: 'var(--ink-soft)' }}>{stationWords[stationOf(pointer, light)]}: </Box>}
              {name}
              {typeof value === 'number' && <span className="figure"> ≈ {roughly(value, pointer, settings)}</span>} <Box component="span" sx={{ color: 'var(--ink-soft)' }}>({a.why})</Box>
            </Box>
          )
        })}
      </Box>
    </Box>
  )
}
