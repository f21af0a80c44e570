import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Light, type Schemas, type Variant } from '../api/client'
import { nodeName } from '../document/names'
import { set, without } from '../document/pointer'
import type { Change } from '../document/store'
import { nodesOf } from '../document/tree'
import { FigureField } from '../figures/FigureField'
import { useSettings } from '../settings/SettingsProvider'
import { digits, show, text } from '../units/quantity'
import { keptFree, layoutOf, placed } from './layouts'
import { PlatePicture } from './PlatePicture'

interface Props {
  light: Light
  variant: number
  at: string
  change: Change
}

type Body = Variant['bodies'][number]
const edges = ['left', 'right', 'top', 'bottom'] as const
const faced: (string | undefined)[] = ['plate', 'fins', 'profile', 'box']

/** Where things sit on a body, and how warm it gets there. */
export function PlateView(props: Props) {
  const bodies = props.light.variants[props.variant]!.bodies.filter((b) => b.shape && faced.includes(b.shape.kind) && b.kPerW === undefined)
  if (bodies.length === 0) return <Box sx={{ color: 'var(--ink-soft)', maxWidth: 480 }}>Say beside what a body is known by: a sheet, fins, a profile or a housing, with its length, width and thickness. Then emitters get their places on it, and the map shows where it is hot.</Box>
  return bodies.map((b) => <OnePlate key={b.id} {...props} body={b} />)
}

const asked = { retry: false, placeholderData: <T,>(old: T | undefined) => old }

function OnePlate({ light, variant, at, change, body }: Props & { body: Body }) {
  const { settings } = useSettings()
  const [held, setHeld] = useState<Light>()
  const shown = held ?? light
  const ask = (of: Light, array: string, signal: AbortSignal) => answer(api.POST('/api/plate', { signal, params: { query: { variant, body: body.id, array } }, body: of }))
  const found = useQuery({ queryKey: ['plate', variant, body.id, shown], queryFn: ({ signal }) => ask(shown, '', signal), ...asked })
  const v = shown.variants[variant]!
  const own = layoutOf(v, at, body.id)
  if (found.isError) return <Box role="alert" sx={{ color: 'var(--ink-soft)' }}>{found.error.message}</Box>
  const plate = found.data
  if (!plate) return <Box sx={{ color: 'var(--ink-soft)' }}>The map follows.</Box>
  const degrees = (c: number) => text(show(c, 'temperature', settings))
  const nodes = nodesOf(v, at)
  const nameOf = (id: string) => nodes.filter((p) => p.node.id === id).map((p) => nodeName(p.node))[0] ?? 'what is gone'
  const padOf = (s: Schemas['LayoutSpot']): [number, number] => {
    const side = s.lengthM ?? plate.arrays.find((a) => a.node === s.nodeId)?.padLengthM ?? 0.01
    return [side, s.widthM ?? side]
  }
  const move = (spot: number, xM: number, yM: number, done: boolean) => {
    const put = (l: Light) => set(set(l, `${own!.pointer}/spots/${spot}/xM`, xM), `${own!.pointer}/spots/${spot}/yM`, yM)
    if (!done) return setHeld((was) => put(was ?? light))
    setHeld(undefined)
    change(put, 'A place on the plate')
  }
  const joined = (body.joints?.length ?? 0) > 0 || v.bodies.some((b) => b.joints?.some((j) => j.bodyId === body.id))
  const gone = own?.layout.spots?.some((s) => !plate.arrays.some((a) => a.node === s.nodeId))
  return (
    <Box data-testid="plate" sx={{ '& + &': { mt: 2 } }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>
        {body.name}{plate.map && <>: <span className="figure">{degrees(plate.map.meanC)}</span> on average, up to <span className="figure">{degrees(Math.max(...plate.map.c))}</span> between and under what sits on it</>}
      </Box>
      {plate.unsettled && <Box sx={{ color: 'var(--stop)', fontSize: 13 }}>It does not come to rest: {plate.unsettled}.</Box>}
      {plate.faults.map((f) => <Box key={f} role="alert" sx={{ color: 'var(--caution-ink)', fontSize: 13 }}>{f}.</Box>)}
      {gone && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => change((l) => set(l, `${own!.pointer}/spots`, own!.layout.spots!.filter((s) => plate.arrays.some((a) => a.node === s.nodeId))), 'Places of what is gone')}>Take away the places of what is gone</Button>}
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) minmax(0, 1fr)' }, columnGap: 2, mt: 1 }}>
        <Box sx={{ gridColumn: '1 / -1' }}>
          <PlatePicture plate={plate} layout={own?.layout} padOf={padOf} nameOf={nameOf} onMove={move} />
          {plate.map && <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 0.5 }}>At rest. Figures are of the case on each place{plate.map.c.some((c) => c > plate.limitC) ? `; the dashed line is ${degrees(plate.limitC)}, ${plate.limitOf}` : `; nowhere over ${degrees(plate.limitC)}, ${plate.limitOf}`}. <span className="figure">{digits(plate.map.intoW, 3)} W</span> go in{own?.layout.heldEdges?.length ? '' : ', edges give nothing'}.</Box>}
        </Box>
        <Box>
          {plate.arrays.length === 0 && <Box sx={{ color: 'var(--ink-soft)', fontSize: 13 }}>No emitters are mounted on it: say so beside, under <em>Mounted on</em>.</Box>}
          {plate.arrays.map((a) => <Ways key={a.node} light={light} at={at} variant={variant} body={body} array={a} change={change} ask={ask} />)}
        </Box>
        <Box>
          {own && <Coordinates own={own} change={change} nameOf={nameOf} several={plate.arrays.length > 1} />}
          {own && joined && (
            <Box role="group" aria-label="Edges that lead heat to another body" sx={{ fontSize: 13, mt: 1.5 }}>
              <Box sx={{ color: 'var(--ink-soft)' }}>Its joints to other bodies lead away through</Box>
              {edges.map((edge) => (
                <Box key={edge} component="label" sx={{ mr: 1.5 }}><input type="checkbox" checked={own.layout.heldEdges?.includes(edge) ?? false} onChange={(e) => {
                  const list = edges.filter((x) => (x === edge ? e.target.checked : own.layout.heldEdges?.includes(x)))
                  change((l) => set(l, `${own.pointer}/heldEdges`, list.length > 0 ? list : undefined), 'Edges')
                }} /> {edge}</Box>
              ))}
            </Box>
          )}
          <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>Kept free</Box>
          {own?.layout.keepOuts?.map((k, i) => <KeepOut key={i} k={k} pointer={`${own.pointer}/keepOuts/${i}`} change={change} remove={() => change((l) => without(l, `${own.pointer}/keepOuts`, i), 'Kept free no longer')} />)}
          <Button sx={{ p: 0, minWidth: 0 }} onClick={() => change((l) => keptFree(l, at, body.id, plate.lengthM, plate.widthM), 'Something kept free')}>Keep something free…</Button>
        </Box>
      </Box>
    </Box>
  )
}

/** Spacings whose figures are alike within that many kelvins are not told one by one. */
const seenK = 0.5

/** Ways to place an array, each with how hot its hottest place then is. */
function Ways({ light, at, variant, body, array, change, ask }: { light: Light; at: string; variant: number; body: Body; array: Schemas['OnPlate']; change: Change; ask: (of: Light, array: string, signal: AbortSignal) => Promise<Schemas['Plate']> }) {
  const { settings } = useSettings()
  const found = useQuery({ queryKey: ['ways', variant, body.id, array.node, light], queryFn: ({ signal }) => ask(light, array.node, signal), ...asked })
  const n = array.spots || array.usual
  return (
    <Box sx={{ mb: 1 }}>
      <Box component="h3" sx={{ fontSize: 13, m: 0 }}>{array.name}: {array.spots === 0 ? `${n} to place` : `${n} placed`}</Box>
      {array.mean && <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>Its parallel strings are taken as warm as these places on average: one place for each emitter, string or board tells which is where.</Box>}
      <Box component="ul" aria-label={`Ways to place ${array.name}`} sx={{ listStyle: 'none', m: 0, p: 0, fontSize: 13 }}>
        {found.data?.ways.map((w) => (
          <Box component="li" key={w.name} sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, borderBottom: '1px solid var(--line)', py: 0.25, color: w.caseC == null ? 'var(--ink-soft)' : 'inherit' }}>
            <Box sx={{ flex: 1 }}>{w.name}</Box>
            {w.caseC == null ? <span>does not go</span> : <span className="figure">{text(show(w.caseC, 'temperature', settings))}</span>}
            {w.caseC != null && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => change((l) => placed(l, at, body.id, array.node, w.spots), `${array.name} in ${w.name}`)}>Place so</Button>}
            {w.why && <Box sx={{ flexBasis: '100%', fontSize: 12 }}>{w.why}</Box>}
          </Box>
        ))}
      </Box>
      {found.data && found.data.spacings.length > 1 && (
        <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 0.5 }}>
          An even grid, from middle to middle {found.data.spacings.filter((s, i, all) => i === 0 || i === all.length - 1 || Math.abs(s.caseC - all[i - 1]!.caseC) >= seenK).map((s, i) => <span key={i}>{i > 0 && ', '}<Box component="span" sx={{ whiteSpace: 'nowrap' }}><span className="figure">{text(show(s.pitchM, 'length', settings))}</span>: {text(show(s.caseC, 'temperature', settings))}</Box></span>)}.
          {found.data.enoughM != null && <> From <span className="figure">{text(show(found.data.enoughM, 'length', settings))}</span> on, further apart gains less than a kelvin.</>}
        </Box>
      )}
      {array.spots > 0 && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => change((l) => placed(l, at, body.id, array.node, []), `${array.name} without places`)}>Take the places away</Button>}
    </Box>
  )
}

const shownAtOnce = 12

/** Every place by its coordinates. */
function Coordinates({ own, change, nameOf, several }: { own: NonNullable<ReturnType<typeof layoutOf>>; change: Change; nameOf: (node: string) => string; several: boolean }) {
  const [all, setAll] = useState(false)
  const spots = own.layout.spots ?? []
  if (spots.length === 0) return null
  return (
    <Box component="details" sx={{ fontSize: 13 }}>
      <summary data-pointer={`${own.pointer}/spots`}>Coordinates, from the upper left corner</summary>
      {spots.slice(0, all ? spots.length : shownAtOnce).map((s, i) => (
        <Box key={i} sx={{ borderLeft: '2px solid var(--line)', pl: 1, mt: 0.5 }}>
          {(['xM', 'yM'] as const).map((m) => <FigureField key={m} label={`${several ? `${nameOf(s.nodeId)} ` : ''}${i + 1}, ${m === 'xM' ? 'along' : 'across'}`} pointer={`${own.pointer}/spots/${i}/${m}`} quantity="length" value={s[m]} required onChange={(x, done) => change((l) => set(l, `${own.pointer}/spots/${i}/${m}`, x), 'A place on the plate', done)} />)}
        </Box>
      ))}
      {spots.length > shownAtOnce && !all && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setAll(true)}>All {spots.length}</Button>}
    </Box>
  )
}

function KeepOut({ k, pointer, change, remove }: { k: Schemas['KeepOut']; pointer: string; change: Change; remove: () => void }) {
  return (
    <Box sx={{ borderLeft: '2px solid var(--line)', pl: 1, mb: 0.5 }}>
      {([['xM', 'Its middle along'], ['yM', 'across'], ['lengthM', 'Its length'], ['widthM', 'Its width']] as const).map(([m, label]) => <FigureField key={m} label={label} pointer={`${pointer}/${m}`} quantity="length" value={k[m]} required onChange={(x, done) => change((l) => set(l, `${pointer}/${m}`, x), 'Kept free', done)} />)}
      <Box component="label" sx={{ display: 'flex', fontSize: 13, color: 'var(--ink-soft)' }}><Box sx={{ flex: 1 }}>It is a hole</Box><input type="checkbox" checked={k.hole ?? false} onChange={(e) => change((l) => set(l, `${pointer}/hole`, e.target.checked || undefined), 'A hole')} /></Box>
      <Button sx={{ p: 0, minWidth: 0 }} onClick={remove}>Take it away</Button>
    </Box>
  )
}
