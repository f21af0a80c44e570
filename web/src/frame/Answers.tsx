import { memo, useEffect, useState, type ReactNode } from 'react'
import type { Light, Schemas, Solution } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { digits, clock, show, text, type Preferences, type Shown } from '../units/quantity'
import { useBand } from '../solved/useBand'
import { useSolved } from '../solved/useSolved'
import { capital, litWords } from '../units/words'
import css from './frame.module.css'

interface Props {
  /** The light on screen: it says what is wanted. */
  light: Light
  variant: number
  /** The summary without what is tried. */
  before?: Solution
  /** Shows what is assumed. */
  onAssumed?: () => void
  /** A light that is only begun: how sure it is can wait. */
  idea?: boolean
}

/** A duration no surer than what it rests on: two digits. */
const roughly = (s: number) => (s < 3600 ? clock(Number(s.toPrecision(2))) : s < 100 * 3600 ? `${digits(s / 3600, 2)} h` : clock(Number(s.toPrecision(2))))

function Big({ shown, sub, was, about, wide }: { shown: Shown; sub?: string; was?: string; about?: boolean; /** What is left out where there is little room. */ wide?: string }) {
  return (
    <div className={css.big}>
      {was && <s className={`figure ${css.was}`}>{was}</s>}
      {about && <span className={css.about} title="Rests on figures that are assumed">≈</span>}
      <strong className={`figure ${css.number}`}>{shown.number}</strong>
      <div className={css.sub}>{[shown.unit, sub].filter(Boolean).join(' ')}</div>
      {wide && <div className={`${css.sub} ${css.wide}`}>{wide}</div>}
    </div>
  )
}

function Bar({ part, mark, colour, band }: { part: number; mark?: number; colour: string; band?: [low: number, high: number] }) {
  const at = (x: number) => `${Math.min(Math.max(x, 0), 1) * 100}%`
  return (
    <div aria-hidden className={css.bar}>
      <div className={css.part} style={{ width: at(part), background: colour }} />
      {band && <div className={css.band} style={{ left: at(band[0]), right: `calc(100% - ${at(band[1])})` }} />}
      {mark !== undefined && <div className={css.mark} style={{ left: at(mark) }} />}
    </div>
  )
}

function Cell({ title, aside, tone, children, name, sure, late }: { title: string; aside?: ReactNode; tone?: string; children: ReactNode; name: string; sure?: string; late?: boolean }) {
  return (
    <div data-answer={name} title={sure && `Eight of ten like this: ${sure}`} className={late ? `${css.answer} ${css.stale}` : css.answer}>
      <div className={css.answerTop}>
        <span>{title}</span>
        <span className={css.aside} style={{ color: tone }}>
          {aside}
        </span>
      </div>
      {children}
    </div>
  )
}

/** Where what is wanted comes to, at 30 s. */
const places = { peakCd: 'peak', beamM: 'far', lux: 'where wanted', ppfd: 'where wanted' }
/** The same, where the clock does not stand at what it is judged at. */
const placesThen = { peakCd: 'peak at 30 s', beamM: 'far at 30 s', lux: 'at 30 s', ppfd: 'at 30 s' }

/** How much comes where it is wanted. */
const comes = (r: Pick<Schemas['Reached'], 'got' | 'what' | 'unit'>, sure: number, settings: Preferences): Shown => (r.what === 'beamM' ? show(Number(r.got.toPrecision(sure)), 'length', settings, sure) : { number: digits(r.got, sure), unit: r.what === 'ppfd' ? 'µmol' : r.unit })

const none = (why: string | undefined) => (
  <div className={css.none} title={why}>
    {capital(why ?? 'not known')}
  </div>
)

/** Figures are said to be old when they have been for so long, chosen: sooner it would flicker with every key. */
const longMs = 250

function useLong(is: boolean): boolean {
  const [long, setLong] = useState(false)
  useEffect(() => {
    const timer = setTimeout(() => setLong(is), is ? longMs : 0)
    return () => clearTimeout(timer)
  }, [is])
  return long
}

/** The four answers: they stand above everything and do not scroll away. */
export const Answers = memo(function Answers({ light, variant, before, onAssumed, idea }: Props) {
  const stale = useSolved((s) => s.light !== light || s.variant !== variant || Boolean(s.error))
  // What is judged comes after the figures.
  const unjudged = useSolved((s) => s.judged !== light)
  const late = useLong(unjudged)
  const solution = useSolved((s) => s.solution)
  const moment = useSolved((s) => s.moment)
  const endS = useSolved((s) => s.trace?.endS) ?? 0
  const { settings } = useSettings()
  const { band } = useBand(light, variant, !idea)
  const range = (key: string, write: (x: number) => string) => band?.ranges[key] && `${write(band.ranges[key].low)} … ${write(band.ranges[key].high)}`
  const a = solution?.answers
  const b = before?.answers
  const reached = solution?.reached ?? undefined
  const flux = moment?.figure('total', 'fluxLm')
  const input = moment?.figure('total', 'inputW') ?? 0
  const brief = light.brief
  const short = (ok: boolean | undefined) => (ok === undefined ? undefined : ok ? 'var(--margin-ink)' : 'var(--caution-ink)')
  // What rests on assumptions is shown with two digits, and says so.
  const assumed = solution?.assumed.length ?? 0
  const about = assumed > 0
  const measured = solution?.measured.length ?? 0
  const sure = about ? 2 : 3
  const time = about ? roughly : clock
  // What readings correct carries a mark.
  const corrected = solution?.raw != null
  const titled = (title: string) => `${title}${about ? ', assumed' : ''}${corrected ? ' ✓ corrected' : ''}`
  const exact = (c: number) => show(c, 'temperature', settings)
  const temperature = (c: number) => {
    const x = exact(c)
    return about ? { ...x, number: digits(Number(x.number), 2) } : x
  }
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
  // A light of which nothing is known keeps every limit, which tells nobody anything.
  const nothing = solution !== undefined && solution.answers.inputW <= 0 && counts.stop + counts.caution === 0
  const ends = a?.endS ?? a?.halfS ?? undefined
  const left = a?.endS !== null && a?.endS !== undefined && moment ? Math.max(0, a.endS - moment.t) : undefined
  return (
    <div role="group" aria-label="Answers" aria-busy={stale || unjudged} className={useLong(stale) ? `${css.answers} ${css.stale}` : css.answers}>
      <Cell name="output" sure={range('fluxLm', (x) => text(show(x, 'luminousFlux', settings)))} title={titled('Output')} tone={short(reached ? reached.met : brief.outputLm === undefined || a?.fluxLm == null ? undefined : a.fluxLm >= brief.outputLm)} aside={reached ? `${reached.tooMuch ? 'at most' : 'wanted'} ${text(comes({ ...reached, got: reached.tooMuch ? (reached.high ?? 0) : reached.low }, 3, settings))}` : brief.outputLm !== undefined && `wanted ${brief.outputLm.toFixed(0)} lm`}>
        {a?.fluxLm == null || flux === undefined ? (
          none(a?.fluxWhy)
        ) : (
          <>
            <div className={css.several}>
              <Big about={about} shown={show(flux, 'luminousFlux', settings, sure)} sub={reached ? '' : input > 0 ? `· ${about ? digits(flux / input, 2) : (flux / input).toFixed(0)} lm/W` : ''} was={b?.fluxLm ? digits(b.fluxLm, sure) : undefined} />
              {reached && <Big about={about} shown={comes(reached, sure, settings)} wide={(moment && Math.abs(moment.t - 30) > 1 ? placesThen : places)[reached.what]} was={before?.reached ? comes(before.reached, sure, settings).number : undefined} />}
            </div>
            <Bar part={flux / Math.max(a.fluxLm, brief.outputLm ?? 0) / 1.15} mark={brief.outputLm ? brief.outputLm / Math.max(a.fluxLm, brief.outputLm) / 1.15 : undefined} colour="var(--light)" band={band?.ranges['fluxLm'] && Math.abs(flux - a.fluxLm) < 0.02 * a.fluxLm ? [band.ranges['fluxLm'].low / Math.max(a.fluxLm, brief.outputLm ?? 0) / 1.15, band.ranges['fluxLm'].high / Math.max(a.fluxLm, brief.outputLm ?? 0) / 1.15] : undefined} />
          </>
        )}
      </Cell>
      <Cell name="runtime" sure={range(a?.halfS != null ? 'halfS' : 'endS', clock)} title={titled(a?.halfS != null ? 'Runtime to half light' : a?.runtimeWhy === 'it runs from a supply' ? 'Running cost' : a?.endS != null ? 'Time to empty' : 'Runtime')} tone={short(brief.runtimeH === undefined || a?.halfS == null ? undefined : a.halfS >= brief.runtimeH * 3600)} aside={brief.runtimeH !== undefined && `wanted ${clock(brief.runtimeH * 3600)}`}>
        {!a || ends === undefined ? (
          a?.runtimeWhy === 'it runs from a supply' && a.inputW <= 0 ? (
            none('nothing draws on it')
          ) : a?.runtimeWhy === 'it runs from a supply' ? (
            <Big about={about} shown={{ number: about ? digits((a.energyPerDayWh * 30.4) / 1000, 2) : ((a.energyPerDayWh * 30.4) / 1000).toFixed(1), unit: settings.pricePerKWh === undefined ? 'kWh a month' : 'kWh' }} sub={settings.pricePerKWh === undefined ? litWords(a.hoursADay) : `· costs ${(((a.energyPerDayWh * 30.4) / 1000) * settings.pricePerKWh).toFixed(2)} a month, ${litWords(a.hoursADay)}`} />
          ) : (
            none(a?.runtimeWhy)
          )
        ) : (
          <>
            <Big about={about} shown={{ number: time(a.halfS ?? ends), unit: '' }} sub={!idea && moment && moment.t > 60 && left !== undefined ? `· ${time(left)} left` : a.halfS != null && a.endS != null && a.endS > a.halfS + 60 ? `· empty at ${time(a.endS)}` : ''} was={b?.endS != null ? time(b.halfS ?? b.endS) : undefined} />
            <Bar part={(a.halfS ?? ends) / Math.max(ends, (brief.runtimeH ?? 0) * 3600)} mark={brief.runtimeH ? (brief.runtimeH * 3600) / Math.max(ends, brief.runtimeH * 3600) : undefined} colour="var(--power)" />
          </>
        )}
      </Cell>
      <Cell name="hottest" sure={[['junction ', range('junctionC', (x) => text(exact(x)))], ['touch ', range('touchC', (x) => text(exact(x)))]].filter(([, r]) => r).map((r) => r.join('')).join(', ') || undefined} title={titled('Hottest')} tone={short(a?.touchC == null ? undefined : a.touchC <= limitC)} aside={a?.touchC != null && `${light.conditions.handheld ? 'to hold' : 'to touch'} ${exact(limitC).number} ${exact(limitC).unit}${most(a)}`}>
        {nothing ? (
          none('nothing warms it')
        ) : a?.junctionC == null && a?.touchC == null ? (
          none(a?.junctionWhy)
        ) : (
          <>
            <div className={css.several}>
              {a.junctionC != null && <Big about={about} shown={temperature(junctionNow ?? a.junctionC)} sub="junction" was={b?.junctionC != null ? temperature(b.junctionC).number : undefined} />}
              {a.touchC != null && <Big about={about} shown={temperature(touchNow ?? a.touchC)} sub="touch" was={b?.touchC != null ? temperature(b.touchC).number : undefined} />}
            </div>
            {a.touchC != null && <Bar part={((touchNow ?? a.touchC) - 0) / (limitC * 1.3)} mark={1 / 1.3} colour="var(--heat)" band={band?.ranges['touchC'] && a.touchC - (touchNow ?? a.touchC) < 0.5 ? [band.ranges['touchC'].low / (limitC * 1.3), band.ranges['touchC'].high / (limitC * 1.3)] : undefined} />}
          </>
        )}
      </Cell>
      <Cell name="limits" title="Limits" late={late} aside={about ? <button type="button" className={css.assumed} onClick={onAssumed}>{assumed} assumed</button> : measured > 0 && !before ? `${measured} measured` : before ? 'with the change' : 'worst first'}>
        {!solution ? (
          none('not solved yet')
        ) : nothing ? (
          none('nothing to judge yet')
        ) : (
          <>
            <div className={`${css.several} ${css.counts}`}>
              {(['stop', 'caution', 'note'] as const).map((s) => (
                <span key={s} data-count={s}>
                  <strong className={`figure ${css.number}`} style={{ color: counts[s] === 0 ? (about ? 'var(--ink-soft)' : 'var(--margin-ink)') : { stop: 'var(--stop)', caution: 'var(--caution-ink)', note: 'var(--note)' }[s] }}>
                    {counts[s]}
                  </strong>{' '}
                  {s === 'stop' ? 'stop' : s === 'caution' ? 'caut.' : counts[s] === 1 ? 'note' : 'notes'}
                </span>
              ))}
            </div>
            <Bar part={1} colour={counts.stop ? 'var(--stop)' : counts.caution ? 'var(--caution)' : solution.answers.inputW > 0 && !about ? 'var(--margin)' : 'var(--track)'} />
          </>
        )}
      </Cell>
    </div>
  )
})
