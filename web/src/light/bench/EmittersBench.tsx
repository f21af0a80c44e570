import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Part } from '../../api/client'
import { set } from '../../document/pointer'
import { readingsOf } from '../../parts/figures'
import { PointsRow } from '../../parts/rows'
import { useSettings } from '../../settings/SettingsProvider'
import { show, text, UnitError } from '../../units/quantity'
import { FigureField, ReadRow } from '../FigureField'
import { chosenOf, freshId, litOf, nodeName, nodesOf, partOf, type Placed } from '../tree'
import { BenchTitle, Choice, Field, Tick, type BenchProps } from './fields'
import { AlikeRow, Chooser, PartLine, ToTree, x } from './rows'

export function EmittersBench(bench: BenchProps) {
  const { variant, at } = bench
  const lit = litOf(nodesOf(variant, at))
  const p = chosenOf(lit, bench.chosen)
  return (
    <>
      <BenchTitle title="Emitters" keyName="3" />
      {!p && <ToTree bench={bench}>Nothing lights up yet: hang emitters, strip or a measured load on a driver or a source.</ToTree>}
      <Chooser bench={bench} label="Which emitters" list={lit} />
      {p && (
        <Box key={p.node.id}>
          <AlikeRow p={p} />
          {p.node.array && <ArrayRows bench={bench} p={p} />}
          {p.node.strip && <StripRows bench={bench} p={p} />}
          {p.node.load && <LoadRows bench={bench} p={p} />}
        </Box>
      )}
    </>
  )
}

function ArrayRows({ bench, p }: { bench: BenchProps; p: Placed }) {
  const { light, moment } = bench
  const { settings } = useSettings()
  const a = p.node.array!
  const here = `${p.pointer}/array`
  const figure = (name: string) => moment?.figure(p.node.id, name)
  const found = partOf(light, a.partId)
  const e = found?.part.emitter
  const size = a.packageRows ? a.packageRows / (e?.rows ?? 1) : 1
  const current = figure('stringA')
  const ratio = current !== undefined && e?.ratedCurrentA ? current / (e.ratedCurrentA * size) : undefined
  const limit = e?.maxJunctionC
  const junction = figure('junctionC')
  const unequal = a.unequal ?? []
  return (
    <>
      <PartLine bench={bench} kind="emitter" id={a.partId} usedAt={`${here}/partId`} empty="No emitter chosen yet" />
      <Field bench={bench} label="In series" pointer={`${here}/series`} quantity="count" required />
      <Field bench={bench} label="Strings in parallel" pointer={`${here}/parallel`} quantity="count" required />
      <Field bench={bench} label="Equal boards" pointer={`${here}/count`} quantity="count" fallback="1" />
      <TotalRow bench={bench} p={p} />
      {e && (e.rows ?? 1) > 1 && <Field bench={bench} label="Rows in the package mounted" pointer={`${here}/packageRows`} quantity="count" fallback={`${e.rows}`} hint="a larger package of the make is fine, a smaller one is over-driven" />}
      {a.parallel * (a.count ?? 1) > 1 && (
        <>
          <Field bench={bench} label="Ballast in each string" pointer={`${here}/ballastOhm`} quantity="resistance" fallback="none" />
          {found && <Field bench={bench} label="Spread of forward voltage, ±" pointer={`${found.pointer}/emitter/vfBinV`} quantity="voltage" fallback="not known" />}
          <Tick bench={bench} label="All from one bin or bag" pointer={`${here}/sameBin`} />
          {unequal.map((u, i) => (
            <Box key={i} sx={{ pl: 1.5, borderLeft: '2px solid var(--line)' }}>
              <Field bench={bench} label={u.open ? 'Strings that are open' : 'Strings that differ'} pointer={`${here}/unequal/${i}/strings`} quantity="count" required />
              {!u.open && <Field bench={bench} label="each emitter higher by" pointer={`${here}/unequal/${i}/vfOffsetV`} quantity="voltage" fallback="0 V" />}
              {!u.open && <Field bench={bench} label="hotter by, K" pointer={`${here}/unequal/${i}/hotterK`} quantity="count" fallback="0" />}
              {!u.open && <Field bench={bench} label="ballast of its own" pointer={`${here}/unequal/${i}/ballastOhm`} quantity="resistance" fallback="as the others" />}
              {!u.open && <Field bench={bench} label="emitters shorted" pointer={`${here}/unequal/${i}/shorted`} quantity="count" fallback="0" />}
              <Tick bench={bench} label="open: dark" pointer={`${here}/unequal/${i}/open`} />
              <Button sx={{ p: 0, minWidth: 0 }} onClick={() => bench.edit(set(light, `${here}/unequal`, unequal.length > 1 ? unequal.filter((_, k) => k !== i) : undefined), 'Strings alike')}>Remove</Button>
            </Box>
          ))}
          <Button sx={{ p: 0, minWidth: 0, mr: 2 }} onClick={() => bench.edit(set(light, `${here}/unequal`, [...unequal, { strings: 1 }]), 'A string that differs')}>A string that differs…</Button>
        </>
      )}
      {(a.mixed ?? []).map((m, i) => (
        <Box key={i} sx={{ pl: 1.5, borderLeft: '2px solid var(--line)' }}>
          <PartLine bench={bench} kind="emitter" id={m.partId} usedAt={`${here}/mixed/${i}/partId`} empty="Which emitter?" />
          <Field bench={bench} label="of these in each string" pointer={`${here}/mixed/${i}/series`} quantity="count" required />
          {moment && figure(`string0kind${i + 1}V`) !== undefined && <ReadRow label="Voltage · light · junction">{`${x(figure(`string0kind${i + 1}V`), 'V')} · ${x(figure(`string0kind${i + 1}Lm`), 'lm')}${figure(`string0kind${i + 1}C`) !== undefined ? ` · ${text(show(figure(`string0kind${i + 1}C`)!, 'temperature', settings))}` : ''}`}</ReadRow>}
          <Button sx={{ p: 0, minWidth: 0 }} onClick={() => bench.edit(set(light, `${here}/mixed`, a.mixed!.length > 1 ? a.mixed!.filter((_, k) => k !== i) : undefined), 'One kind less')}>Remove</Button>
        </Box>
      ))}
      {found && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => bench.edit(set(light, `${here}/mixed`, [...(a.mixed ?? []), { series: 1 }]), 'Another kind in series')}>Another kind in series…</Button>}
      {found && <Field bench={bench} label="Rated current" pointer={`${found.pointer}/emitter/ratedCurrentA`} quantity="current" fallback="not known" />}
      {found && <Field bench={bench} label="Junction to case" pointer={`${found.pointer}/emitter/rThKPerW`} quantity="thermalResistance" fallback="not known" />}
      <Field bench={bench} label="Star or board" pointer={`${here}/boardKPerW`} quantity="thermalResistance" fallback="0 K/W" />
      {found && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => bench.onFigures(found.pointer)}>Curve, colour, all figures…</Button>}
      {moment && (
        <>
          <ReadRow label={unequal.length > 0 ? 'Each emitter, highest string' : 'Each emitter'} tone={ratio !== undefined && ratio > 1.0001 ? 'var(--caution-ink)' : undefined}>{`${x(current, 'A')}${ratio !== undefined ? ` · ${(ratio * 100).toFixed(0)} % rated` : ''}`}</ReadRow>
          {e && (e.rows ?? 1) > 1 && current !== undefined && <ReadRow label="Each row of dies in it">{x(current / (a.packageRows ?? e.rows!), 'A')}</ReadRow>}
          {(a.mixed ?? []).length === 0 && <ReadRow label="Forward voltage">{x((figure('inV') ?? 0) / a.series, 'V')}</ReadRow>}
          {unequal.map((u, i) => (u.open ? null : <ReadRow key={i} label={`${u.strings} that differ${u.strings === 1 ? 's' : ''}`}>{`${x(figure(`string${i + 1}A`), 'A')}${figure(`string${i + 1}C`) !== undefined ? ` · ${text(show(figure(`string${i + 1}C`)!, 'temperature', settings))}` : ''}`}</ReadRow>))}
          <ReadRow label="Heat, all of them" tone="var(--heat-ink)">{x(figure('lossW'), 'W')}</ReadRow>
          {junction !== undefined && <ReadRow label={unequal.length > 0 || (a.mixed ?? []).length > 0 ? 'Hottest junction' : 'Junction'} tone={limit !== undefined && junction > limit ? 'var(--stop)' : undefined}>{`${text(show(junction, 'temperature', settings))}${limit !== undefined ? ` of ${show(limit, 'temperature', settings).number}` : ''}`}</ReadRow>}
        </>
      )}
    </>
  )
}

/** How many emitters there are in all: what strings and boards do not divide is refused, with what they do. */
function TotalRow({ bench, p }: { bench: BenchProps; p: Placed }) {
  const { series, parallel, count = 1 } = p.node.array!
  const boards = Math.max(count, 1)
  const step = series * boards
  const put = (n: number | undefined, done: boolean) => {
    if (n === undefined || n < 1) throw new UnitError('At least one string is needed')
    if (n % step !== 0) {
      const below = Math.floor(n / step) * step
      throw new UnitError(`${n} do not divide into ${boards > 1 ? `${boards} boards of ` : ''}strings of ${series}: take ${below > 0 ? `${below} or ` : ''}${below + step}`)
    }
    bench.edit(set(bench.light, `${p.pointer}/array/parallel`, n / step), 'Emitters in all', done)
  }
  return <FigureField label="Emitters in all" pointer={`${p.pointer}/array#all`} quantity="count" value={step * parallel} step={step} required onChange={put} />
}

function StripRows({ bench, p }: { bench: BenchProps; p: Placed }) {
  const { light, moment } = bench
  const s = p.node.strip!
  const here = `${p.pointer}/strip`
  const found = partOf(light, s.partId)
  const cut = found?.part.strip?.cutM
  const figure = (name: string) => moment?.figure(p.node.id, name)
  const whole = s.piecesM.reduce((sum, m) => sum + m, 0)
  return (
    <>
      <PartLine bench={bench} kind="strip" id={s.partId} usedAt={`${here}/partId`} empty="No strip chosen yet" />
      {s.piecesM.map((m, i) => (
        <Box key={i} sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
          <Box sx={{ flex: 1 }}>
            <Field bench={bench} label={`Piece ${i + 1}`} pointer={`${here}/piecesM/${i}`} quantity="length" required hint={cut ? `${Math.floor(m / cut + 1e-6)} segments of ${(cut * 1000).toFixed(0)} mm` : undefined} />
          </Box>
          {s.piecesM.length > 1 && <Button aria-label={`Remove piece ${i + 1}`} sx={{ p: 0, minWidth: 24 }} onClick={() => bench.edit(set(light, `${here}/piecesM`, s.piecesM.filter((_, k) => k !== i)), 'Piece removed')}>×</Button>}
        </Box>
      ))}
      <Button sx={{ p: 0, minWidth: 0 }} onClick={() => bench.edit(set(light, `${here}/piecesM`, [...s.piecesM, cut ?? 0.5]), 'Another piece')}>Another piece…</Button>
      <Tick bench={bench} label="Fed from both ends" pointer={`${here}/bothEnds`} />
      {s.piecesM.length > 1 && <Tick bench={bench} label="Chained one after the other, in this order" pointer={`${here}/chained`} />}
      {s.piecesM.length > 1 && s.chained && <Field bench={bench} label="Leads from piece to piece, there and back" pointer={`${here}/linkOhm`} quantity="resistance" fallback="0 Ω" />}
      <Field bench={bench} label="Leads, there and back" pointer={`${here}/leadOhm`} quantity="resistance" fallback="0 Ω" />
      {found && <Field bench={bench} label="Can be cut every" pointer={`${found.pointer}/strip/cutM`} quantity="length" required />}
      {found && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => bench.onFigures(found.pointer)}>All figures…</Button>}
      {moment && (
        <>
          <ReadRow label="In all">{`${whole.toFixed(2)} m · ${x(figure('inW'), 'W')}`}</ReadRow>
          <ReadRow label="At its feed">{`${x(figure('inV'), 'V')} · ${x(figure('inA'), 'A')}`}</ReadRow>
          <ReadRow label="Darkest segment" tone={(figure('farLight') ?? 1) < 0.8 ? 'var(--caution-ink)' : undefined}>{`${x(figure('farV'), 'V')} · ${((figure('farLight') ?? 0) * 100).toFixed(0)} % of the brightest`}</ReadRow>
        </>
      )}
    </>
  )
}

function LoadRows({ bench, p }: { bench: BenchProps; p: Placed }) {
  const { light, moment } = bench
  const use = p.node.load!
  const found = partOf(light, use.partId)
  // The figures are those of the part, or stand in the light itself.
  const here = found ? `${found.pointer}/load` : `${p.pointer}/load`
  const data = found?.part.load ?? use
  const wrong = [...bench.wrong].find(([k]) => k.startsWith(`${here}/points`))?.[1]
  const keepAsPart = () => {
    const id = freshId(nodeName(p.node), light.parts.map((q) => q.id))
    const part: Part = { id, name: nodeName(p.node), basis: 'measured', load: use }
    bench.edit(set(set(light, '/parts', [...light.parts, part]), `${p.pointer}/load`, { partId: id }), 'Readings kept as a part')
  }
  return (
    <>
      <PartLine bench={bench} kind="load" id={use.partId} usedAt={`${p.pointer}/load/partId`} empty={(use.points?.length ?? 0) > 0 ? 'Readings of its own' : 'No load chosen, nothing read yet'} />
      <PointsRow figure={{ label: 'Readings', doc: 'Voltage at the load, current into it, and its light if it was read; voltage rising', of: readingsOf }} pointer={`${here}/points`} value={data.points} error={wrong}
        onChange={(points) => bench.edit(set(light, `${here}/points`, points), 'Readings of the load')} />
      <Choice bench={bench} label="Beyond its readings" pointer={`${here}/beyond`} standard="slope" options={{ slope: 'on as between the last two', ohmic: 'a resistance', current: 'it holds its current', power: 'it holds its power, above' }} />
      <Field bench={bench} label="Light at the last point" pointer={`${here}/fluxLm`} quantity="luminousFlux" fallback="not known" />
      {!found && (use.points?.length ?? 0) > 0 && <Button sx={{ p: 0, minWidth: 0 }} onClick={keepAsPart}>Make a part of it…</Button>}
      {moment && <ReadRow label="Takes">{`${x(moment.figure(p.node.id, 'inV'), 'V')} · ${x(moment.figure(p.node.id, 'inA'), 'A')}`}</ReadRow>}
    </>
  )
}
