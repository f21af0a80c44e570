import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Light } from '../api/client'
import { set } from '../document/pointer'
import { facts } from '../parts/facts'
import { amps, digits } from '../units/quantity'
import { wiredAs } from '../parts/candidates'
import { takePart } from '../parts/candidates'
import { Tabs } from '../workbench/Tabs'
import { litOf, nodesOf, partOf, type Placed } from '../document/tree'
import { MatchCount, matchKey, MatchRow } from './MatchRow'

interface Props {
  light: Light
  variant: number
  driver: Placed
  tryOut: (light: Light, label: string) => void
}

/** Which drivers fit what hangs on this place, or which emitters fit the driver in it. */
export function MatchList(props: Props) {
  const { light, variant, driver } = props
  const [which, setWhich] = useState('')
  const array = litOf(nodesOf(light.variants[variant]!, `/variants/${variant}`)).find((p) => p.node.array && p.above.some((a) => a.node.id === driver.node.id))
  const reverse = array !== undefined && driver.node.driver?.partId !== undefined
  return (
    <Box data-testid="matches">
      {reverse && <Tabs label="What is sought" value={which} onChange={setWhich} tabs={[['', 'Drivers for these emitters'], ['emitters', 'Emitters for this driver']]} />}
      {reverse && which === 'emitters' ? <EmitterMatches {...props} array={array} /> : <DriverMatches {...props} />}
    </Box>
  )
}

function DriverMatches({ light, variant, driver, tryOut }: Props) {
  const node = driver.node.id
  const [anyCell, setAnyCell] = useState(false)
  const size = partOf(light, light.variants[variant]?.feeds[driver.feed]?.sources[0]?.pack?.partId)?.part.cell?.size
  const query = { variant, node, anyCell: anyCell && size !== undefined }
  const found = useQuery({ queryKey: ['match', 'drivers', query, light], queryFn: async ({ signal }) => (await answer(api.POST('/api/match/drivers', { signal, params: { query }, body: light }))) ?? [], retry: false, placeholderData: (old) => old })
  if (found.isError) return <Box sx={{ color: 'var(--ink-soft)' }}>{found.error.message}</Box>
  if (!found.data) return <Box sx={{ color: 'var(--ink-soft)' }}>Asking which fit…</Box>
  return (
    <>
      <MatchCount list={found.data}>
        at every source the light must accept, full and drained, cold and warm.
        {size && (
          <Box component="label" sx={{ display: 'block' }}>
            <input type="checkbox" checked={anyCell} onChange={(e) => setAnyCell(e.target.checked)} /> and with any {size} at hand in the pack, whatever its chemistry
          </Box>
        )}
      </MatchCount>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {found.data.map((m) => (
          <MatchRow key={matchKey(m)} m={m} inUse={m.local !== undefined && m.local === driver.node.driver?.partId} facts={facts(m.part)}
            gives={m.outA != null && ` · ${amps(m.outA)}${m.lossW != null ? `, ${digits(m.lossW, 2)} W lost` : ''}`}
            onTry={() => {
              const taken = takePart(light, m)
              tryOut(set(taken.light, `${driver.pointer}/driver`, { ...driver.node.driver, partId: taken.id }), m.part.name)
            }} />
        ))}
      </Box>
    </>
  )
}

function EmitterMatches({ light, variant, driver, array, tryOut }: Props & { array: Placed }) {
  const query = { variant, node: driver.node.id, array: array.node.id }
  const found = useQuery({ queryKey: ['match', 'emitters', query, light], queryFn: async ({ signal }) => (await answer(api.POST('/api/match/emitters', { signal, params: { query }, body: light }))) ?? [], retry: false, placeholderData: (old) => old })
  if (found.isError) return <Box sx={{ color: 'var(--ink-soft)' }}>{found.error.message}</Box>
  if (!found.data) return <Box sx={{ color: 'var(--ink-soft)' }}>Asking which fit…</Box>
  const boards = array.node.array?.count ?? 1
  return (
    <>
      <MatchCount list={found.data}>each wired the way that fits and gives the most light, the driver set as it is{boards > 1 ? `, on ${boards} boards` : ''}.</MatchCount>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {found.data.map((m) => (
          <MatchRow key={matchKey(m)} m={m} inUse={m.local !== undefined && m.local === array.node.array?.partId && m.series === array.node.array.series && m.parallel === array.node.array.parallel} facts={facts(m.part)}
            gives={m.series && ` · ${m.series} × ${m.parallel ?? 1}, ${m.needs ?? 0} in all${m.fluxLm != null ? `, ${digits(m.fluxLm, 3)} lm` : ''}`}
            onTry={() => {
              const taken = takePart(light, m)
              const use = `${array.pointer}/array`
              const used = set(taken.light, `${use}/partId`, taken.id)
              tryOut(m.series ? wiredAs(used, use, m) : used, m.series ? `${m.part.name}, ${m.series} × ${m.parallel ?? 1}` : m.part.name)
            }} />
        ))}
      </Box>
    </>
  )
}
