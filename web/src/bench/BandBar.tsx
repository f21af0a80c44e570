import Box from '@mui/material/Box'

interface Props {
  expected: number
  within: number
  actual: number | undefined
  wanted: number | undefined
  tone: string
  label: string
}

/** What is expected with its band, and what was read, as marks on one short scale: three bands to each side. */
export function BandBar({ expected, within, actual, wanted, tone, label }: Props) {
  const at = (x: number) => `${Math.min(100, Math.max(0, 50 + ((x - expected) / (3 * within)) * 50))}%`
  const off = actual !== undefined && Math.abs(actual - expected) > 3 * within
  return (
    <Box role="img" aria-label={label} sx={{ position: 'relative', height: 16, minWidth: 90 }}>
      <Box sx={{ position: 'absolute', inset: '7px 0', background: 'var(--track)' }} />
      <Box sx={{ position: 'absolute', top: 4, height: 8, left: `${50 - 100 / 6}%`, width: `${200 / 6}%`, background: 'var(--margin-flow, var(--margin))', opacity: 0.45 }} />
      <Box sx={{ position: 'absolute', top: 1, height: 14, left: 'calc(50% - 1px)', width: 2, background: 'var(--ink)' }} />
      {wanted !== undefined && Math.abs(wanted - expected) > 0.05 * within && <Box sx={{ position: 'absolute', top: 11, left: `calc(${at(wanted)} - 3px)`, borderLeft: '3px solid transparent', borderRight: '3px solid transparent', borderBottom: '5px solid var(--ink-soft)' }} />}
      {actual !== undefined && <Box sx={{ position: 'absolute', top: 3, left: `calc(${at(actual)} - 5px)`, width: 10, height: 10, background: off ? 'none' : tone, border: `2px solid ${tone}`, transform: 'rotate(45deg)' }} />}
    </Box>
  )
}
