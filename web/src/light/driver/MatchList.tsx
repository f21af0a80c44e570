import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Light } from '../../api/client'
import { set } from '../../document/pointer'
import { facts } from '../../parts/facts'
import { amps, digits } from '../../units/quantity'
import { takePart } from '../PartDialog'
import { partOf, type Placed } from '../tree'

interface Props {
  light: Light
  variant: number
  driver: Placed
  tryOut: (light: Light, label: string) => void
}

const mark = { fits: ['●', 'fits', 'var(--margin-ink)'], nearly: ['◐', 'nearly', 'var(--caution-ink)'], no: ['○', 'no', 'var(--ink-soft)'] } as const

/** Which drivers fit what hangs on this place, which nearly do, and in one line why not. */
export function MatchList({ light, variant, driver, tryOut }: Props) {
  const node = driver.node.id
  const [anyCell, setAnyCell] = useState(false)
  const size = partOf(light, light.variants[variant]?.feeds[driver.feed]?.sources[0]?.pack?.partId)?.part.cell?.size
  const query = { variant, node, anyCell: anyCell && size !== undefined }
  const found = useQuery({ queryKey: ['match', 'drivers', query, light], queryFn: async () => (await answer(api.POST('/api/match/drivers', { params: { query }, body: light }))) ?? [], retry: false, placeholderData: (old) => old })
  if (found.isError) return <Box sx={{ color: 'var(--ink-soft)' }}>{found.error.message}</Box>
  if (!found.data) return <Box sx={{ color: 'var(--ink-soft)' }}>Asking which fit…</Box>
  const count = (fit: string) => found.data.filter((m) => m.fit === fit).length
  return (
    <Box data-testid="matches">
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>{driver.node.name ? `Drivers for the place of ${driver.node.name}` : 'Drivers that fit here'}</Box>
      <Box sx={{ color: 'var(--ink-soft)', fontSize: 13, mb: 0.5 }}>
        {count('fits')} fit, {count('nearly')} nearly, {count('no')} do not: at every source the light must accept, full and drained, cold and warm.
        {size && (
          <Box component="label" sx={{ display: 'block' }}>
            <input type="checkbox" checked={anyCell} onChange={(e) => setAnyCell(e.target.checked)} /> and with any {size} at hand in the pack, whatever its chemistry
          </Box>
        )}
      </Box>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {found.data.map((m) => {
          const [sign, word, tone] = mark[m.fit]
          const inUse = m.local !== undefined && m.local === driver.node.driver?.partId
          return (
            <Box component="li" key={`${m.cabinet ?? ''}/${m.local ?? ''}`} sx={{ display: 'grid', gridTemplateColumns: '58px minmax(0, 1fr) auto', gap: 1, alignItems: 'baseline', borderTop: '1px solid var(--line)', py: 0.4 }}>
              <Box sx={{ color: tone, fontSize: 13, whiteSpace: 'nowrap' }}>
                {sign} {word}
              </Box>
              <Box>
                {m.part.name}
                {inUse && <Box component="span" sx={{ color: 'var(--power-ink)', fontSize: 13 }}> · in use</Box>}
                <Box sx={{ color: m.why ? tone : 'var(--ink-soft)', fontSize: 13 }}>
                  {m.why || <span className="figure">{facts(m.part)}</span>}
                  {m.fit !== 'no' && m.outA != null && <span className="figure"> · {amps(m.outA)}{m.lossW != null && `, ${digits(m.lossW, 2)} W lost`}</span>}
                </Box>
              </Box>
              <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', whiteSpace: 'nowrap' }}>
                {m.cabinet && `${m.stock} ×`}{' '}
                {!inUse && m.fit !== 'no' && (
                  <Button sx={{ minWidth: 0, p: 0 }} aria-label={`Try it: ${m.part.name}`}
                    onClick={() => {
                      const taken = takePart(light, m)
                      tryOut(set(taken.light, `${driver.pointer}/driver`, { ...driver.node.driver, partId: taken.id }), m.part.name)
                    }}>
                    Try it
                  </Button>
                )}
              </Box>
            </Box>
          )
        })}
      </Box>
    </Box>
  )
}
