import Box from '@mui/material/Box'
import { useLayoutEffect, useMemo, useRef, useState } from 'react'
import type { Variant } from '../api/client'
import { flowsOf, labelsOf, type Flows } from './flows'
import type { Moment } from '../solved/trace'
import { nodeName } from '../document/names'
import { FoldButton } from './FoldButton'
import type { StageText } from './stageTexts'
import { chosenOf, timesOf, type Placed, type Stage } from '../document/tree'

interface Props {
  variant: Variant
  at: string
  moment: Moment
  /** Power that fills the ribbon's full thickness, so that it thins as the light does. */
  fullW: number
  texts: StageText[]
  open: Stage
  ambient: string
  body: string
  /** The node that the open workbench is about, where there are several. */
  chosen: string | undefined
  onStage: (stage: Stage, node?: string) => void
  onSwitch: (p: Placed) => void
  onFold: () => void
  /** Said across the ribbon when there is nothing to draw. */
  state?: string
}

const hairline = 1.5
const thickness = 78
/** As thick as a charger's stream is drawn: not to scale, as it is of another stream. */
const chargerThick = 16

/** The chain as a flow of watts: power along it, heat falling out of every stage, light leaving at its end. */
export function Ribbon(props: Props) {
  const box = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(1200)
  useLayoutEffect(() => {
    const observer = new ResizeObserver((entries) => setWidth(entries[0]!.contentRect.width))
    observer.observe(box.current!)
    return () => observer.disconnect()
  }, [])
  const flows = useMemo(() => flowsOf(props.variant, props.at, props.moment), [props.variant, props.at, props.moment])
  return (
    <Box ref={box} sx={{ position: 'relative', pb: width < 620 ? 8 : 0 }} data-testid="ribbon">
      <Drawing {...props} flows={flows} width={width} upright={width < 620} />
      <Box sx={{ position: 'absolute', right: 0, top: 0 }}>
        <FoldButton folded={false} onFold={props.onFold} />
      </Box>
    </Box>
  )
}

/** Along the chain is u, across it v: drawn left to right, or downwards on a narrow screen. */
function Drawing({ flows, width, upright, texts, open, moment, fullW, ambient, body, chosen, onStage, onSwitch, state }: Props & { flows: Flows; width: number; upright: boolean }) {
  const labels = labelsOf(flows)
  const length = upright ? 400 : width
  const u = (fraction: number) => fraction * length
  const v0 = upright ? 10 : 44
  const heatV = upright ? width - 74 : 164
  const scale = thickness / Math.max(fullW, flows.sourceW, flows.chargerW, 1e-9)
  const px = (w: number) => (w > 0 ? Math.max(w * scale, hairline) : 0)
  const pt = (a: number, b: number) => (upright ? `${b.toFixed(1)},${a.toFixed(1)}` : `${a.toFixed(1)},${b.toFixed(1)}`)
  const starts = upright ? [0.02, 0.27, 0.52, 0.77] : [0, 0.25, 0.5, 0.75]
  const blockLength = upright ? 0.12 : 0.115
  const band = (a: number, va: number, b: number, vb: number, ha: number, hb = ha) => {
    const m = (a + b) / 2
    return `M${pt(a, va)} C${pt(m, va)} ${pt(m, vb)} ${pt(b, vb)} L${pt(b, vb + hb)} C${pt(m, vb + hb)} ${pt(m, va + ha)} ${pt(a, va + ha)} Z`
  }
  const drop = (a: number, v: number, h: number, land: number) =>
    `M${pt(a, v)} C${pt(land + h, v)} ${pt(land + h, v)} ${pt(land + h, heatV)} L${pt(land, heatV)} C${pt(land, v + h)} ${pt(land, v + h)} ${pt(a, v + h)} Z`

  const many = flows.lanes.length > 1
  const drawn: React.ReactNode[] = []
  const behind: React.ReactNode[] = []
  const words: React.ReactNode[] = []
  const drops: { u: number; w: number; label: string }[] = []
  const put = (d: string, fill: string, key: string, opacity = 1) => drawn.push(<path key={key} d={d} fill={fill} opacity={opacity} />)
  const say = (a: number, v: number, text: string, colour: string, key: string, anchor: 'start' | 'middle' | 'end' = 'start', size = 14, weight = 600) =>
    words.push(
      <text key={key} x={upright ? v : a} y={upright ? a : v} fill={colour} fontSize={size} fontWeight={weight} textAnchor={anchor} className="figure">
        {text}
      </text>,
    )
  const name = (a: number, v: number, text: string, colour: string, key: string) =>
    words.push(
      <text key={key} x={a} y={v} fill={colour} fontSize={12} style={{ pointerEvents: 'none' }}>
        {text.length > 20 ? `${text.slice(0, 19)}…` : text}
      </text>,
    )
  const peers = (stage: Stage) => (stage === 'driver' ? [...flows.trunks.map((t) => t.driver), ...flows.lanes.flatMap((l) => l.driver ?? [])] : flows.lanes.flatMap((l) => l.arrays))
  const block = (stage: Stage, i: number, v: number, h: number, fill: string, key: string, dashed: boolean, nodes: Placed[] = [], place?: { a: number; b: number }) => {
    // Of several branches the one that the workbench is about is outlined.
    const outlined = open === stage && (flows.lanes.length + flows.trunks.length < 2 || nodes.length === 0 || nodes.some((p) => p === chosenOf(peers(stage), chosen)))
    const { a, b } = place ?? { a: u(starts[i]!), b: u(starts[i]!) + u(blockLength) }
    const rect = upright ? { x: v, y: a, width: Math.max(h, hairline), height: b - a } : { x: a, y: v, width: b - a, height: Math.max(h, hairline) }
    drawn.push(
      <rect key={key} {...rect} rx={2} fill={dashed ? 'none' : fill} stroke={outlined ? 'var(--power)' : dashed ? 'var(--note)' : 'none'} strokeWidth={outlined ? 2 : 1}
        strokeDasharray={dashed ? '4 4' : undefined} style={{ cursor: 'pointer' }} onClick={() => onStage(stage, nodes[0]?.node.id)} />,
    )
    return { a, b }
  }
  // A block's figure stands in it if it fits, else beside it.
  const inside = (a: number, v: number, h: number, text: string, colour: string, key: string) => {
    if (upright && many && key !== 'source-w') return
    if (upright) say(h > 62 ? a + 28 : a + 46, h > 62 ? v + 6 : v + h + 6, text, colour, key, 'start', 13) // beside a thin block, below its label
    else if (h > 22) say(a + 10, v + Math.min(h / 2, 40) + 5, text, colour, key)
    else if (!many) say(a + 10, v + h + 17, text, colour, key)
    else if (h > 11) say(a + 10, v + h / 2 + 4, text, colour, key, 'start', 12)
  }
  const fall = (a: number, v: number, w: number, label: string, key: string, nudge = 0) => {
    const h = px(w)
    if (h <= 0) return
    const land = a + (upright ? 6 : 14) + nudge
    if (w * scale < hairline) {
      // Too little to be drawn to scale: a dashed hairline says so.
      behind.push(
        <path key={key} d={`M${pt(a, v)} C${pt(land, v)} ${pt(land, v)} ${pt(land, heatV)}`} fill="none" stroke="var(--heat-flow)" strokeWidth={hairline} strokeDasharray="4 3">
          <title>{`${w.toPrecision(2)} W, too little to draw to scale`}</title>
        </path>,
      )
    } else behind.push(<path key={key} d={drop(a, v, h, land)} fill="var(--heat-flow)" opacity={0.9} />)
    drops.push({ u: land, w, label })
  }

  // Source and the wire to the drivers.
  const sourceMissing = flows.sourceW <= 0
  const sh = sourceMissing ? thickness * 0.6 : px(flows.sourceW)
  const s = block('source', 0, v0, sh, 'var(--power-soft)', 'source', sourceMissing)
  inside(s.a, v0, sh, state && sourceMissing ? '' : `${labels.source} W`, 'var(--ink)', 'source-w')
  // A charger's watts come in against the stream; on a narrow screen the words beside the source tell them.
  if (flows.chargerW > 0 && !upright) {
    const h = chargerThick
    const v = v0 + sh + (sh > 22 ? 12 : 26) // below the figure of a thin block
    put(`M${pt(s.b, v)} L${pt(s.a + h, v)} L${pt(s.a + h, v - 4)} L${pt(s.a, v + h / 2)} L${pt(s.a + h, v + h + 4)} L${pt(s.a + h, v + h)} L${pt(s.b, v + h)} Z`, 'var(--margin)', 'charger')
    words.push(<text key="charger-w" x={s.a + h + 6} y={v + h / 2 + 4} fill="var(--paper)" fontSize={12} fontWeight={600} data-testid="charger">{`charger ${flows.chargerW.toFixed(Math.min(labels.decimals, 1))} W`}<title>Not to scale</title></text>)
  }
  const laneGap = flows.lanes.length > 1 ? 8 : 0
  const outW = flows.lanes.reduce((sum, l) => sum + l.driverInW, 0) + flows.trunks.reduce((sum, t) => sum + t.lossW, 0)
  fall(s.b, v0 + px(outW + flows.wireLossW), flows.sourceLossW, labels.sourceLoss, 'source-loss')
  const wireAt = s.b + (u(starts[1]!) - s.b) * 0.45
  if (flows.wireLossW > 0) fall(wireAt, v0 + px(outW), flows.wireLossW, labels.wireLoss, 'wire-loss')

  let fromV = v0
  let branchV = v0
  let laneV = v0
  const trunkAt = { a: s.b + (u(starts[1]!) - s.b) * 0.32, b: s.b + (u(starts[1]!) - s.b) * 0.78 }
  flows.lanes.forEach((lane, i) => {
    const text = labels.lanes[i]!
    const missing = lane.driverInW <= 0
    const h = px(lane.driverInW)
    if (lane.trunk && lane.trunk !== flows.lanes[i - 1]?.trunk) {
      // A trunk stands before the first of its lanes; they branch off it as others do off the source.
      const k = flows.trunks.indexOf(lane.trunk)
      const th = px(lane.trunk.inW)
      put(band(s.b, fromV, trunkAt.a, laneV, th), 'var(--power-flow)', `trunk-wire${k}`)
      block('driver', 1, laneV, th, 'var(--power-soft)', `trunk${k}`, th <= 0, [lane.trunk.driver], trunkAt)
      if (th > 14 && !upright) say(trunkAt.a + 6, laneV + Math.min(th / 2, 40) + 4, `${labels.trunks[k]!.in} W`, 'var(--ink)', `trunk-w${k}`, 'start', 12)
      fall(upright ? trunkAt.a : trunkAt.b, laneV + px(lane.trunk.inW - lane.trunk.lossW), lane.trunk.lossW, labels.trunks[k]!.loss, `trunk-loss${k}`)
      fromV += th
      branchV = laneV
    }
    const d = { a: u(starts[1]!), b: u(starts[1]!) + u(blockLength) }
    if (lane.trunk) {
      if (!missing) put(band(trunkAt.b, branchV, d.a, laneV, h), 'var(--power-flow)', `wire${i}`)
      branchV += h
    } else {
      if (!missing) put(band(s.b, fromV, d.a, laneV, h), 'var(--power-flow)', `wire${i}`)
      fromV += h
    }
    if (lane.driver) {
      block('driver', 1, laneV, missing ? 30 : h, 'var(--power-soft)', `driver${i}`, missing, [lane.driver])
      if (!missing) inside(d.a, laneV, h, `${text.driverIn} W`, 'var(--ink)', `driver-w${i}`)
    } else if (!missing) put(band(d.a, laneV, d.b, laneV, h), 'var(--power-flow)', `through${i}`)
    const nudge = i * 10
    fall(d.b, laneV + px(lane.arrayInW), lane.driverLossW, text.driverLoss, `driver-loss${i}`, nudge)
    const e = { a: u(starts[2]!), b: u(starts[2]!) + u(blockLength) }
    const eh = px(lane.arrayInW)
    if (lane.arrayInW > 0) put(band(d.b, laneV, e.a, laneV, eh), 'var(--power-flow)', `bus${i}`)
    const branch = lane.driver ?? lane.arrays[0]
    if ((many || (branch && timesOf(branch) > 1)) && !upright && branch) {
      const room = missing ? 30 : eh
      if (room > 11) name(d.b + 34, laneV + room / 2 + 4, timesOf(branch) > 1 ? `${timesOf(branch)} × ${nodeName(branch.node)}` : nodeName(branch.node), missing ? 'var(--ink-soft)' : 'var(--ink)', `name${i}`)
    }
    if (lane.arrays.length > 0) {
      block('emitters', 2, laneV, lane.arrayInW > 0 ? eh : 30, 'var(--power-soft)', `emitters${i}`, lane.arrayInW <= 0, lane.arrays)
      if (lane.arrayInW > 0) inside(e.a, laneV, eh, `${text.arrayIn} W`, 'var(--ink)', `emitters-w${i}`)
    }
    const emitted = lane.lightW + lane.opticW
    fall(e.b, laneV + px(emitted), lane.arrayLossW, text.arrayLoss, `emitter-loss${i}`, nudge)
    if (emitted > 0) {
      const l = { a: u(starts[3]!), b: u(starts[3]!) + u(blockLength) }
      const lh = px(emitted)
      put(band(e.b, laneV, l.a, laneV, lh), 'var(--light-flow)', `out${i}`)
      block('light', 3, laneV, lh, 'var(--light-soft)', `light${i}`, false)
      inside(l.a, laneV, lh, `${text.emitted} W`, 'var(--ink)', `light-w${i}`)
      fall(l.b, laneV + px(lane.lightW), lane.opticW, text.optic, `optic-loss${i}`, nudge)
      // The beam opens towards the edge.
      const spread = upright ? 10 : many ? 3 : 26
      const lw = px(lane.lightW)
      const end = upright ? length - 2 : length
      put(`M${pt(l.b, laneV)} L${pt(end, laneV - (upright ? 6 : spread))} L${pt(end, laneV + lw + spread)} L${pt(l.b, laneV + lw)} Z`, 'url(#beam)', `beam${i}`)
      if (!upright && (!many || lw > 9)) say(length - 6, laneV + Math.max(lw / 2 + 5, many ? 10 : 14), `${text.light} W`, 'var(--light-ink)', `beam-w${i}`, 'end', many ? 12 : 14)
    }
    laneV += Math.max(h, missing ? 30 : 0) + laneGap
  })

  // The heat path gathers what falls, and takes it to the air.
  drops.sort((x, y) => x.u - y.u)
  let gathered = 0
  const end = upright ? length - 8 : length
  let path = ''
  for (const d of drops) {
    const before = gathered
    gathered += px(d.w)
    path += before === 0 ? `M${pt(d.u, heatV)} L${pt(d.u, heatV + gathered)}` : ` L${pt(d.u, heatV + before)} L${pt(d.u, heatV + gathered)}`
  }
  if (drops.length > 0) put(`${path} L${pt(end, heatV + gathered)} L${pt(end, heatV)} Z`, 'var(--heat-flow)', 'heat')
  let free = -Infinity
  drops.forEach((d, i) => {
    if (Number(d.label) === 0 || d.u < free || many) return
    if (!upright) say(d.u + px(d.w) + 7, heatV - 12, `${d.label} W`, 'var(--heat-ink)', `drop${i}`, 'start', 13)
    free = d.u + 62
  })
  const storing = flows.heatW - flows.airW - flows.looseW
  const say1 = (w: number) => w.toFixed(labels.decimals)
  const heatWords =
    flows.heatW <= 0
      ? ''
      : Math.abs(storing) < 0.02 * flows.heatW || Number(say1(storing)) === 0
        ? `all of it to ${ambient} air`
        : storing > 0
          ? `${say1(flows.airW + flows.looseW)} W to ${ambient} air, ${say1(storing)} W still warming ${body}`
          : `${say1(flows.airW + flows.looseW)} W to ${ambient} air, ${say1(-storing)} W of it stored before`
  if (flows.heatW > 0 && upright) say(length - 14, heatV + Math.min(gathered, 60) - 4, `${labels.heat} W`, 'var(--ink)', 'heat-w', 'end')
  if (flows.heatW > 0 && !upright) {
    const deep = gathered > 20
    say(length - 8, deep ? heatV + Math.min(gathered / 2, 30) + 5 : heatV + gathered + 15, `${labels.heat} W heat`, deep ? 'var(--ink)' : 'var(--heat-ink)', 'heat-w', 'end')
  }
  const height = upright ? length + 8 : Math.max(heatV + gathered + 10, heatV + 0.76 * thickness)
  const switchAt = flows.switches.map((p) => {
    const above = p.above.filter((a) => a.node.driver)
    const trunk = flows.trunks.find((t) => above.some((a) => a.node.id === t.driver.node.id))
    const after = above.length > 0 && !(trunk && above.length === 1)
    const before = flows.trunks.length > 0 && !trunk ? 0.14 : flows.trunks.length > 0 ? 0.9 : 0.72
    const a = after ? (u(starts[1]! + blockLength) + u(starts[2]!)) / 2 : s.b + (u(starts[1]!) - s.b) * before
    const lane = Math.max(0, flows.lanes.findIndex((l) => l.driver?.above.some((x) => x.node.id === p.node.id) ?? l.arrays.some((x) => x.above.some((y) => y.node.id === p.node.id))))
    const v = v0 + flows.lanes.slice(0, lane).reduce((sum, l) => sum + Math.max(px(l.driverInW), l.driverInW > 0 ? 0 : 30) + laneGap, 0)
    return { p, a, v: v + Math.max(px(flows.lanes[lane]?.driverInW ?? 0), 8) / 2 }
  })
  const textPlace = (i: number) => (upright ? { left: Math.max(thickness, laneV - v0) + v0 + (many ? 14 : 12), top: u(starts[i]!) - 2, maxWidth: width - Math.max(thickness, laneV - v0) - 110 } : { left: u(starts[i]!), top: 0, maxWidth: u(0.235) })
  return (
    <>
      <svg width={width} height={height} role="img" aria-label={`Power flow: ${labels.source} W from the source, ${labels.heat} W becomes heat`} style={{ display: 'block' }}>
        <defs>
          <linearGradient id="beam" x1="0" y1="0" x2={upright ? 0 : 1} y2={upright ? 1 : 0}>
            <stop offset="0" stopColor="var(--light-flow)" />
            <stop offset="1" stopColor="var(--light-flow)" stopOpacity="0.08" />
          </linearGradient>
        </defs>
        {behind}
        {drawn}
        {words}
      </svg>
      {state && (
        <Box sx={{ position: 'absolute', ...(upright ? { left: 16, right: 8, top: length - 54, fontSize: 13 } : { left: u(0.13), right: 8, top: heatV - 50, fontSize: 14 }), lineHeight: 1.25, color: 'var(--ink-soft)', pointerEvents: 'none' }}>
          {state}
        </Box>
      )}
      {texts.map((t) => {
        const i = ['source', 'driver', 'emitters', 'light'].indexOf(t.stage)
        const place = i >= 0 ? textPlace(i) : upright ? { left: 0, top: height - 2, maxWidth: width } : { left: 0, top: heatV - 6, maxWidth: u(0.23) }
        return (
          <Box key={t.stage} component="button" type="button" onClick={() => onStage(t.stage)} aria-pressed={open === t.stage} data-stage={t.stage}
            sx={{ position: 'absolute', ...place, border: 0, background: 'none', p: 0, m: 0, textAlign: 'left', color: 'inherit', font: 'inherit', cursor: 'pointer', lineHeight: 1.25 }}>
            <Box component="span" sx={{ fontWeight: 700, borderBottom: open === t.stage ? '2px solid var(--power)' : '2px solid transparent' }}>
              {t.title}
            </Box>
            <Box component="kbd" sx={{ ml: 1, px: 0.6, fontSize: 11, border: '1px solid var(--line)', borderRadius: 0.5, color: 'var(--ink-soft)', display: upright ? 'none' : 'inline' }}>{t.key}</Box>
            <Box component="span" sx={{ display: 'block', fontSize: 12.5, color: 'var(--ink-soft)' }}>
              {t.line}
            </Box>
            {t.stage === 'heat' && heatWords && (
              <Box component="span" sx={{ display: 'block', fontSize: 12, color: 'var(--heat-ink)' }}>
                {heatWords}
              </Box>
            )}
          </Box>
        )
      })}
      {switchAt.map(({ p, a, v }) => {
        const off = p.node.switch?.open === true
        return (
          <Box key={p.node.id} component="button" type="button" role="switch" aria-checked={!off} aria-label={`${nodeName(p.node)}: ${off ? 'off' : 'on'}`} title={`${nodeName(p.node)}: ${off ? 'off' : 'on'}`}
            onClick={() => onSwitch(p)} data-mode={moment.mode(p.node.id)}
            sx={{ position: 'absolute', left: (upright ? v : a) - (many ? 11 : 14), top: (upright ? a : v) - (many ? 11 : 14), width: many ? 22 : 28, height: many ? 22 : 28, borderRadius: '50%', border: '2px solid var(--power)', background: 'var(--paper)', cursor: 'pointer', p: 0, display: 'grid', placeItems: 'center' }}>
            <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden>
              <circle cx="4" cy="10" r="2" fill="var(--power)" />
              <circle cx="14" cy="10" r="2" fill="var(--power)" />
              <line x1="4" y1="10" x2={off ? 12 : 14} y2={off ? 3 : 10} stroke="var(--power)" strokeWidth="2" />
            </svg>
          </Box>
        )
      })}
    </>
  )
}
