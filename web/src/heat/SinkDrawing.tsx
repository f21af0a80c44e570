import type { Variant } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { show, text } from '../units/quantity'

type Shape = NonNullable<Variant['bodies'][number]['shape']>

interface Piece {
  x: number
  y: number
  w: number
  h: number
  soft?: boolean
}

/** What a shape looks like from where its air passes: its outline in metres, to scale. */
function piecesOf(s: Shape): Piece[] {
  const l = s.lengthM ?? 0.1
  const w = s.widthM ?? 0.1
  const t = Math.max(s.thicknessM ?? 0, 0)
  switch (s.kind) {
    case 'fins': {
      const n = s.fins ?? 0
      const base = Math.max(t, w * 0.02)
      const high = s.finHeightM ?? 0
      const thick = s.finThicknessM ?? 0
      const pitch = n > 1 ? (w - thick) / (n - 1) : 0
      return [{ x: 0, y: high, w, h: base }, ...Array.from({ length: Math.min(n, 80) }, (_, i) => ({ x: i * pitch, y: 0, w: Math.max(thick, w * 0.004), h: high }))]
    }
    case 'box':
      return [{ x: 0, y: 0, w: l, h: s.heightM ?? 0.05 }]
    case 'profile':
      if (s.drawnFins) return drawn(s.drawnFins, w, Math.max(t, w * 0.02))
      return [{ x: 0, y: 0, w, h: s.heightM ?? w * 0.3, soft: true }]
    case 'tube':
      return [{ x: 0, y: 0, w: l, h: s.diameterM ?? 0.03 }]
    case 'disc':
      return [{ x: 0, y: 0, w: s.diameterM ?? 0.03, h: s.diameterM ?? 0.03 }]
    case 'cooler':
      return [{ x: 0, y: 0, w: 0.1, h: 0.08, soft: true }]
    case 'area': {
      const side = Math.sqrt(s.areaM2 ?? 0.01)
      return [{ x: 0, y: 0, w: side, h: side, soft: true }]
    }
    default:
      return [{ x: 0, y: 0, w, h: l }]
  }
}

/** A profile as its fins are drawn, side by side on its base. */
function drawn(fins: NonNullable<Shape['drawnFins']>, w: number, base: number): Piece[] {
  const all = fins.flatMap((f) => Array.from({ length: Math.min(f.count, 80) }, () => f))
  const high = Math.max(...all.map((f) => f.heightM))
  const pitch = all.length > 1 ? (w - all.at(-1)!.thicknessM) / (all.length - 1) : 0
  return [{ x: 0, y: high, w, h: base }, ...all.map((f, i) => ({ x: i * pitch, y: high - f.heightM, w: Math.max(f.thicknessM, w * 0.004), h: f.heightM }))]
}

/** A body drawn to scale, with its outer measures. */
export function SinkDrawing({ body }: { body: Variant['bodies'][number] }) {
  const { settings } = useSettings()
  const s = body.shape!
  const pieces = piecesOf(s)
  const wide = Math.max(...pieces.map((p) => p.x + p.w))
  const high = Math.max(...pieces.map((p) => p.y + p.h))
  const scale = Math.min(190 / wide, 130 / high)
  const length = (m: number | undefined) => (m === undefined ? '?' : text(show(m, 'length', settings)))
  const across = s.kind === 'tube' || s.kind === 'box' ? s.lengthM : s.kind === 'area' ? undefined : s.widthM
  const down = s.kind === 'fins' ? (s.finHeightM ?? 0) + (s.thicknessM ?? 0) : s.kind === 'tube' ? s.diameterM : s.kind === 'plate' ? s.lengthM : s.heightM
  const bottom = 10 + high * scale
  return (
    <svg viewBox={`0 0 220 ${bottom + 44}`} width="220" role="img" aria-label={`${body.name}, drawn to scale`}>
      {pieces.map((p, i) => <rect key={i} x={10 + p.x * scale} y={10 + p.y * scale} width={Math.max(p.w * scale, 0.8)} height={Math.max(p.h * scale, 0.8)} rx={s.kind === 'disc' ? (p.w * scale) / 2 : s.kind === 'tube' ? 3 : 0} fill={p.soft ? 'var(--track)' : 'var(--heat-soft)'} stroke="var(--heat-flow)" strokeWidth="0.8" strokeDasharray={s.kind === 'area' || s.kind === 'cooler' ? '4 3' : undefined} />)}
      <text x="10" y={bottom + 16} fontSize="12" className="figure" fill="var(--ink)">{s.kind === 'area' ? 'a surface of unknown shape' : s.kind === 'cooler' ? 'known by its K/W, not drawn to scale' : s.kind === 'disc' ? `${length(s.diameterM)} across` : `${length(across)} × ${length(down)}`}</text>
      {(s.kind === 'fins' || s.kind === 'profile') && <text x="10" y={bottom + 32} fontSize="12" className="figure" fill="var(--ink-soft)">{`${length(s.lengthM)} long`}</text>}
    </svg>
  )
}
