import type { Light, Variant } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { show, text } from '../units/quantity'
import type { Moment } from '../solved/trace'
import { nodesOf } from '../document/tree'

interface Rung {
  name: string
  top: number
  bottom: number
}

/** The thermal ladder: rungs from junction to air, each as tall as its kelvins. */
export function Ladder({ light, variant, at, moment }: { light: Light; variant: Variant; at: string; moment: Moment }) {
  const { settings } = useSettings()
  const air = light.conditions.ambientC
  const arrays = nodesOf(variant, at).filter((p) => p.node.array)
  const hottest = arrays
    .map((p) => ({ p, c: moment.figure(p.node.id, 'junctionC') }))
    .filter((x) => x.c !== undefined)
    .sort((a, b) => b.c! - a.c!)[0]
  if (!hottest) return <p>No emitter with a known heat path yet: mount it on a body and give that body its K/W.</p>
  const { p, c } = hottest
  const kase = moment.figure(p.node.id, 'caseC')!
  const bodyName = variant.bodies.find((b) => b.id === p.node.bodyId)?.name ?? 'body'
  const body = moment.figure(p.node.bodyId ?? '', 'bodyC')!
  const rungs: Rung[] = [
    { name: 'junction to case', top: c!, bottom: kase },
    { name: 'board and joint', top: kase, bottom: body },
    { name: `${bodyName.length > 17 ? 'body' : bodyName} to air`, top: body, bottom: air },
  ]
  const height = 214
  const low = Math.min(air, body, kase)
  const span = Math.max(c! - low, 1)
  const y = (t: number) => 14 + ((c! - t) / span) * (height - 34)
  const degrees = (t: number) => text(show(t, 'temperature', settings))
  const shades = ['var(--heat)', 'var(--heat-flow)', 'var(--heat-soft)']
  // Names keep a line's distance even where a rung is thin.
  let free = 0
  return (
    <svg width="250" height={height} viewBox={`0 0 250 ${height}`} role="img" aria-label={`Junction ${degrees(c!)}, case ${degrees(kase)}, ${bodyName} ${degrees(body)}, air ${degrees(air)}`}>
      {rungs.map((r, i) => {
        const h = Math.max(y(r.bottom) - y(r.top), 1)
        const at = Math.max(y(r.top) + h / 2 + 4, free)
        free = at + 15
        return (
          <g key={r.name}>
            <rect x="62" y={y(r.top)} width="26" height={h} fill={shades[i]} />
            <text x="96" y={at} fontSize="11.5" fill="var(--ink)">
              <tspan className="figure" fill="var(--heat-ink)">{`${(r.top - r.bottom).toFixed(r.top - r.bottom < 9.95 ? 1 : 0)} K `}</tspan>
              {r.name}
            </text>
          </g>
        )
      })}
      {[c!, kase, body, air].map((t, i, all) => {
        const near = i > 0 && Math.abs(y(t) - y(all[i - 1]!)) < 12
        return near ? null : (
          <text key={i} x="56" y={y(t) + 4} textAnchor="end" fontSize="12.5" className="figure" fill="var(--ink)">
            {degrees(t)}
          </text>
        )
      })}
    </svg>
  )
}
