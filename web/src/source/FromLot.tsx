import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { answer, api, type Light, type Schemas } from '../api/client'
import { freshId } from '../document/names'
import { set } from '../document/pointer'
import type { Change } from '../document/store'
import { digits } from '../units/quantity'
import type { PackPlace } from './groups'

/** Groups the cells of a lot for this pack, and takes their own figures into it. */
export function FromLot({ light, pack, change }: { light: Light; pack: PackPlace; change: Change }) {
  const [chosen, setChosen] = useState('')
  const [weakest, setWeakest] = useState(false)
  const lots = useQuery({ queryKey: ['lots', false], queryFn: () => answer(api.GET('/api/lots')) })
  const lot = lots.data?.find((l) => l.id === chosen && !l.unreadable)
  const query = { series: pack.pack.series, parallel: pack.pack.parallel, grade: 'B' as const, weakest }
  const found = useQuery({ queryKey: ['grouped', lot?.id, lot?.revision, query], queryFn: ({ signal }) => answer(api.POST('/api/lots/group', { signal, params: { query }, body: lot!.lot })), enabled: lot !== undefined, retry: false })
  const take = (g: Schemas['LotPack']) => {
    const id = freshId('cells', light.parts.map((p) => p.id))
    const name = `Cells of ${lot!.lot.name}`
    change((l) => set(set(set(l, '/parts', [...l.parts, { id, name: name.slice(0, 120), basis: 'measured', cell: g.part }]), `${pack.pointer}/partId`, id), `${pack.pointer}/groups`, g.groups), `Grouped from ${lot!.lot.name}`)
  }
  return (
    <Box sx={{ fontSize: 13, borderTop: '1px solid var(--line)', pt: 0.75 }}>
      <Box component="label">Group cells of a lot:{' '}
        <select aria-label="Lot of cells" value={chosen} onChange={(e) => setChosen(e.target.value)} style={{ font: 'inherit', maxWidth: '100%' }}>
          <option value="">{lots.data?.length === 0 ? 'no lot is kept yet' : 'choose a lot…'}</option>
          {lots.data?.filter((l) => !l.unreadable).map((l) => <option key={l.id} value={l.id}>{l.lot.name}</option>)}
        </select>
      </Box>
      {lots.data?.length === 0 && <> <Link to="/cabinet/lots" style={{ color: 'var(--power-ink)' }}>Lots lie in the cabinet.</Link></>}
      {lot && <Box component="label" sx={{ ml: 2 }}><input type="checkbox" checked={weakest} onChange={(e) => setWeakest(e.target.checked)} /> the weakest that will do</Box>}
      {found.isError && <Alert severity="warning" sx={{ mt: 0.5 }}>{found.error.message}</Alert>}
      {found.data && lot && (
        <Box sx={{ mt: 0.5 }}>
          The weakest group holds <span className="figure">{digits(found.data.grouped.weakestAh, 4)} Ah</span>, the strongest <span className="figure">{digits(found.data.grouped.spreadAh * 1000, 3)} mAh</span> more; {found.data.grouped.proven ? 'no grouping of these cells has a stronger one' : `at most ${digits(found.data.grouped.gapShare * 100, 2)} % better is possible`}.{' '}
          <Button sx={{ p: 0, minWidth: 0, verticalAlign: 'baseline' }} onClick={() => take(found.data)}>Take them into the pack</Button>
        </Box>
      )}
      {pack.pack.groups && <Button sx={{ p: 0, minWidth: 0, mt: 0.5, display: 'block' }} onClick={() => change((l) => set(l, `${pack.pointer}/groups`, undefined), 'All cells as their part')}>Take all cells as their part again</Button>}
    </Box>
  )
}
