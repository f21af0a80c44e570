import IconButton from '@mui/material/IconButton'
import Pause from '@mui/icons-material/Pause'
import PlayArrow from '@mui/icons-material/PlayArrow'
import { memo, useEffect, useRef, useState, type KeyboardEvent, type PointerEvent, type Ref } from 'react'
import { clock } from '../units/quantity'
import { highest, series, unwarp, warp } from '../solved/trace'
import { useSolution, useSolved } from '../solved/useSolved'
import css from './scrubber.module.css'

interface Props {
  onT: (t: number, done: boolean) => void
  handle: Ref<HTMLDivElement>
}

const marked = new Set(['drop-out', 'half-light', 'tenth-light', 'cut-off', 'trips', 'empty', 'released', 'lock-out', 'restarts', 'cycling', 'overheat', 'faded', 'settled', 'charged', 'over-charge', 'charges-again'])
const shortName: Record<string, string> = { 'drop-out': 'headroom ends', 'half-light': 'half light', 'tenth-light': 'a tenth', 'cut-off': 'cut-off', trips: 'board trips', empty: 'empty', 'lock-out': 'driver stops', restarts: 'driver starts', released: 'pack back', settled: 'settled', cycling: 'cycling', 'cycling-ends': 'stays off', overheat: 'overheats', dark: 'dark', faded: 'faded out', charged: 'charged', 'over-charge': 'board stops the charge', 'charges-again': 'charges again' }
const playSeconds = 12

/** The one clock of the page: from switch-on to empty; everything on the page follows it. */
export const Scrubber = memo(function Scrubber({ onT, handle }: Props) {
  const trace = useSolved((s) => s.trace)
  const t = useSolved((s) => s.t)
  const track = useRef<SVGSVGElement>(null)
  const [playing, setPlaying] = useState(false)
  const end = trace?.endS ?? 0
  const latest = useRef({ t, onT })
  useEffect(() => {
    latest.current = { t, onT }
  })
  useEffect(() => {
    if (!playing || end <= 0) return
    let frame = 0
    let x = warp(latest.current.t, end)
    if (x >= 0.999) x = 0
    let last = performance.now()
    const step = (now: number) => {
      x = Math.min(1, x + (now - last) / 1000 / playSeconds)
      last = now
      latest.current.onT(unwarp(x, end), x >= 1)
      if (x >= 1) setPlaying(false)
      else frame = requestAnimationFrame(step)
    }
    frame = requestAnimationFrame(step)
    return () => cancelAnimationFrame(frame)
  }, [playing, end])

  const at = (e: PointerEvent) => {
    const r = track.current!.getBoundingClientRect()
    return unwarp(Math.min(Math.max((e.clientX - r.left) / r.width, 0), 1), end)
  }
  const onKey = (e: KeyboardEvent) => {
    const step = e.shiftKey ? 0.1 : 0.01
    const x = warp(Math.min(latest.current.t, end), end)
    const go: Record<string, number> = { ArrowRight: x + step, ArrowUp: x + step, ArrowLeft: x - step, ArrowDown: x - step, Home: 0, End: 1, PageUp: x + 0.1, PageDown: x - 0.1 }
    const next = go[e.key]
    if (next !== undefined) {
      e.preventDefault()
      // Keys may come faster than the page is drawn: the next one goes on from here.
      latest.current.t = unwarp(Math.min(Math.max(next, 0), 1), end)
      onT(latest.current.t, true)
    } else if (e.key === ' ') {
      e.preventDefault()
      setPlaying((p) => !p)
    }
  }
  const flux = trace && series(trace, 'total', 'fluxLm')
  const top = highest(flux ?? undefined, 1e-9)
  // Where nothing flows nothing settles either, and a line at no light would say something.
  const still = useSolution((s) => s.answers.inputW <= 0 && s.answers.fluxLm == null) === true && (trace?.events ?? []).every((e) => !marked.has(e.kind) || e.kind === 'settled')
  const line = trace && flux && top > 1e-9 ? trace.t.map((s, i) => `${(warp(s, end) * 1000).toFixed(1)},${(22 - (16 * flux[i]!) / top).toFixed(1)}`).join(' ') : ''
  const x = end > 0 ? warp(Math.min(t, end), end) : 0
  // Names of events that would collide are left to the tooltip of their mark.
  const events = (trace?.events ?? []).filter((e) => marked.has(e.kind))
  const named: typeof events = []
  for (const e of [...events].reverse()) if (named.every((n) => Math.abs(warp(n.t, end) - warp(e.t, end)) > 0.11)) named.push(e)
  const last = events.at(-1)
  return (
    <div className={css.clock}>
      <IconButton size="small" aria-label={playing ? 'Pause' : 'Play'} disabled={end <= 0} onClick={() => setPlaying((p) => !p)}>
        {playing ? <Pause fontSize="small" /> : <PlayArrow fontSize="small" />}
      </IconButton>
      <div className={`figure ${css.now}`} data-testid="clock">
        {still ? '—' : clock(t)}
      </div>
      <div
        ref={handle}
        role="slider"
        tabIndex={0}
        aria-label="Time since switch-on"
        aria-valuemin={0}
        aria-valuemax={Math.round(end)}
        aria-valuenow={Math.round(t)}
        aria-valuetext={`${clock(t)} after switch-on, of ${clock(end)}`}
        onKeyDown={onKey}
        onPointerDown={(e) => {
          if (end <= 0) return
          e.currentTarget.setPointerCapture(e.pointerId)
          setPlaying(false)
          onT(at(e), false)
        }}
        onPointerMove={(e) => e.buttons === 1 && end > 0 && onT(at(e), false)}
        onPointerUp={(e) => end > 0 && onT(at(e), true)}
        className={css.track}
      >
        <svg ref={track} width="100%" height="28" viewBox="0 0 1000 28" preserveAspectRatio="none" aria-hidden style={{ display: 'block' }}>
          <line x1="0" x2="1000" y1="24" y2="24" stroke="var(--line)" vectorEffect="non-scaling-stroke" strokeWidth="2" />
          <polyline points={line} fill="none" stroke="var(--light)" strokeWidth="2" vectorEffect="non-scaling-stroke" />
          {events.map((e, i) => (
            <line key={i} x1={warp(e.t, end) * 1000} x2={warp(e.t, end) * 1000} y1="18" y2="28" stroke="var(--ink-soft)" vectorEffect="non-scaling-stroke" strokeWidth="1.5">
              <title>{`${clock(e.t)}: ${e.text}`}</title>
            </line>
          ))}
          {end > 1800 && <line x1="333.3" x2="333.3" y1="20" y2="28" stroke="var(--line)" vectorEffect="non-scaling-stroke" strokeWidth="2" />}
        </svg>
        <div aria-hidden className={css.grip} style={{ left: `calc(${(x * 100).toFixed(2)}% - 7px)` }} />
        <div aria-hidden className={css.hand} style={{ left: `${(x * 100).toFixed(2)}%` }} />
        {named.filter((e) => e !== last).map((e, i) => (
          <div key={i} aria-hidden className={css.event} style={{ left: `${warp(e.t, end) * 100}%` }}>
            {shortName[e.kind]} {clock(e.t)}
          </div>
        ))}
        {end > 1800 && named.every((e) => Math.abs(warp(e.t, end) - 1 / 3) > 0.1) && (
          <div aria-hidden className={css.event} style={{ left: '33.3%' }}>
            30 min
          </div>
        )}
      </div>
      <div className={`figure ${css.end}`}>
        {still ? 'nothing flows' : end > 0 ? `${clock(end)} ${shortName[trace!.endsBy] ?? ''}` : '—'}
      </div>
    </div>
  )
})
