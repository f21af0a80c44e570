import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Light, LightNode, Part } from '../api/client'
import { append, set, without } from '../document/pointer'
import { readingsOf } from '../parts/description'
import { PointsRow } from '../parts/rows'
import { useSettings } from '../settings/SettingsProvider'
import { show, text, UnitError } from '../units/quantity'
import { FigureField, ReadRow } from '../figures/FigureField'
import { freshNode, hangOn, nodeKinds } from '../document/edits'
import { freshId, kindOfNode, nodeName } from '../document/names'
import { chosenOf, idsOf, litOf, nodesOf, partOf, type Placed } from '../document/tree'
import { WorkbenchTitle, Choice, Field, Tick, type WorkbenchProps } from '../workbench/fields'
import { useAnyFigures, useFigures, useSolved } from '../solved/useSolved'
import { AlikeRow, Chooser, PartLine, Reading, x } from '../workbench/rows'

type ArrayUse = NonNullable<LightNode['array']>
type Emitter = NonNullable<Part['emitter']>

export function EmittersWorkbench(work: WorkbenchProps) {
  const { variant, at } = work
  const lit = litOf(nodesOf(variant, at))
  const p = chosenOf(lit, work.chosen)
  return (
    <>
      <WorkbenchTitle title="Emitters" keyName="3" />
      {!p && <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', py: 0.5 }}>Nothing lights up yet. Begin with what you have: emitters by their label or three readings, strip by the metre, or a lamp known by volts and amperes.</Box>}
      <Chooser work={work} label="Which emitters" list={lit} />
      <KindOf key={`kind ${p?.node.id ?? ''}`} work={work} p={p} />
      {p && (
        <Box key={p.node.id}>
          {!p.node.array && <Field work={work} label="Equal ones side by side" pointer={`${p.pointer}/count`} quantity="count" fallback="1" />}
          <AlikeRow p={p} />
          {p.node.array && <ArrayRows work={work} p={p} />}
          {p.node.strip && <StripRows work={work} p={p} />}
          {p.node.load && <LoadRows work={work} p={p} />}
        </Box>
      )}
    </>
  )
}

const kinds = { array: 'emitters', strip: 'strip by the metre', load: 'a load known by its draw' }

/** What lights up here, changed in one gesture; where there is nothing yet it hangs on the driver, or on the source. */
function KindOf({ work, p }: { work: WorkbenchProps; p: Placed | undefined }) {
  const { variant, at } = work
  const put = (l: Light, picked: string | undefined): Light => {
    if (!picked) return l
    const kind = picked as keyof typeof kinds
    if (p) {
      const { id, name, count, bodyId } = p.node
      return set(l, p.pointer, { id, name, count, ...nodeKinds[kind].make(bodyId) })
    }
    const owner = nodesOf(variant, at).findLast((q) => nodeKinds[kindOfNode(q.node)].feeds)?.pointer ?? `${at}/feeds/0`
    const node = freshNode(variant, kind)
    return hangOn(variant.feeds.length > 0 ? l : append(l, `${at}/feeds`, { id: freshId('feed', idsOf(variant)), sources: [], loads: [] }), owner, node)
  }
  const now = p && (p.node.array ? 'array' : p.node.strip ? 'strip' : 'load')
  return <Choice work={work} label="What lights up" pointer={p?.pointer ?? `${at}/feeds/0/loads`} value={now ?? ''} options={now ? kinds : { '': 'nothing yet', ...kinds }} put={put} />
}

function ArrayRows({ work, p }: { work: WorkbenchProps; p: Placed }) {
  const { light } = work
  const a = p.node.array!
  const here = `${p.pointer}/array`
  const found = partOf(light, a.partId)
  const e = found?.part.emitter
  const unequal = a.unequal ?? []
  return (
    <>
      <PartLine work={work} kind="emitter" id={a.partId} usedAt={`${here}/partId`} empty="No emitter chosen yet" />
      <Field work={work} label="In series" pointer={`${here}/series`} quantity="count" required />
      <Field work={work} label="Strings in parallel" pointer={`${here}/parallel`} quantity="count" required />
      <Field work={work} label="Wanted in each" pointer={`${here}/wantedCurrentA`} quantity="current" fallback="its rating" />
      <Field work={work} label="Equal boards" pointer={`${here}/count`} quantity="count" fallback="1" />
      <TotalRow work={work} p={p} />
      {e && (e.rows ?? 1) > 1 && <Field work={work} label="Rows in the package mounted" pointer={`${here}/packageRows`} quantity="count" fallback={`${e.rows}`} hint="a larger package of the make is fine, a smaller one is over-driven" />}
      {a.measuredOffsetV !== undefined && <Field work={work} label="Each higher than its part by" pointer={`${here}/measuredOffsetV`} quantity="voltage" fallback="0 V" />}
      <Field work={work} label="Ballast in each string" pointer={`${here}/ballastOhm`} quantity="resistance" fallback="none" />
      {a.parallel * (a.count ?? 1) > 1 && (
        <>
          {found && <Field work={work} label="Spread of forward voltage, ±" pointer={`${found.pointer}/emitter/vfBinV`} quantity="voltage" fallback="not known" />}
          <Tick work={work} label="All from one bin or bag" pointer={`${here}/sameBin`} />
          {unequal.map((u, i) => (
            <Box key={i} sx={{ pl: 1.5, borderLeft: '2px solid var(--line)' }}>
              <Field work={work} label={u.open ? 'Strings that are open' : 'Strings that differ'} pointer={`${here}/unequal/${i}/strings`} quantity="count" required />
              {!u.open && <Field work={work} label="each emitter higher by" pointer={`${here}/unequal/${i}/vfOffsetV`} quantity="voltage" fallback="0 V" />}
              {!u.open && <Field work={work} label="hotter by" pointer={`${here}/unequal/${i}/hotterK`} quantity="temperatureStep" fallback="0 K" />}
              {!u.open && <Field work={work} label="ballast of its own" pointer={`${here}/unequal/${i}/ballastOhm`} quantity="resistance" fallback="as the others" />}
              {!u.open && <Field work={work} label="emitters shorted" pointer={`${here}/unequal/${i}/shorted`} quantity="count" fallback="0" />}
              <Tick work={work} label="open: dark" pointer={`${here}/unequal/${i}/open`} />
              <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => without(l, `${here}/unequal`, i), 'Strings alike')}>Remove</Button>
            </Box>
          ))}
          <Button sx={{ p: 0, minWidth: 0, mr: 2 }} onClick={() => work.change((l) => append(l, `${here}/unequal`, { strings: 1 }), 'A string that differs')}>A string that differs…</Button>
        </>
      )}
      {a.parallel * (a.count ?? 1) === 1 && <FaultRows work={work} here={here} a={a} />}
      {(a.mixed ?? []).map((m, i) => (
        <Box key={i} sx={{ pl: 1.5, borderLeft: '2px solid var(--line)' }}>
          <PartLine work={work} kind="emitter" id={m.partId} usedAt={`${here}/mixed/${i}/partId`} empty="Which emitter?" />
          <Field work={work} label="of these in each string" pointer={`${here}/mixed/${i}/series`} quantity="count" required />
          <KindReading id={p.node.id} kind={i + 1} />
          <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => without(l, `${here}/mixed`, i), 'One kind less')}>Remove</Button>
        </Box>
      ))}
      {found && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => append(l, `${here}/mixed`, { series: 1 }), 'Another kind in series')}>Another kind in series…</Button>}
      {found && <Field work={work} label="Rated current" pointer={`${found.pointer}/emitter/ratedCurrentA`} quantity="current" fallback="not known" />}
      {found && <Field work={work} label="Junction to case" pointer={`${found.pointer}/emitter/rThKPerW`} quantity="thermalResistance" fallback="not known" />}
      <Field work={work} label="Star or board" pointer={`${here}/boardKPerW`} quantity="thermalResistance" fallback="0 K/W" />
      {found && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.onFigures(found.pointer)}>Curve, colour, all figures…</Button>}
      <ArrayReadings a={a} id={p.node.id} e={e} />
    </>
  )
}

/** A fault put into the one string there is: an emitter shorted, or one that is open. */
function FaultRows({ work, here, a }: { work: WorkbenchProps; here: string; a: ArrayUse }) {
  const fault = a.unequal?.[0]
  const kind = fault?.open ? 'open' : (fault?.shorted ?? 0) > 0 ? 'shorted' : ''
  const put = (l: Light, picked: string | undefined): Light => set(l, `${here}/unequal`, !picked ? undefined : [{ strings: 1, ...(picked === 'open' ? { open: true } : { shorted: 1 }) }])
  return (
    <>
      <Choice work={work} label="A fault put in" pointer={`${here}/unequal`} value={kind} standard="" options={{ '': 'none', shorted: 'emitters shorted', open: 'an emitter or joint open' }} put={put} />
      {kind === 'shorted' && <Field work={work} label="How many of them" pointer={`${here}/unequal/0/shorted`} quantity="count" required />}
      {kind !== '' && <Field work={work} label="Which, counted from plus" pointer={`${here}/unequal/0/at`} quantity="count" fallback="not said" />}
    </>
  )
}

/** One kind of a mixed string. */
function KindReading({ id, kind }: { id: string; kind: number }) {
  const { settings } = useSettings()
  const name = `string0kind${kind}`
  const values = useFigures(id, `${name}V`, `${name}Lm`, `${name}C`)
  const c = values[`${name}C`]
  if (values[`${name}V`] === undefined) return null
  return <ReadRow label="Voltage · light · junction">{`${x(values[`${name}V`], 'V')} · ${x(values[`${name}Lm`], 'lm')}${c !== undefined ? ` · ${text(show(c, 'temperature', settings))}` : ''}`}</ReadRow>
}

/** What each emitter of an array carries, of the hardest driven string where they differ. */
function ArrayReadings({ a, id, e }: { a: ArrayUse; id: string; e: Emitter | undefined }) {
  const { settings } = useSettings()
  const unequal = a.unequal ?? []
  const f = useFigures(id, 'stringA', 'junctionC', 'inV', 'lossW')
  const own = useSolved((s) => unequal.flatMap((_, i) => [s.moment?.figure(id, `string${i + 1}A`), s.moment?.figure(id, `string${i + 1}C`)]))
  const seated = useSolved((s) => s.moment?.figure(id, `string${unequal.length + 1}A`) !== undefined) // on places that are not as warm as each other
  if (!useAnyFigures(id)) return null
  const differ = unequal.length > 0 || seated
  const size = a.packageRows ? a.packageRows / (e?.rows ?? 1) : 1
  const current = f.stringA
  const ratio = current !== undefined && e?.ratedCurrentA ? current / (e.ratedCurrentA * size) : undefined
  const limit = (a.mixed ?? []).length > 0 ? undefined : e?.maxJunctionC // each kind has its own
  const junction = f.junctionC
  return (
    <>
      <ReadRow label={differ ? 'Each emitter, highest string' : 'Each emitter'} tone={ratio !== undefined && ratio > 1.0001 ? 'var(--caution-ink)' : undefined}>{`${x(current, 'A')}${ratio !== undefined ? ` · ${(ratio * 100).toFixed(0)} % rated` : ''}`}</ReadRow>
      {e && (e.rows ?? 1) > 1 && current !== undefined && <ReadRow label="Each row of dies in it">{x(current / (a.packageRows ?? e.rows!), 'A')}</ReadRow>}
      {(a.mixed ?? []).length === 0 && <ReadRow label="Forward voltage">{x((f.inV ?? 0) / a.series, 'V')}</ReadRow>}
      {unequal.map((u, i) => (u.open ? null : <ReadRow key={i} label={`${u.strings} that differ${u.strings === 1 ? 's' : ''}`}>{`${x(own[2 * i], 'A')}${own[2 * i + 1] !== undefined ? ` · ${text(show(own[2 * i + 1]!, 'temperature', settings))}` : ''}`}</ReadRow>))}
      <ReadRow label="Heat, all of them" tone="var(--heat-ink)">{x(f.lossW, 'W')}</ReadRow>
      {junction !== undefined && <ReadRow label={differ || (a.mixed ?? []).length > 0 ? 'Hottest junction' : 'Junction'} tone={limit !== undefined && junction > limit ? 'var(--stop)' : undefined}>{`${text(show(junction, 'temperature', settings))}${limit !== undefined ? ` of ${show(limit, 'temperature', settings).number}` : ''}`}</ReadRow>}
    </>
  )
}

/** How many emitters there are in all: what strings and boards do not divide is refused, with what they do. */
function TotalRow({ work, p }: { work: WorkbenchProps; p: Placed }) {
  const { series, parallel, count = 1 } = p.node.array!
  const boards = Math.max(count, 1)
  const step = series * boards
  const put = (n: number | undefined, done: boolean) => {
    if (n === undefined || n < 1) throw new UnitError('At least one string is needed')
    if (n % step !== 0) {
      const below = Math.floor(n / step) * step
      throw new UnitError(`${n} do not divide into ${boards > 1 ? `${boards} boards of ` : ''}strings of ${series}: take ${below > 0 ? `${below} or ` : ''}${below + step}`)
    }
    work.change((l) => set(l, `${p.pointer}/array/parallel`, n / step), 'Emitters in all', done)
  }
  return <FigureField label="Emitters in all" pointer={`${p.pointer}/array#all`} quantity="count" value={step * parallel} step={step} required onChange={put} />
}

function StripRows({ work, p }: { work: WorkbenchProps; p: Placed }) {
  const { light } = work
  const s = p.node.strip!
  const here = `${p.pointer}/strip`
  const found = partOf(light, s.partId)
  const cut = found?.part.strip?.cutM
  return (
    <>
      <PartLine work={work} kind="strip" id={s.partId} usedAt={`${here}/partId`} empty="No strip chosen yet" />
      {s.piecesM.map((m, i) => (
        <Box key={i} sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
          <Box sx={{ flex: 1 }}>
            <Field work={work} label={`Piece ${i + 1}`} pointer={`${here}/piecesM/${i}`} quantity="length" required hint={cut ? `${Math.floor(m / cut + 1e-6)} segments of ${(cut * 1000).toFixed(0)} mm` : undefined} />
          </Box>
          {s.piecesM.length > 1 && <Button aria-label={`Remove piece ${i + 1}`} sx={{ p: 0, minWidth: 24 }} onClick={() => work.change((l) => without(l, `${here}/piecesM`, i), 'Piece removed')}>×</Button>}
        </Box>
      ))}
      <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => append(l, `${here}/piecesM`, cut ?? 0.5), 'Another piece')}>Another piece…</Button>
      <Tick work={work} label="Fed from both ends" pointer={`${here}/bothEnds`} />
      {s.piecesM.length > 1 && <Tick work={work} label="Chained one after the other, in this order" pointer={`${here}/chained`} />}
      {s.piecesM.length > 1 && s.chained && <Field work={work} label="Leads from piece to piece, there and back" pointer={`${here}/linkOhm`} quantity="resistance" fallback="0 Ω" />}
      <Field work={work} label="Leads, there and back" pointer={`${here}/leadOhm`} quantity="resistance" fallback="0 Ω" />
      {found && <Field work={work} label="Can be cut every" pointer={`${found.pointer}/strip/cutM`} quantity="length" required />}
      {found && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.onFigures(found.pointer)}>All figures…</Button>}
      <StripReadings id={p.node.id} whole={s.piecesM.reduce((sum, m) => sum + m, 0)} />
    </>
  )
}

function StripReadings({ id, whole }: { id: string; whole: number }) {
  const { inW, inV, inA, farV, farLight } = useFigures(id, 'inW', 'inV', 'inA', 'farV', 'farLight')
  if (!useAnyFigures(id)) return null
  return (
    <>
      <ReadRow label="In all">{`${whole.toFixed(2)} m · ${x(inW, 'W')}`}</ReadRow>
      <ReadRow label="At its feed">{`${x(inV, 'V')} · ${x(inA, 'A')}`}</ReadRow>
      <ReadRow label="Darkest segment" tone={(farLight ?? 1) < 0.8 ? 'var(--caution-ink)' : undefined}>{`${x(farV, 'V')} · ${((farLight ?? 0) * 100).toFixed(0)} % of the brightest`}</ReadRow>
    </>
  )
}

function LoadRows({ work, p }: { work: WorkbenchProps; p: Placed }) {
  const { light } = work
  const use = p.node.load!
  const found = partOf(light, use.partId)
  // The figures are those of the part, or stand in the light itself.
  const here = found ? `${found.pointer}/load` : `${p.pointer}/load`
  const data = found?.part.load ?? use
  const wrong = [...work.wrong].find(([k]) => k.startsWith(`${here}/points`))?.[1]
  const keepAsPart = () => {
    const id = freshId(nodeName(p.node), light.parts.map((q) => q.id))
    const part: Part = { id, name: nodeName(p.node), basis: 'measured' }
    const { measuredDraw, ...load } = use // what it draws here stays here
    work.change((l) => set(append(l, '/parts', { ...part, load }), `${p.pointer}/load`, { partId: id, ...(measuredDraw !== undefined && { measuredDraw }) }), 'Readings kept as a part')
  }
  return (
    <>
      <PartLine work={work} kind="load" id={use.partId} usedAt={`${p.pointer}/load/partId`} empty={(use.points?.length ?? 0) > 0 ? 'Readings of its own' : 'No load chosen, nothing read yet'} />
      <PointsRow figure={{ label: 'Readings', doc: 'Voltage at the load, current into it, and its light if it was read; voltage rising', of: readingsOf }} pointer={`${here}/points`} value={data.points} error={wrong}
        onChange={(points) => work.change((l) => set(l, `${here}/points`, points), 'Readings of the load')} />
      {use.measuredDraw !== undefined && <Field work={work} label="Draws, times its readings" pointer={`${p.pointer}/load/measuredDraw`} quantity="count" fallback="1" />}
      <Field work={work} label="Constant light from" pointer={`${here}/steadyFromVoltageV`} quantity="voltage" fallback="no: as it was read" />
      <Field work={work} label="to, at most" pointer={`${here}/maxVoltageV`} quantity="voltage" fallback="not known" />
      {data.steadyFromVoltageV === undefined && <Choice work={work} label="Beyond its readings" pointer={`${here}/beyond`} standard="slope" options={{ slope: 'on as between the last two', ohmic: 'a resistance', current: 'it holds its current', power: 'it holds its power, above' }} />}
      <Field work={work} label="Light at the last point" pointer={`${here}/fluxLm`} quantity="luminousFlux" fallback="not known" />
      {!found && (use.points?.length ?? 0) > 0 && <Button sx={{ p: 0, minWidth: 0 }} onClick={keepAsPart}>Make a part of it…</Button>}
      <Reading label="Takes" of={p.node.id} figures={[['inV', 'V'], ['inA', 'A']]} />
    </>
  )
}
