import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Light, LightNode, Variant } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { show, text } from '../units/quantity'
import type { Moment } from '../solved/trace'
import { nodeName } from '../document/names'
import { nodesOf, type Stage } from '../document/tree'

interface Rung {
  name: string
  top: number
  bottom: number
}

interface Way {
  name: string
  /** Where it begins; empty: in a body. */
  pointer: string
  temperatures: { name: string; c: number; below: string }[]
}

/** The hottest way from where heat arises to the air: from a junction, from the back of a strip, else from a body. */
function wayOf(variant: Variant, at: string, moment: Moment): Way | undefined {
  const body = (id: string | undefined) => {
    const c = moment.figure(id ?? '', 'bodyC')
    const name = variant.bodies.find((b) => b.id === id)?.name ?? 'body'
    return c === undefined ? [] : [{ name, c, below: `${name.length > 14 ? 'body' : name} to air` }]
  }
  const step = (c: number | undefined, name: string, below: string) => (c === undefined ? [] : [{ name, c, below }])
  // Board, joint and what spreads the heat apart, where they are told.
  const layers = (node: LightNode, kase: number | undefined) => {
    const under = moment.figure(node.id, 'boardC')
    const seat = moment.figure(node.id, 'seatC')
    if (kase === undefined || under === undefined || (kase - under < thinK && seat === undefined)) return step(kase, 'case', 'board and joint')
    return [...(kase - under >= thinK ? step(kase, 'case', 'board') : []), ...step(kase - under >= thinK ? under : kase, 'underside', placed.has(node.id) ? 'joint and pad' : 'joint'), ...spread(node, seat)]
  }
  const spread = (node: LightNode, seat: number | undefined) => (placed.has(node.id) ? step(seat, 'plate', 'plate, to its mean') : step(seat, 'seat', 'spreading in it'))
  const placed = new Set((variant.layouts ?? []).flatMap((l) => (l.spots ?? []).map((s) => s.nodeId)))
  const ways = nodesOf(variant, at).map(({ node, pointer }): Way => {
    const kase = moment.figure(node.id, 'caseC')
    const upper = node.array ? [...step(moment.figure(node.id, 'junctionC'), 'junction', 'junction to case'), ...layers(node, kase)] : [...step(kase, 'back', 'adhesive'), ...spread(node, moment.figure(node.id, 'seatC'))]
    return { name: nodeName(node), pointer: node.array ? `${pointer}/array` : `${pointer}/strip`, temperatures: [...upper, ...body(node.bodyId)] }
  })
  const hottest = (list: Way[]) => list.filter((w) => w.temperatures.length > 0).sort((a, b) => b.temperatures[0]!.c - a.temperatures[0]!.c)[0]
  return hottest(ways.filter((w) => w.temperatures.length > 1)) ?? hottest(ways) ?? hottest(variant.bodies.map((b) => ({ name: b.name, pointer: '', temperatures: body(b.id) })))
}

/** The thermal ladder: rungs from junction to air, each as tall as its kelvins. */
export function Ladder({ light, variant, at, moment, onGo, onPane }: { light: Light; variant: Variant; at: string; moment: Moment; onGo: (stage: Stage, pointer?: string) => void; onPane: (pane: string) => void }) {
  const { settings } = useSettings()
  const air = light.conditions.ambientC
  const way = wayOf(variant, at, moment)
  if (!way) return <p>Nothing with a known heat path yet: mount what gets warm on a body and give that body its K/W.</p>
  const { name, temperatures } = way
  const all = [...temperatures.map((t) => t.c), air]
  const top = all[0]!
  const rungs: Rung[] = temperatures.map((t, i) => ({ name: t.below, top: t.c, bottom: all[i + 1]! }))
  const height = 214
  const span = Math.max(top - Math.min(...all), 1)
  const y = (t: number) => 14 + ((top - t) / span) * (height - 34)
  const degrees = (t: number) => text(show(t, 'temperature', settings))
  const shades = ['var(--heat)', 'var(--heat)', 'var(--heat-flow)', 'var(--heat-flow)', 'var(--heat-soft)']
  // Names keep a line's distance even where a rung is thin.
  const lines = rungs.reduce<number[]>((above, r) => [...above, Math.max((y(r.top) + y(r.bottom)) / 2 + 4, (above.at(-1) ?? -15) + 15)], [])
  const tallest = rungs.reduce((a, b) => (b.top - b.bottom > a.top - a.bottom ? b : a))
  return (
    <>
    <svg width="250" height={height} viewBox={`0 0 250 ${height}`} role="img" aria-label={`${name}: ${temperatures.map((t) => `${t.name} ${degrees(t.c)}`).join(', ')}, air ${degrees(air)}`}>
      {rungs.map((r, i) => {
        const h = Math.max(y(r.bottom) - y(r.top), 1)
        return (
          <g key={r.name}>
            <rect x="62" y={y(r.top)} width="26" height={h} fill={shades[i + shades.length - rungs.length]} />
            <text x="96" y={lines[i]} fontSize="11.5" fill="var(--ink)">
              <tspan className="figure" fill="var(--heat-ink)">{`${(r.top - r.bottom).toFixed(r.top - r.bottom < 9.95 ? 1 : 0)} K `}</tspan>
              {r.name}
            </text>
          </g>
        )
      })}
      {all.map((t, i) => {
        const near = i > 0 && Math.abs(y(t) - y(all[i - 1]!)) < 12
        return near ? null : (
          <text key={i} x="56" y={y(t) + 4} textAnchor="end" fontSize="12.5" className="figure" fill="var(--ink)">
            {degrees(t)}
          </text>
        )
      })}
    </svg>
    {tallest.top - tallest.bottom > worthK && (
      <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }} data-testid="tallest">
        {tallest.name === 'junction to case' && <>Most is lost between junction and case: more emitters at less current each. <Button sx={{ p: 0, minWidth: 0 }} onClick={() => onGo('emitters', `${way.pointer}/parallel`)}>Emitters</Button></>}
        {tallest.name === 'board' && <>Most is lost in star or board: take one with a metal core, or less watts on each; its figure is one emitter’s share. <Button sx={{ p: 0, minWidth: 0 }} onClick={() => onGo('emitters', `${way.pointer}/boardKPerW`)}>Star or board</Button></>}
        {(tallest.name === 'board and joint' || tallest.name.startsWith('joint') || tallest.name === 'adhesive') && <>Most is lost between {tallest.name === 'adhesive' ? 'strip' : 'case'} and body: a thinner or a better layer, or more area. <Button sx={{ p: 0, minWidth: 0 }} onClick={() => onGo('heat', `${way.pointer}/joint`)}>The layer</Button></>}
        {(tallest.name.startsWith('plate') || tallest.name.startsWith('spreading')) && <>Most is lost on the way through what it sits on: spread it over more of that, or take what is thicker or conducts better. <Button sx={{ p: 0, minWidth: 0 }} onClick={() => onPane('plate')}>The plate</Button></>}
        {tallest.name.endsWith('to air') && <>Most is lost between body and air: more surface, fins that stand, moving air. <Button sx={{ p: 0, minWidth: 0 }} onClick={() => onPane('sink')}>Size the sink</Button></>}
      </Box>
    )}
    </>
  )
}

/** A layer below so many kelvins is not drawn by itself. */
const thinK = 0.3

/** A rung below so many kelvins is worth no advice. */
const worthK = 5
