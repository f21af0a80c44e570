import Box from '@mui/material/Box'
import type { Schemas } from '../api/client'
import { digits } from '../units/quantity'

const height = 320
const rowPx = 17
const tone: Record<string, string> = { cell: 'var(--power)', board: 'var(--stop)', charger: 'var(--margin-ink)', alarm: 'var(--caution-ink)' }

/** All voltages of a cell at which something happens, on one line, and where it stands now. */
export function VoltageLine({ levels, lowV, highV, nowV }: { levels: Schemas['PackLevel'][]; lowV: number; highV: number; nowV: number | undefined }) {
  const pad = 0.08 * Math.max(highV - lowV, 0.2)
  const top = highV + pad
  const span = highV - lowV + 2 * pad
  const y = (v: number) => ((top - v) / span) * height
  // Words are pushed apart where levels lie close; a line leads from each to its level.
  const placed = levels.reduce<(Schemas['PackLevel'] & { at: number })[]>((all, l) => [...all, { ...l, at: Math.max(y(l.cellV) - rowPx / 2, (all.at(-1)?.at ?? -rowPx) + rowPx) }], [])
  const over = Math.max(0, (placed.at(-1)?.at ?? 0) + rowPx - height)
  return (
    <Box role="img" aria-label={`Voltages of a cell: ${levels.map((l) => `${l.name} ${digits(l.cellV, 3)} V`).join(', ')}`}>
      <Box component="h3" sx={{ fontSize: 13, m: 0, mb: 0.5 }}>Each cell, volts</Box>
      <Box component="svg" viewBox={`0 0 260 ${height + over}`} sx={{ width: '100%', maxWidth: 260, display: 'block' }}>
        <line x1={20} x2={20} y1={0} y2={height} stroke="var(--line)" strokeWidth={6} />
        {placed.map((l) => (
          <g key={`${l.name} ${l.cellV}`}>
            <line x1={12} x2={28} y1={y(l.cellV)} y2={y(l.cellV)} stroke={tone[l.kind]} strokeWidth={2} />
            <path d={`M28 ${y(l.cellV)} L44 ${l.at + rowPx / 2}`} stroke={tone[l.kind]} fill="none" strokeWidth={1} />
            <text x={48} y={l.at + rowPx / 2 + 4} fontSize={12} fill="var(--ink)"><tspan className="figure">{digits(l.cellV, 3)}</tspan><tspan dx={6} fill="var(--ink-soft)">{l.name}</tspan></text>
          </g>
        ))}
        {nowV !== undefined && nowV <= top && nowV >= top - span && (
          <path d={`M0 ${y(nowV) - 6} L12 ${y(nowV)} L0 ${y(nowV) + 6} Z`} fill="var(--ink)"><title>now {digits(nowV, 3)} V</title></path>
        )}
      </Box>
      {nowV !== undefined && <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>▸ now <span className="figure">{digits(nowV, 3)} V</span>, under its load</Box>}
    </Box>
  )
}
