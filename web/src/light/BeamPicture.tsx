import { useId, useState, type RefObject } from 'react'
import type { Schemas } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { digits, editable, text } from '../units/quantity'
import { useRoom } from '../charts/useRoom'

type Beam = Schemas['Beam']

/** Things people know, m: drawn where they help to see how far the light comes. */
type Thing = { name: string; at: number; draw: (k: number) => React.ReactNode }

const person = (k: number) => <g><circle cx="0" cy={-1.6 * k} r={Math.max(0.14 * k, 0.8)} /><path d={`M0,${-1.45 * k}V${-0.8 * k}M0,${-0.8 * k}L${-0.22 * k},0M0,${-0.8 * k}L${0.22 * k},0M${-0.3 * k},${-1.1 * k}H${0.3 * k}`} strokeWidth={Math.max(0.1 * k, 0.8)} fill="none" /></g>
const tree = (k: number) => <g><path d={`M0,0V${-4 * k}`} strokeWidth={Math.max(0.4 * k, 1)} /><circle cx="0" cy={-7.5 * k} r={4.2 * k} /></g>
const boat = (k: number) => <g><path d={`M${-4 * k},${-1.1 * k}L${-3.2 * k},0H${3 * k}L${4.2 * k},${-1.2 * k}Z`} /><path d={`M${0.3 * k},${-1.1 * k}V${-9.5 * k}L${3.4 * k},${-2 * k}Z`} fillOpacity="0.5" /></g>
const shed = (k: number) => <path d={`M${-2.5 * k},0V${-2.6 * k}L0,${-4.4 * k}L${2.5 * k},${-2.6 * k}V0Z`} />
const hill = (k: number) => <path d={`M${-90 * k},0C${-40 * k},${-4 * k} ${-30 * k},${-30 * k} 0,${-32 * k}C${35 * k},${-30 * k} ${45 * k},${-3 * k} ${95 * k},0Z`} fillOpacity="0.45" />

function thingsFor(farM: number): Thing[] {
  if (farM <= 15) return [{ name: 'a person', at: 0.45 * farM, draw: person }]
  if (farM <= 60) return [{ name: 'a person', at: 0.3 * farM, draw: person }, { name: 'a shed', at: 0.62 * farM, draw: shed }, { name: 'a person', at: 0.9 * farM, draw: person }]
  if (farM <= 220) return [{ name: 'a person', at: 0.2 * farM, draw: person }, { name: 'a tree', at: 0.45 * farM, draw: tree }, { name: 'a boat', at: 0.78 * farM, draw: boat }]
  return [{ name: 'a tree', at: 0.2 * farM, draw: tree }, { name: 'a boat', at: 0.45 * farM, draw: boat }, { name: 'a hill', at: 0.8 * farM, draw: hill }]
}

const roundUp = (m: number) => {
  const e = 10 ** Math.floor(Math.log10(m))
  return ([1, 1.5, 2, 3, 4, 5, 6, 8, 10].find((k) => k * e >= m) ?? 10) * e
}
const left = 34
const under = 64

/** The beam from the side over level ground, to scale in both directions: where what faces the light gets so many lux. */
export function BeamPicture({ beam, beside, pictureRef }: { beam: Beam; /** Another light, outlined over it. */ beside?: Schemas['Comparison']; pictureRef: RefObject<SVGSVGElement | null> }) {
  const { settings } = useSettings()
  const { room, frameRef } = useRoom(240, 860)
  const [zoom, setZoom] = useState(0)
  const clip = useId()
  const full = roundUp(Math.max(beam.distanceM * 1.08, (beside?.distanceM ?? 0) * 1.08, 2))
  const views = [full, ...[100, 30, 10].filter((m) => m < full * 0.6)]
  const far = views[Math.min(zoom, views.length - 1)]!
  const k = (room - left - 10) / far
  // As much sky as the beam and the things on the ground need.
  const top = Math.max(beam.heightM, ...beam.reaches.flatMap((r) => r.rim.filter((p) => p.x > 0 && p.x < far).map((p) => p.z + beam.heightM)), far > 220 ? 34 : far > 60 ? 13 : far > 15 ? 5 : 2.2)
  const ground = Math.min(230, Math.max(70, top * k * 1.25 + 14))
  const high = ground + under
  const x = (m: number) => left + m * k
  const y = (m: number) => ground - m * k
  const length = (m: number) => text(editable(Number(m.toPrecision(3)), 'length', settings))
  // How far each outline comes, the farthest first; one whose words would run into those of the next is drawn without.
  const reached = beam.reaches
    .map((r) => ({ lux: r.lux, m: Math.max(...r.rim.map((p) => p.x)), rim: r.rim }))
    .filter((r) => r.m <= far * 1.02 && r.m >= far * 0.07)
    .map((r) => ({ ...r, up: r.rim.find((p) => p.x === r.m)?.z ?? 0, words: `${r.lux} lx, ${length(Number(r.m.toPrecision(3)))}`, end: Math.min(x(r.m), room - 4) }))
    .reduce<{ lux: number; m: number; up: number; words: string; end: number; start: number; said: boolean }[]>((list, r) => {
      const start = r.end - r.words.length * 7
      return [...list, { ...r, start, said: start > 0 && list.every((other) => !other.said || r.end < other.start - 6) }]
    }, [])
  const ticks = Array.from({ length: 6 }, (_, i) => (far / 5) * i)
  return (
    <div ref={frameRef}>
      <div role="group" aria-label="How far is looked" style={{ display: 'flex', gap: 8, fontSize: 12.5, color: 'var(--ink-soft)' }}>
        {views.map((m, i) => <button key={m} type="button" aria-pressed={i === zoom} onClick={() => setZoom(i)} style={{ font: 'inherit', color: i === zoom ? 'var(--ink)' : 'var(--power-ink)', border: 0, background: 'none', padding: 0, cursor: 'pointer', textDecoration: i === zoom ? 'underline' : 'none' }}>{length(m)}</button>)}
      </div>
      <svg ref={pictureRef} viewBox={`0 0 ${room} ${high}`} width={room} style={{ display: 'block', maxWidth: '100%' }} role="img" aria-label={`The beam from the side: ${digits(beam.peakCd, 3)} candela, 0.25 lux at ${length(beam.distanceM)}`}>
        <defs><clipPath id={clip}><rect x={left - 30} y="0" width={room - left + 30} height={ground} /></clipPath></defs>
        <rect width={room} height={ground} fill="var(--light-dark)" fillOpacity="0.9" />
        <g clipPath={`url(#${clip})`}>
          {beam.reaches.map((r, i) => <path key={r.lux} d={`M${r.rim.map((p) => `${x(p.x).toFixed(1)},${y(beam.heightM + p.z).toFixed(1)}`).join('L')}Z`} style={{ fill: `color-mix(in oklab, var(--light) ${[38, 68, 100][i]}%, var(--light-dark))` }} stroke="var(--light-ink)" strokeWidth="0.8" />)}
          {beside?.reaches.map((r) => {
            const rim = `M${r.rim.map((p) => `${x(p.x).toFixed(1)},${y(beside.heightM + p.z).toFixed(1)}`).join('L')}Z`
            return <g key={r.lux} fill="none"><path d={rim} stroke="var(--light-dark)" strokeWidth="3" /><path d={rim} stroke="white" strokeWidth="1.6" strokeDasharray="6 4" /></g>
          })}
        </g>
        {beside && <text x={room - 6} y="14" textAnchor="end" fontSize="11.5" fill="white">{`dashed: ${beside.with}, 0.25 lx at ${length(beside.distanceM)}`}</text>}
        <g fill="var(--ink-soft)" stroke="var(--ink-soft)" strokeWidth="0.6" style={{ mixBlendMode: 'normal' }}>
          {thingsFor(far).map((t, i) => (
            <g key={i} transform={`translate(${x(t.at)} ${ground})`} fill="var(--paper)" stroke="var(--ink)" strokeOpacity="0.7" fillOpacity="0.85">
              {t.draw(k)}
              <title>{t.name}, {length(t.at)} away</title>
            </g>
          ))}
        </g>
        <rect x="0" y={ground} width={room} height={high - ground} fill="var(--paper)" />
        <line x1="0" x2={room} y1={ground} y2={ground} stroke="var(--ink-soft)" />
        {thingsFor(far).map((t, i) => <text key={i} x={x(t.at)} y={ground + 14} textAnchor="middle" fontSize="11" fill="var(--ink-soft)">{t.name}</text>)}
        <circle cx={x(0)} cy={y(beam.heightM)} r="3.5" fill="var(--light)" stroke="var(--ink)" />
        {/* How far each outline comes, along the middle of the beam. */}
        {reached.map((r) => <g key={r.lux}><line x1={x(r.m)} x2={x(r.m)} y1={y(beam.heightM + r.up)} y2={ground + 22} stroke="var(--light-ink)" strokeDasharray="2 3" />{r.said && <text x={r.end} y={ground + 33} textAnchor="end" fontSize="11.5" className="figure" fill="var(--light-ink)">{r.words}</text>}</g>)}
        {ticks.map((m) => <g key={m}><line x1={x(m)} x2={x(m)} y1={ground} y2={ground + 4} stroke="var(--ink-soft)" /><text x={x(m)} y={high - 6} textAnchor={m === 0 ? 'start' : m === far ? 'end' : 'middle'} fontSize="11" className="figure" fill="var(--ink-soft)">{m === 0 ? '0' : length(m)}</text></g>)}
      </svg>
    </div>
  )
}
