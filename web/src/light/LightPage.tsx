import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Snackbar from '@mui/material/Snackbar'
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { useKeyList } from '../App'
import { Problem, type Finding, type Light } from '../api/client'
import { set } from '../document/pointer'
import { useLight } from '../document/useLight'
import { useKeys, type Key } from '../keys/useKeys'
import { useSettings } from '../settings/SettingsProvider'
import { amps, clock, digits, show, text } from '../units/quantity'
import { Answers } from './Answers'
import { DriverBench } from './bench/DriverBench'
import { EmittersBench } from './bench/EmittersBench'
import type { BenchProps } from './bench/fields'
import { HeatBench } from './bench/HeatBench'
import { LightBench } from './bench/LightBench'
import { OverviewBench } from './bench/OverviewBench'
import { SourceBench } from './bench/SourceBench'
import { controlOf, partPointer, stageFor } from './cause'
import { ConflictDialog } from './ConflictDialog'
import { LeftBehind } from './LeftBehind'
import { Findings } from './Findings'
import { Ladder } from './Ladder'
import { NameField } from './NameField'
import { FiguresDialog, PartDialog, type PartKind } from './PartDialog'
import { Ribbon, type StageText } from './Ribbon'
import { RunChart } from './RunChart'
import { SaveMark } from './SaveMark'
import { paneOpen, StagePane } from './StagePane'
import { Scrubber } from './Scrubber'
import { highest, momentAt, momentOf, series } from './trace'
import { capital, familyWord, freshId, nameOf, nodeAt, nodesOf, partOf, stages, timesOf, type Placed, type Stage } from './tree'
import { useSolution } from './useSolution'

interface Trial {
  light: Light
  label: string
}

/** One light: answers, ribbon, clock, the open stage's workbench and the findings, all in one view. */
export function LightPage() {
  const { id = '' } = useParams()
  return <Loaded key={id} id={id} />
}

function Loaded({ id }: { id: string }) {
  const handle = useLight(id)
  const { stage: stageInUrl } = useParams()
  const [query, setQuery] = useSearchParams()
  const navigate = useNavigate()
  const { settings } = useSettings()
  const { setKeys, showKeys } = useKeyList()
  const clockHandle = useRef<HTMLDivElement>(null)
  const [trial, setTrial] = useState<Trial>()
  const [renaming, setRenaming] = useState(false)
  const [part, setPart] = useState<{ kind: PartKind; usedAt: string }>()
  const [figures, setFigures] = useState<string>()
  const [cause, setCause] = useState<{ stage: Stage; pointer: string }>()
  const [chosen, setChosen] = useState<string>()

  const stage: Stage = stages.includes(stageInUrl as Stage) ? (stageInUrl as Stage) : 'overview'
  const saved = handle.light
  const variantIndex = Math.min(Math.max(Number(query.get('v') ?? 0) || 0, 0), Math.max((saved?.variants.length ?? 1) - 1, 0))
  const light = trial?.light ?? saved
  const at = `/variants/${variantIndex}`
  const variant = light?.variants[variantIndex]
  const live = useSolution(light, variantIndex)
  const base = useSolution(trial ? saved : undefined, variantIndex)

  const current = live.light === light && live.variant === variantIndex
  const solution = live.variant === variantIndex ? live.solution : undefined
  const trace = live.variant === variantIndex ? live.trace : undefined
  const traceFits = current && live.traceLight === light
  // Unless asked otherwise the clock stands where the light has warmed up.
  const standardT = !trace ? 30 : trace.endsBy === 'settled' ? trace.endS : Math.min(2400, trace.endS / 2)
  const wantedT = query.has('t') ? Number(query.get('t')) || 0 : standardT
  const [dragT, setDragT] = useState<number>()
  const endS = trace?.endS ?? Infinity
  // The address holds whole seconds, rounded up: its last one is the very end, past the cut-off.
  const asked = Math.max(dragT ?? wantedT, 0)
  const t = Math.min(asked, endS)
  const moment = useMemo(() => {
    if (trace && (traceFits || !solution)) return momentAt(trace, t)
    return solution ? momentOf(solution) : undefined
  }, [trace, traceFits, solution, t])
  const slowT = useDeferredValue(t)

  useEffect(() => {
    if (!cause || cause.stage !== stage) return
    const frame = requestAnimationFrame(() => {
      const control = controlOf(cause.pointer)
      // A part's figure that is not on the page stands among all its figures.
      if (partPointer(cause.pointer) && control?.dataset.pointer !== cause.pointer) setFigures(cause.pointer)
      else control?.focus()
      setCause(undefined)
    })
    return () => cancelAnimationFrame(frame)
  }, [cause, stage])

  useEffect(() => {
    document.title = saved ? `${saved.name} – Photherm` : 'Photherm'
  }, [saved])

  const keep = (change: Record<string, string | undefined>) =>
    setQuery(
      (old) => {
        const next = new URLSearchParams(old)
        for (const [k, v] of Object.entries(change)) if (v === undefined) next.delete(k)
          else next.set(k, v)
        return next
      },
      { replace: true },
    )
  const goStage = (s: Stage) => void navigate({ pathname: `/lights/${id}${s === 'overview' ? '' : `/${s}`}`, search: query.toString() }, { replace: true })
  const setT = (x: number, done: boolean) => {
    setDragT(x)
    if (done) keep({ t: Math.ceil(x).toFixed(0) })
  }
  // A finding leads to the stage where its cause is set, and into the control that sets it.
  const goTree = () => {
    const next = new URLSearchParams(query)
    next.set('pane', 'tree')
    void navigate({ pathname: `/lights/${id}`, search: next.toString() }, { replace: true })
  }
  const goCause = (s: Stage, pointer = '') => {
    const there = stageFor(pointer) ?? s
    const node = variant && nodeAt(variant, at, pointer)
    if (node) setChosen(node.node.id)
    goStage(there)
    setCause({ stage: there, pointer })
  }
  const nextVariant = () => saved && keep({ v: String((variantIndex + 1) % saved.variants.length) })
  const keys: Key[] = [
    ...stages.map((s, i) => ({ key: String(i), does: s === 'overview' ? 'overview' : `${s} workbench`, run: () => goStage(s) })),
    { key: 'V', does: 'next variant', run: nextVariant },
    { key: 'T', does: 'to the clock', run: () => clockHandle.current?.focus() },
    { key: 'U', does: 'take the last change back', run: handle.undo },
    { key: '?', does: 'show the keys', run: showKeys },
  ]
  useKeys(keys, handle.undo, handle.redo)
  useEffect(() => {
    setKeys(keys)
    return () => setKeys([])
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the list changes only with the page
  }, [id])

  if (handle.state === 'gone') {
    return (
      <Box sx={{ p: 3 }}>
        <h1>This light is not here</h1>
        <p>{handle.message}</p>
        <Link to="/">Back to the shelf</Link>
      </Box>
    )
  }
  if (!saved || !light || !variant) {
    return <Box sx={{ p: 3, color: 'var(--ink-soft)' }}>{handle.state === 'offline' ? 'The server does not answer; trying again…' : 'Fetching the light…'}</Box>
  }

  const edit = (next: Light, label: string, done = true) => {
    if (trial) setTrial({ light: next, label: `${trial.label}, ${label}` })
    else handle.edit(next, label, done)
  }
  // What is no part of a trial is done to what is tried as well, so that keeping it loses nothing.
  const both = (change: (l: Light) => Light, label: string) => {
    handle.edit(change(saved), label)
    if (trial) setTrial({ ...trial, light: change(trial.light) })
  }
  const tryFix = (f: Finding) => f.fix && setTrial({ light: f.fix.patch.reduce((l, p) => set(l, p.path, p.value), light), label: f.fix.label })
  const keepTrial = () => {
    if (!trial) return
    handle.edit(trial.light, trial.label)
    setTrial(undefined)
  }
  const addVariant = () => {
    const copy = { ...variant, id: freshId('variant', saved.variants.map((v) => v.id)), name: `${variant.name}, copy` }
    both((l) => set(l, '/variants', [...l.variants, copy]), 'New variant')
    keep({ v: String(saved.variants.length) })
  }
  const dropVariant = () => {
    both((l) => set(l, '/variants', l.variants.filter((_, i) => i !== variantIndex)), 'Variant removed')
    keep({ v: '0' })
  }
  const problem = live.error instanceof Problem && live.light === light ? live.error : undefined
  const wrong = new Map((problem?.fields ?? []).map((f) => [f.location, f.message]))
  const bench: BenchProps = { light, variant, at, moment, solution, wrong, edit, onParts: (kind, usedAt) => setPart({ kind, usedAt }), onFigures: setFigures, chosen, onChoose: setChosen, onTree: goTree }
  const Bench = { overview: OverviewBench, source: SourceBench, driver: DriverBench, emitters: EmittersBench, light: LightBench, heat: HeatBench }[stage]
  const fullW = trace ? highest(series(trace, 'total', 'inputW'), 0) : (moment?.figure('total', 'inputW') ?? 0)
  const hottestBody = variant.bodies[0]?.name.toLowerCase() ?? 'the body'
  const c = (x: number | undefined) => (x === undefined ? '' : text(show(x, 'temperature', settings)))

  const texts: StageText[] = stageTexts()
  function stageTexts(): StageText[] {
    const nodes = nodesOf(variant!, at)
    const feed = variant!.feeds[0]
    const pack = feed?.sources[0]?.pack
    const cell = partOf(light!, pack?.partId)?.part.cell
    const f = (id: string, figure: string, unit: string, n = 3) => {
      const v = moment?.figure(id, figure)
      return v === undefined ? '' : unit === 'A' ? amps(v, n) : `${digits(v, n)} ${unit}`
    }
    const join = (...s: (string | false | undefined)[]) => s.filter(Boolean).join(' · ')
    const howMany = (list: Placed[]) => list.reduce((n, p) => n + timesOf(p), 0)
    const drivers = nodes.filter((n) => n.node.driver)
    const arrays = nodes.filter((n) => n.node.array)
    const d = drivers[0]?.node
    const driverPart = partOf(light!, d?.driver?.partId)?.part.driver
    const a = arrays[0]?.node
    const strip = nodes.find((n) => n.node.strip)?.node
    const load = nodes.find((n) => n.node.load)?.node
    const hot = Math.max(...arrays.map((n) => moment?.figure(n.node.id, 'junctionC') ?? -Infinity))
    const flux = moment?.figure('total', 'fluxLm')
    const body = variant!.bodies[0]
    return [
      { stage: 'source', key: '1', title: 'Source', line: !feed ? 'none yet' : join(pack && `${pack.series}S${pack.parallel}P${cell ? ` ${digits(cell.capacityAh * (cell.health ?? 1) * pack.parallel, 2)} Ah` : ''}`, f(feed.id, 'busV', 'V'), f(feed.id, 'busA', 'A')) },
      { stage: 'driver', key: '2', title: 'Driver', line: howMany(drivers) > 1 ? `${howMany(drivers)} drivers` : d ? (driverPart ? join(`${familyWord[driverPart.family]} ${f(d.id, 'outA', 'A')}`, d.driver?.mode ?? moment?.mode(d.id)) : 'not chosen yet') : 'none' },
      { stage: 'emitters', key: '3', title: 'Emitters', line: howMany(arrays) > 1 ? join(`${howMany(arrays)} arrays`, hot > -Infinity && c(hot)) : a?.array ? join(`${a.array.series} × ${a.array.parallel}${(a.array.count ?? 1) > 1 ? ` × ${a.array.count}` : ''}`, f(a.id, 'inV', 'V'), c(moment?.figure(a.id, 'junctionC'))) : strip?.strip ? join(`${digits(strip.strip.piecesM.reduce((x, m) => x + m, 0), 3)} m of strip`, f(strip.id, 'inV', 'V')) : load ? join('measured load', f(load.id, 'inV', 'V')) : 'none yet' },
      { stage: 'light', key: '4', title: 'Light', line: flux === undefined || flux === 0 ? (solution?.answers.fluxLm == null ? 'not known' : 'dark') : `${digits(flux, 3)} lm out of front` },
      { stage: 'heat', key: '5', title: 'Heat path', line: body ? join(body.name, c(moment?.figure(body.id, 'bodyC'))) : 'mounted on nothing yet' },
    ]
  }
  const pane = query.get('pane') ?? ''
  const offline = handle.state === 'offline' || (live.error && !problem)
  // What keeps a whole light dark is told before what its data lack.
  const kept = solution?.findings.find((f) => f.code === 'starts-cut-off' || f.code === 'does-not-start')
  const nothing = (solution?.figures.total?.inputW ?? 0) <= 0 && solution ? capital(kept?.why ?? solution.missing[0]?.why ?? 'Nothing flows: look for an open switch or a source below the emitters’ voltage.') : undefined
  const idle = variant.feeds.every((f) => (moment?.figure(f.id, 'busA') ?? 0) <= 1e-9)
  const ended = moment && idle && !nothing ? 'Cut off: no power flows.' : nothing

  return (
    <Box sx={{ px: { xs: 0, sm: 2.5 }, pb: { xs: 2, md: 1.5 }, maxWidth: 1720, mx: 'auto', display: 'flex', flexDirection: 'column', height: { md: 'calc(100vh - 44px)' }, minHeight: { md: 690 } }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap', minHeight: 42, px: { xs: 1.5, sm: 0 } }}>
        <Box component="input" aria-label="Name of the light" defaultValue={saved.name} key={saved.name} maxLength={120}
          onBlur={(e) => {
            const name = e.target.value.trim()
            if (name === '') e.target.value = saved.name
            else if (name !== saved.name) both((l) => set(l, '/name', name), 'Name')
          }}
          onKeyDown={(e) => e.key === 'Enter' && (e.target as HTMLElement).blur()}
          sx={{ fontSize: 19, fontWeight: 700, border: 0, background: 'none', color: 'inherit', fontFamily: 'inherit', p: 0, width: `min(${Math.max(saved.name.length + 1, 8)}ch, 60vw)`, '&:hover': { borderBottom: '1px dotted var(--power)' } }} />
        {saved.variants.map((v, i) =>
          i === variantIndex && renaming ? (
            <NameField key={v.id} label="Name of the variant" name={v.name} onName={(name) => both((l) => set(l, `/variants/${i}/name`, name), 'Name of the variant')} onDone={() => setRenaming(false)} />
          ) : (
            <Button key={v.id} variant={i === variantIndex ? 'outlined' : 'text'} aria-pressed={i === variantIndex} onClick={() => keep({ v: String(i) })} onDoubleClick={() => setRenaming(true)} sx={{ borderRadius: 4, py: 0.1, maxWidth: { xs: 150, sm: 'none' }, overflow: 'hidden', whiteSpace: 'nowrap' }}>
              {v.name}
            </Button>
          ),
        )}
        <Button aria-label="New variant" title="New variant, a copy of this one" onClick={addVariant} sx={{ minWidth: 28, borderRadius: 4, py: 0.1 }} disabled={saved.variants.length >= 20}>
          +
        </Button>
        <Button color="inherit" sx={{ color: 'var(--ink-soft)', minWidth: 0, display: { xs: 'none', sm: 'inline-flex' } }} onClick={() => setRenaming(true)}>
          rename
        </Button>
        {saved.variants.length > 1 && (
          <Button color="inherit" sx={{ color: 'var(--ink-soft)', minWidth: 0, display: { xs: 'none', sm: 'inline-flex' } }} onClick={dropVariant}>
            remove
          </Button>
        )}
        <Box sx={{ ml: 'auto', display: 'flex', alignItems: 'center', gap: 1.5 }}>
          <Box sx={{ color: 'var(--ink-soft)', fontSize: 13, display: { xs: 'none', md: 'block' } }}>
            {c(light.conditions.ambientC)} air{light.conditions.handheld ? ' · in the hand' : ''}
          </Box>
          <SaveMark state={handle.state} message={handle.message} />
          <Button component="a" href={`/api/lights/${id}/file`} download color="inherit" sx={{ color: 'var(--ink-soft)', minWidth: 0, display: { xs: 'none', sm: 'inline-flex' } }} title="Take this light out as a file">
            File
          </Button>
          <Button disabled={!handle.canUndo} onClick={handle.undo}>
            Undo
          </Button>
          <Button disabled={!handle.canRedo} onClick={handle.redo} sx={{ display: { xs: 'none', sm: 'inline-flex' } }}>
            Redo
          </Button>
        </Box>
      </Box>
      {trial && (
        <Alert severity="info" sx={{ mb: 1, py: 0 }} data-testid="trial"
          action={
            <>
              <Button onClick={() => setTrial(undefined)}>Discard</Button>
              <Button variant="contained" onClick={keepTrial}>
                Keep
              </Button>
            </>
          }>
          Trying: {trial.label}. Nothing is saved until you keep it; struck-out figures are from before.
        </Alert>
      )}
      <LeftBehind handle={handle} />
      {handle.state === 'failing' && (
        <Alert severity="error" sx={{ mb: 1, py: 0 }} action={<Button onClick={handle.flush}>Try again now</Button>}>
          Not saved: {handle.message} What you typed is kept in this browser, and it is tried again every few seconds.
        </Alert>
      )}
      {problem && (
        <Alert severity="error" sx={{ mb: 1, py: 0 }}>
          {problem.message}
        </Alert>
      )}
      {offline && (
        <Alert severity="warning" sx={{ mb: 1, py: 0 }}>
          The server does not answer. What you type is kept in this browser and saved when it is back; figures are from before.
        </Alert>
      )}
      <Box sx={{ position: 'sticky', top: 0, zIndex: 3 }}>
        <Answers light={light} solution={solution} before={trial ? base.solution : undefined} moment={moment} endS={trace?.endS ?? 0} stale={!current || Boolean(live.error)} />
      </Box>
      <Box sx={{ pt: 1.5, px: { xs: 1.5, sm: 0 } }}>
        {moment ? (
          <Ribbon variant={variant} at={at} moment={moment} fullW={fullW} texts={texts} open={stage} chosen={chosen} ambient={c(light.conditions.ambientC)} body={hottestBody} state={ended} onStage={(s, node) => {
              if (node) setChosen(node)
              goStage(s)
            }}
            onSwitch={(p) => edit(set(light, `${p.pointer}/switch/open`, p.node.switch?.open ? undefined : true), 'Switch')} />
        ) : (
          <Box sx={{ height: 226, display: 'grid', placeItems: 'center', color: 'var(--ink-soft)' }}>{problem ? 'Not solved: see the message above.' : 'Solving…'}</Box>
        )}
      </Box>
      <Scrubber trace={trace} t={t} onT={setT} handle={clockHandle} />
      <Box sx={{ display: 'grid', gap: 0, gridTemplateColumns: { xs: '1fr', md: '316px minmax(0, 1fr) 300px' }, mt: 0.5, flex: { md: '1 1 0' }, minHeight: { md: 0 }, background: 'var(--paper)', border: '1px solid var(--line)', '& > *': { px: 1.75, py: 1.25, minWidth: 0, overflowY: { md: 'auto' } }, '& > * + *': { borderLeft: { md: '1px solid var(--line)' }, borderTop: { xs: '1px solid var(--line)', md: 0 } } }}>
        <Box component="section" tabIndex={0} aria-label="Workbench" onBlur={(e) => !e.currentTarget.contains(e.relatedTarget) && handle.flush()}>
          <Bench {...bench} />
        </Box>
        <Box tabIndex={0} role="region" aria-label="Charts" sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: stage === 'heat' ? 'minmax(0, 1fr) 250px' : 'minmax(0, 1fr)' }, alignContent: 'start' }}>
          <StagePane stage={stage} light={light} variant={variantIndex} at={at} pane={pane} chosen={chosen} moment={moment} onPane={(v) => keep({ pane: v || undefined })} onGo={goCause} onChoose={setChosen} edit={edit} tryOut={(next, label) => setTrial({ light: next, label })} />
          {paneOpen(stage, pane, variant, chosen) ? null : nothing ? (
            <Box sx={{ color: 'var(--ink-soft)', maxWidth: 460 }}>{kept ? 'It does not light, so there is nothing to draw: see the first finding.' : <>Nothing flows yet, so there is nothing to draw. Choose the cells, the driver and the emitters under the stages 1, 2 and 3, and say what carries the heat away under 5; what hangs on what is put together in the <Button sx={{ p: 0, minWidth: 0, verticalAlign: 'baseline' }} onClick={goTree}>power tree</Button>.</>}</Box>
          ) : trace ? <RunChart light={light} variant={variant} at={at} trace={trace} t={slowT} stage={stage} touchLimitC={solution?.answers.touchLimitC} /> : <Box sx={{ color: 'var(--ink-soft)' }}>The course in time follows.</Box>}
          {stage === 'heat' && moment && (
            <Box>
              <Box component="h2" sx={{ fontSize: 14, m: 0 }}>From junction to air, {clock(t)}</Box>
              <Ladder light={light} variant={variant} at={at} moment={moment} />
            </Box>
          )}
        </Box>
        <Findings findings={solution?.findings ?? []} nameOf={(node) => nameOf(variant, node)} onGo={goCause} onTry={tryFix} />
      </Box>
      <FiguresDialog light={light} pointer={figures} wrong={wrong} onClose={() => setFigures(undefined)} edit={edit} />
      <PartDialog light={light} variant={variantIndex} kind={part?.kind} usedAt={part?.usedAt ?? ''} onClose={() => setPart(undefined)}
        onPick={(next, label) => {
          edit(next, label)
          setPart(undefined)
        }} />
      <ConflictDialog handle={handle} />
      <Snackbar open={handle.message !== '' && handle.state === 'saved'} autoHideDuration={5000} onClose={handle.dismiss} message={handle.message} />
    </Box>
  )
}
