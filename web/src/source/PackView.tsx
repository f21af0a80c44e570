import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { set } from '../document/pointer'
import type { Change } from '../document/store'
import { useFigures } from '../solved/useSolved'
import { amps, digits } from '../units/quantity'
import { FromLot } from './FromLot'
import { moved, packAt, swapped, type Place } from './groups'
import { VoltageLine } from './VoltageLine'
import { WireRow } from './WireRow'

interface Props {
  light: Light
  variant: number
  at: string
  change: Change
  tryOut: (light: Light, label: string) => void
}

/** A cell is at least so wide, and the biggest so much, px. */
const leastPx = 34
const mostPx = 52

const row = { display: 'flex', gap: 1, borderBottom: '1px solid var(--line)', py: 0.25, fontSize: 13 }

/** The pack as it lies: its groups with their cells, its thresholds, and what the ways to build it cost. */
export function PackView({ light, variant, at, change, tryOut }: Props) {
  const found = useQuery({ queryKey: ['pack', variant, light], queryFn: ({ signal }) => answer(api.POST('/api/pack', { signal, params: { query: { variant } }, body: light })), retry: false, placeholderData: (old) => old })
  const pack = packAt(light.variants[variant]!, at)
  if (found.isError) return <Box role="alert" sx={{ color: 'var(--ink-soft)', mt: 1.5 }}>{found.error.message}</Box>
  if (!found.data || !pack) return <Box sx={{ color: 'var(--ink-soft)', mt: 1.5 }}>Looking at the pack…</Box>
  const p = found.data
  const least = Math.min(...p.groups.map((g) => g.ah))
  const worst = p.uneven.reduce((a, b) => (b.most > a.most ? b : a), p.uneven[0]!)
  return (
    <Box data-testid="pack" sx={{ mt: 1.5 }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}><span className="figure">{digits(p.ah, 3)} Ah</span> · <span className="figure">{digits(p.wh, 3)} Wh</span>{p.kg != null && <> · <span className="figure">{digits(p.kg * 1000, 3)} g</span> of cells</>}{least > p.ah * 1.005 && <Box component="span" sx={{ fontWeight: 400, fontSize: 13, color: 'var(--ink-soft)' }}> — cold as it is, it gives less than the {digits(least, 3)} Ah it holds</Box>}</Box>
      <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>
        Half a minute after switch-on it gives <span className="figure">{amps(p.a)}</span>, {digits(p.perHour, 2)} of its capacity an hour; its terminals fall <span className="figure">{p.sagV < 0.1 ? `${digits(p.sagV * 1000, 2)} mV` : `${digits(p.sagV, 2)} V`}</span>, and <span className="figure">{digits(p.lostW, 2)} W</span> stay in cells and contacts.
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) 260px' }, columnGap: 3, rowGap: 1.5, mt: 1 }}>
        <Box>
          <Groups groups={p.groups} own={pack.pack.groups !== undefined} onSwap={(a, b) => change((l) => set(l, `${pack.pointer}/groups`, swapped(pack.pack, a, b)), 'Cells swapped')} onMove={(a, to) => change((l) => set(l, `${pack.pointer}/groups`, moved(pack.pack, a, to)), 'Cell moved')} />
          {worst && worst.most > 1.1 && <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>At first {worst.label} gives {digits(worst.most, 2)} times its share in group {worst.group}, <span className="figure">{amps(worst.cellA)}</span>: cells share by resistance before they share by capacity.</Box>}
          <FromLot light={light} pack={pack} change={change} />
        </Box>
        <Line look={p} feed={pack.feed} />
      </Box>
      <WireRow light={light} variant={variant} pack={pack} tryOut={tryOut} />
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>Ways to join the cells</Box>
      {p.builds.map((b) => (
        <Box key={b.build} sx={row}>
          <Box sx={{ flex: 1 }}>{b.name}<Box component="span" sx={{ display: 'block', fontSize: 12, color: 'var(--ink-soft)' }}>{b.care}</Box></Box>
          <Box className="figure" sx={{ whiteSpace: 'nowrap' }}>{digits(b.ohm * 1000, 2)} mΩ · {digits(b.lostW, 2)} W</Box>
          <Button sx={{ p: 0, minWidth: 0, alignSelf: 'start' }} onClick={() => tryOut(set(set(light, `${pack.pointer}/build`, b.build), `${pack.pointer}/contactOhm`, Number(b.ohm.toPrecision(3))), b.name)}>Try it</Button>
        </Box>
      ))}
      <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 1 }}>Opening old packs: one wire at a time, each end covered before the next is cut; no rings or watches; a cell that is warm, hisses or smells goes outside. Cells of one lot and one age in a pack; a fuse at its plus before anything else; connect the light’s output before the cells.</Box>
    </Box>
  )
}

function Line({ look, feed }: { look: Schemas['PackLook']; feed: string }) {
  const { cellV } = useFigures(feed, 'cellV')
  return <VoltageLine levels={look.levels} lowV={look.lowV} highV={look.highV} nowV={cellV} />
}

/** The groups as they lie: cells as circles of their true relative size, weak ones filled less. Pressed, then another pressed, two cells change places; or one is put into a group. */
function Groups({ groups, own, onSwap, onMove }: { groups: Schemas['PackGroup'][]; own: boolean; onSwap: (a: Place, b: Place) => void; onMove: (a: Place, to: number) => void }) {
  const [taken, setHeld] = useState<Place & { label: string }>()
  const held = taken && groups[taken.group]?.cells[taken.cell]?.label === taken.label ? taken : undefined // the pack may be another by now
  const most = Math.max(...groups.flatMap((g) => g.cells.map((c) => c.ah)), 1e-9)
  const strongest = Math.max(...groups.map((g) => g.ah))
  const weakest = Math.min(...groups.map((g) => g.ah))
  // The last cell of a group stays: it can only change places.
  const free = groups.some((g) => g.cells.length > 1)
  const loose = held !== undefined && groups[held.group]!.cells.length > 1
  const into = (i: number) => loose && held.group !== i
  const put = (i: number) => {
    if (held && into(i)) onMove(held, i)
    setHeld(undefined)
  }
  const drop = (to: Place) => {
    if (held && (held.group !== to.group || held.cell !== to.cell)) onSwap(held, to)
    setHeld(undefined)
  }
  return (
    <Box role="group" aria-label="Groups of the pack" sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, my: 1 }}>
      {groups.map((g, i) => (
        <Box key={i} data-testid={`group-${i}`} onDragOver={(e) => own && e.preventDefault()} onDrop={() => put(i)}
          sx={{ border: '1px solid', borderColor: groups.length > 1 && g.ah === weakest && weakest < 0.999 * strongest ? 'var(--caution-ink)' : 'var(--line)', p: 0.75, minWidth: 92 }}>
          <Box sx={{ fontSize: 12, color: 'var(--ink-soft)', display: 'flex', justifyContent: 'space-between', gap: 1 }}>
            <span>{i === 0 ? '−' : ''} group {i + 1} {i === groups.length - 1 ? '+' : ''}</span>
            {groups.length > 1 && g.ah === weakest && weakest < 0.999 * strongest && <span>weakest</span>}
          </Box>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, alignItems: 'end' }}>
            {g.cells.map((c, k) => {
              const size = Math.max(leastPx, mostPx * Math.sqrt(c.ah / most))
              const here = { group: i, cell: k, label: c.label }
              const is = held?.group === i && held.cell === k
              return (
                <Box key={k} component="button" type="button" disabled={!own} draggable={own} aria-pressed={is} aria-label={`${c.label}, ${digits(c.ah, 3)} Ah, ${digits(c.ohm * 1000, 2)} mΩ, group ${i + 1}`} title={`${c.label}: ${digits(c.ah, 3)} Ah, ${digits(c.ohm * 1000, 2)} mΩ${c.own ? ', measured' : ', as its part'}`}
                  onClick={() => (held ? drop(here) : setHeld(here))} onKeyDown={(e) => e.key === 'Escape' && setHeld(undefined)} onDragStart={() => setHeld(here)} onDragEnd={() => setHeld(undefined)} onDragOver={(e) => own && e.preventDefault()} onDrop={(e) => (e.stopPropagation(), drop(here))}
                  sx={{ width: size, height: size, borderRadius: '50%', border: '2px solid', borderColor: is ? 'var(--ink)' : 'var(--power)', p: 0, font: 'inherit', fontSize: 10.5, color: 'var(--ink)', cursor: own ? 'grab' : 'default', overflow: 'hidden',
                    background: `linear-gradient(to top, var(--power-flow) ${(c.ah / most) * 100}%, transparent 0)` }}>
                  {c.label}
                </Box>
              )
            })}
          </Box>
          <Box className="figure" sx={{ fontSize: 12.5 }}>{digits(g.ah, 3)} Ah · {digits(g.ohm * 1000, 2)} mΩ</Box>
          {/* Its room is kept, so that no cell moves under the pointer that took one up. */}
          {own && free && <Button disabled={!into(i)} sx={{ p: 0, minWidth: 0, fontSize: 12, visibility: into(i) ? 'visible' : 'hidden' }} onClick={() => put(i)}>Put it here</Button>}
        </Box>
      ))}
      <Box sx={{ width: '100%', fontSize: 12.5, color: 'var(--ink-soft)' }}>{own ? (held ? `Press another cell to change places${loose ? ', or a group to put it there' : ''}.` : 'Drag a cell onto another, or press one and then the other: they change places. The pack ends with its weakest group.') : 'All cells are taken as their part. Where each was measured, group them from a lot: the pack ends with its weakest group.'}</Box>
    </Box>
  )
}
