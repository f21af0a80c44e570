import Box from '@mui/material/Box'
import type { ReactNode } from 'react'
import type { Light, Solution } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { digits, clock, show, type Shown } from '../units/quantity'
import type { Moment } from './trace'
import { capital } from './tree'

interface Props {
  light: Light
  solution?: Solution
  before?: Solution
  moment?: Moment
  endS: number
  stale: boolean
}

function Big({ shown, sub, was }: { shown: Shown; sub?: string; was?: string }) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 0.75, whiteSpace: 'nowrap', minWidth: 0 }}>
      {was && (
        <Box component="s" className="figure" sx={{ color: 'var(--ink-soft)', fontSize: 15 }}>
          {was}
        </Box>
      )}
      <Box className="figure" component="strong" sx={{ fontSize: { xs: 19, sm: 25 }, lineHeight: 1.15, fontWeight: 650 }}>
        {shown.number}
      </Box>
      <Box sx={{ fontSize: { xs: 12, sm: 13.5 }, color: 'var(--ink-soft)' }}>
        {[shown.unit, sub].filter(Boolean).join(' ')}
      </Box>
    </Box>
  )
}

function Bar({ part, mark, colour }: { part: number; mark?: number; colour: string }) {
  const at = (x: number) => `${Math.min(Math.max(x, 0), 1) * 100}%`
  return (
    <Box aria-hidden sx={{ position: 'relative', height: 5, borderRadius: 3, background: 'var(--track)', mt: 0.75, display: { xs: 'none', sm: 'block' } }}>
      <Box sx={{ width: at(part), height: '100%', borderRadius: 3, background: colour }} />
      {mark !== undefined && <Box sx={{ position: 'absolute', left: at(mark), top: -3, width: 2, height: 11, background: 'var(--ink)' }} />}
    </Box>
  )
}

function Cell({ title, aside, tone, children, name }: { title: string; aside?: ReactNode; tone?: string; children: ReactNode; name: string }) {
  return (
    <Box data-answer={name} sx={{ px: { xs: 1.25, sm: 2 }, py: { xs: 0.5, sm: 1 }, borderLeft: { sm: '1px solid var(--line)' }, '&:first-of-type': { borderLeft: 0 }, minWidth: 0, overflow: 'hidden' }}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 1, fontSize: 12.5, color: 'var(--ink-soft)', whiteSpace: 'nowrap' }}>
        <span>{title}</span>
        <Box component="span" sx={{ color: tone, overflow: 'hidden', textOverflow: 'ellipsis' }}>
          {aside}
        </Box>
      </Box>
      {children}
    </Box>
  )
}

const none = (why: string | undefined) => (
  <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', lineHeight: 1.3, display: '-webkit-box', WebkitLineClamp: 2, WebkitBoxOrient: 'vertical', overflow: 'hidden' }} title={why}>
    {capital(why ?? 'not known')}
  </Box>
)

/** The four answers: they stand above everything and do not scroll away. */
export function Answers({ light, solution, before, moment, endS, stale }: Props) {
  const { settings } = useSettings()
  const a = solution?.answers
  const b = before?.answers
  const flux = moment?.figure('total', 'fluxLm')
  const input = moment?.figure('total', 'inputW') ?? 0
  const brief = light.brief
  const short = (ok: boolean | undefined) => (ok === false ? 'var(--caution-ink)' : 'var(--margin-ink)')
  const temperature = (c: number) => show(c, 'temperature', settings)
  const junctionNow = a?.junctionNode ? moment?.figure(a.junctionNode, 'junctionC') : undefined
  const touchNow = a?.touchBody ? moment?.figure(a.touchBody, 'bodyC') : undefined
  const limitC = a?.touchLimitC ?? 0
  // What the run still comes to, where the clock does not stand there.
  const most = (x: NonNullable<typeof a>) => {
    if (endS <= 0 || x.touchC == null || touchNow === undefined || x.touchC - touchNow < 1) return ''
    return `, comes to ${x.junctionC != null ? `${temperature(x.junctionC).number} / ` : ''}${temperature(x.touchC).number}`
  }
  const counts = { stop: 0, caution: 0, note: 0 }
  for (const f of solution?.findings ?? []) counts[f.severity] += 1
  const left = a?.endS !== null && a?.endS !== undefined && moment ? Math.max(0, a.endS - moment.t) : undefined
  return (
    <Box role="group" aria-label="Answers" aria-busy={stale} sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr 1fr', sm: '1fr 1.1fr 1.15fr 0.95fr' }, background: 'var(--paper)', border: '1px solid var(--line)', borderWidth: '1px 0', maxHeight: { xs: 112 }, opacity: stale ? 0.55 : 1 }}>
      <Cell name="output" title="Output" tone={short(brief.outputLm === undefined || a?.fluxLm == null ? undefined : a.fluxLm >= brief.outputLm)} aside={brief.outputLm !== undefined && `wanted ${brief.outputLm.toFixed(0)} lm`}>
        {a?.fluxLm == null || flux === undefined ? (
          none(a?.fluxWhy)
        ) : (
          <>
            <Big shown={show(flux, 'luminousFlux', settings)} sub={input > 0 ? `· ${(flux / input).toFixed(0)} lm/W` : ''} was={b?.fluxLm ? digits(b.fluxLm, 3) : undefined} />
            <Bar part={flux / Math.max(a.fluxLm, brief.outputLm ?? 0) / 1.15} mark={brief.outputLm ? brief.outputLm / Math.max(a.fluxLm, brief.outputLm) / 1.15 : undefined} colour="var(--light)" />
          </>
        )}
      </Cell>
      <Cell name="runtime" title={a?.halfS != null ? 'Runtime to half light' : a?.runtimeWhy === 'it runs from a supply' ? 'Running cost' : 'Runtime'} tone={short(brief.runtimeH === undefined || a?.halfS == null ? undefined : a.halfS >= brief.runtimeH * 3600)} aside={brief.runtimeH !== undefined && `wanted ${clock(brief.runtimeH * 3600)}`}>
        {a?.endS == null ? (
          a?.runtimeWhy === 'it runs from a supply' ? (
            <Big shown={{ number: ((a.energyPerDayWh * 30.4) / 1000).toFixed(1), unit: settings.pricePerKWh === undefined ? 'kWh a month' : 'kWh' }} sub={settings.pricePerKWh === undefined ? 'lit all day' : `· costs ${(((a.energyPerDayWh * 30.4) / 1000) * settings.pricePerKWh).toFixed(2)} a month, lit all day`} />
          ) : (
            none(a?.runtimeWhy)
          )
        ) : (
          <>
            <Big shown={{ number: clock(a.halfS ?? a.endS), unit: '' }} sub={moment && moment.t > 60 && left !== undefined ? `· ${clock(left)} left` : a.halfS != null && a.endS > a.halfS + 60 ? `· dark at ${clock(a.endS)}` : ''} was={b?.endS != null ? clock(b.halfS ?? b.endS) : undefined} />
            <Bar part={(a.halfS ?? a.endS) / Math.max(a.endS, (brief.runtimeH ?? 0) * 3600)} mark={brief.runtimeH ? (brief.runtimeH * 3600) / Math.max(a.endS, brief.runtimeH * 3600) : undefined} colour="var(--power)" />
          </>
        )}
      </Cell>
      <Cell name="hottest" title="Hottest" tone={short(a?.touchC == null ? undefined : a.touchC <= limitC)} aside={a?.touchC != null && `${light.conditions.handheld ? 'to hold' : 'to touch'} ${temperature(limitC).number} ${temperature(limitC).unit}${most(a)}`}>
        {a?.junctionC == null && a?.touchC == null ? (
          none(a?.junctionWhy)
        ) : (
          <>
            <Box sx={{ display: 'flex', gap: { xs: 0.75, sm: 1.5 } }}>
              {a.junctionC != null && <Big shown={temperature(junctionNow ?? a.junctionC)} sub="junction" was={b?.junctionC != null ? temperature(b.junctionC).number : undefined} />}
              {a.touchC != null && <Big shown={temperature(touchNow ?? a.touchC)} sub="touch" was={b?.touchC != null ? temperature(b.touchC).number : undefined} />}
            </Box>
            {a.touchC != null && <Bar part={((touchNow ?? a.touchC) - 0) / (limitC * 1.3)} mark={1 / 1.3} colour="var(--heat)" />}
          </>
        )}
      </Cell>
      <Cell name="limits" title="Limits" aside={before ? 'with the change' : 'worst first'}>
        {!solution ? (
          none('not solved yet')
        ) : (
          <>
            <Box sx={{ display: 'flex', gap: { xs: 0.75, sm: 1.5 }, alignItems: 'baseline', fontSize: { xs: 11.5, sm: 13.5 }, color: 'var(--ink-soft)', whiteSpace: 'nowrap' }}>
              {(['stop', 'caution', 'note'] as const).map((s) => (
                <span key={s} data-count={s}>
                  <Box component="strong" className="figure" sx={{ fontSize: { xs: 19, sm: 25 }, lineHeight: 1.15, color: counts[s] === 0 ? 'var(--margin-ink)' : { stop: 'var(--stop)', caution: 'var(--caution-ink)', note: 'var(--note)' }[s] }}>
                    {counts[s]}
                  </Box>{' '}
                  {s === 'stop' ? 'stop' : s === 'caution' ? 'caut.' : 'notes'}
                </span>
              ))}
            </Box>
            <Bar part={1} colour={counts.stop ? 'var(--stop)' : counts.caution ? 'var(--caution)' : solution.answers.inputW > 0 ? 'var(--margin)' : 'var(--track)'} />
          </>
        )}
      </Cell>
    </Box>
  )
}
