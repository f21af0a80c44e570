import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Snackbar from '@mui/material/Snackbar'
import { Suspense, useEffect, useMemo, useRef, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { useStore } from 'zustand/react'
import { Problem, type Finding } from '../api/client'
import { set } from '../document/pointer'
import { nodeAt, nodesOf, stages, type Placed, type Stage } from '../document/tree'
import type { LightState } from '../document/store'
import { LightContext, useLight } from '../document/useLight'
import { useKeyList } from '../keys/keyList'
import { useKeys, type Key } from '../keys/useKeys'
import type { PartKind } from '../parts/description'
import { useSettings } from '../settings/SettingsProvider'
import { SolvedStore } from '../solved/store'
import { SolvedContext } from '../solved/useSolved'
import { show, text } from '../units/quantity'
import { Answers } from './Answers'
import { controlOf, partPointer, stageFor } from './cause'
import { ConflictDialog } from './ConflictDialog'
import { Findings } from './Findings'
import { later } from './later'
import { Notices } from './Notices'
import { RibbonView } from '../ribbon/RibbonView'
import { Scrubber } from './Scrubber'
import { StageArea } from './StageArea'
import { TopLine } from './TopLine'
import { useCalm } from './useCalm'
import { useFolded } from '../ribbon/useFolded'
import { useSteady } from './useSteady'
import css from './frame.module.css'

// What stands behind a click is not in the first load.
const PartDialog = later(async () => (await import('../parts/PartDialog')).PartDialog)
const AssumedDialog = later(async () => (await import('./AssumedDialog')).AssumedDialog)
const BenchFace = later(async () => (await import('../bench/BenchFace')).BenchFace)
const FiguresDialog = later(async () => (await import('../parts/FiguresDialog')).FiguresDialog)

/** How long a view that opens for a control is waited for, chosen. */
const patienceMs = 3000

/** One light: answers, ribbon, clock, the open stage's workbench and the findings, all in one view. */
export function LightPage() {
  const { id = '' } = useParams()
  return <Loaded key={id} id={id} />
}

function Loaded({ id }: { id: string }) {
  const { doc, ...state } = useLight(id)
  const { stage: stageInUrl } = useParams()
  const [query, setQuery] = useSearchParams()
  const navigate = useNavigate()
  const { settings } = useSettings()
  const { setKeys, showKeys } = useKeyList()
  const clockHandle = useRef<HTMLDivElement>(null)
  const [solved] = useState(() => new SolvedStore(true))
  const [before] = useState(() => new SolvedStore(false))
  const [part, setPart] = useState<{ kind: PartKind; usedAt: string }>()
  const [figures, setFigures] = useState<string>()
  const [assuming, setAssuming] = useState(false)
  const [cause, setCause] = useState<{ stage: Stage; pointer: string }>()
  const [chosen, setChosen] = useState<string>()

  const bench = stageInUrl === 'bench'
  const record = useRef<() => void>(() => undefined)
  const stage: Stage = stages.includes(stageInUrl as Stage) ? (stageInUrl as Stage) : 'overview'
  const pane = query.get('pane') ?? ''
  const { light: saved, trial } = state
  const index = Math.min(Math.max(Number(query.get('v') ?? 0) || 0, 0), Math.max((saved?.variants.length ?? 1) - 1, 0))
  const light = trial?.light ?? saved
  const at = `/variants/${index}`
  const variant = light?.variants[index]
  // Workbench, charts and lists may lag behind the field that is being changed, and behind the figures.
  const later = useCalm(light, solved)
  const calm = later?.variants[index] ? later : light
  const [folded, fold] = useFolded(stage !== 'overview' || pane !== '' || bench)

  // Asked for with the edit itself, not when the page has been drawn for it.
  useEffect(() => {
    const ask = (s: LightState) => {
      const shown = s.trial?.light ?? s.light
      if (shown) solved.want(shown, index)
    }
    ask(doc.store.getState())
    return doc.store.subscribe((s, old) => (s.light !== old.light || s.trial !== old.trial) && ask(s))
  }, [solved, doc, index])
  useEffect(() => doc.show(index), [doc, index])
  useEffect(() => {
    if (trial && saved) before.want(saved, index)
  }, [before, trial, saved, index])
  useEffect(
    () => () => {
      solved.close()
      before.close()
    },
    [solved, before],
  )
  const error = useStore(solved.state, (s) => s.error)
  const problem = error instanceof Problem ? error : undefined
  const wrong = useMemo(() => new Map((problem?.fields ?? []).map((f) => [f.location, f.message])), [problem])
  const assumptions = useStore(solved.state, (s) => s.solution?.assumed)
  const summaryBefore = useStore(before.state, (s) => s.solution)

  // The address holds whole seconds, rounded up: its last one is the very end, past the cut-off.
  const wrote = useRef<{ text: string; t: number }>(undefined)
  const askedT = query.get('t')
  useEffect(() => {
    if (askedT === null) solved.at(undefined)
    else solved.at(wrote.current?.text === askedT ? wrote.current.t : Number(askedT) || 0)
  }, [solved, askedT])

  useEffect(() => {
    if (!cause || cause.stage !== stage) return
    let frame = 0
    const from = performance.now()
    const look = () => {
      const control = controlOf(cause.pointer)
      // What stands in a view of its own comes a moment later.
      if (cause.pointer.includes('/layouts/') && !control?.dataset.pointer?.includes('/layouts/') && performance.now() - from < patienceMs) {
        frame = requestAnimationFrame(look)
        return
      }
      // A part's figure that is not on the page stands among all its figures.
      if (partPointer(cause.pointer) && control?.dataset.pointer !== cause.pointer) setFigures(cause.pointer)
      else control?.focus()
      setCause(undefined)
    }
    frame = requestAnimationFrame(look)
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
  const goTo = (face: string) => {
    const next = new URLSearchParams(query)
    if ((face === '/bench') !== bench) next.delete('pane')
    void navigate({ pathname: `/lights/${id}${face}`, search: next.toString() }, { replace: true })
  }
  const goStage = (s: Stage) => goTo(s === 'overview' ? '' : `/${s}`)
  const onT = useSteady((t: number, done: boolean) => {
    solved.at(t)
    if (!done) return
    wrote.current = { text: Math.ceil(t).toFixed(0), t }
    keep({ t: wrote.current.text })
  })
  const onParts = useSteady((kind: PartKind, usedAt: string) => setPart({ kind, usedAt }))
  const onTree = useSteady(() => {
    const next = new URLSearchParams(query)
    next.set('pane', 'tree')
    void navigate({ pathname: `/lights/${id}`, search: next.toString() }, { replace: true })
  })
  // A finding leads to the stage where its cause is set, and into the control that sets it.
  const goCause = useSteady((s: Stage, pointer?: string) => {
    const place = pointer ?? ''
    const there = stageFor(place) ?? s
    const node = variant && nodeAt(variant, at, place)
    if (node) setChosen(node.node.id)
    if (place.includes('/layouts/')) {
      const next = new URLSearchParams(query)
      next.set('pane', 'plate')
      void navigate({ pathname: `/lights/${id}/heat`, search: next.toString() }, { replace: true })
    } else goStage(there)
    setCause({ stage: there, pointer: place })
  })
  const onFold = useSteady(fold)
  const onBench = useSteady(() => goTo(bench ? '' : '/bench'))
  const onAssumed = useSteady(() => setAssuming(true))
  const onStage = useSteady((s: Stage, node?: string) => {
    if (node) setChosen(node)
    goStage(s)
  })
  const onSwitch = useSteady((of: Placed) => {
    const p = variant && nodesOf(variant, at).find((q) => q.node.id === of.node.id)
    if (p) doc.change((l) => set(l, `${p.pointer}/switch/open`, p.node.switch?.open ? undefined : true), 'Switch')
  })
  const tryFix = useSteady((f: Finding) => {
    if (f.fix && light) doc.tryOut(f.fix.patch.reduce((l, p) => set(l, p.path, p.value), light), f.fix.label)
  })
  const onVariant = useSteady((i: number) => keep({ v: String(i) }))
  const onPane = useSteady((v: string) => keep({ pane: v || undefined }))
  const keys: Key[] = [
    ...stages.map((s, i) => ({ key: String(i), does: s === 'overview' ? 'overview' : `${s} workbench`, run: () => goStage(s) })),
    { key: 'V', does: 'next variant', run: () => saved && keep({ v: String((index + 1) % saved.variants.length) }) },
    { key: 'T', does: 'to the clock', run: () => clockHandle.current?.focus() },
    { key: 'B', does: bench ? 'away from the bench' : 'to the bench', run: () => goTo(bench ? '' : '/bench') },
    { key: 'R', does: bench ? 'record a reading' : 'fold or draw the ribbon', run: () => (bench ? record.current() : fold()) },
    { key: 'U', does: 'take the last change back', run: doc.undo },
    { key: '?', does: 'show the keys', run: showKeys },
  ]
  useKeys(keys, doc.undo, doc.redo)
  useEffect(() => {
    setKeys(keys)
    return () => setKeys([])
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the list changes only with the page
  }, [id])

  if (state.state === 'gone') {
    return (
      <Box sx={{ p: 3 }}>
        <h1>This light is not here</h1>
        <p>{state.message}</p>
        <Link to="/">Back to the shelf</Link>
      </Box>
    )
  }
  if (!saved || !light || !calm || !variant) {
    return <Box sx={{ p: 3, color: 'var(--ink-soft)' }}>{state.state === 'offline' ? 'The server does not answer; trying again…' : 'Fetching the light…'}</Box>
  }

  const air = `${text(show(light.conditions.ambientC, 'temperature', settings))} air${light.conditions.handheld ? ' · in the hand' : ''}`

  return (
    <LightContext value={doc}>
    <SolvedContext value={solved}>
      <div className={css.page}>
        <TopLine id={id} doc={doc} variant={index} air={air} bench={bench} onBench={onBench} onVariant={onVariant} />
        <Notices doc={doc} state={state} problem={problem} offline={state.state === 'offline' || Boolean(error && !problem)} />
        <div className={css.stuck}>
          <Answers light={calm} variant={index} before={trial ? summaryBefore : undefined} onAssumed={onAssumed} />
        </div>
        <div className={folded ? `${css.ribbon} ${css.slim}` : css.ribbon}>
          <RibbonView open={stage} chosen={chosen} folded={folded} failed={Boolean(problem)} onFold={onFold} onSwitch={onSwitch} onStage={onStage} />
        </div>
        <Scrubber onT={onT} handle={clockHandle} />
        <div className={bench ? `${css.columns} ${css.benchColumns}` : css.columns}>
          {bench ? (
            <Suspense>
              <BenchFace id={id} doc={doc} light={calm} index={index} pane={pane} onPane={onPane} onGo={(pointer) => goCause(stageFor(pointer) ?? 'overview', pointer)} recordRef={record} />
            </Suspense>
          ) : <>
          <StageArea doc={doc} light={calm} index={index} stage={stage} pane={pane} wrong={wrong} chosen={chosen} onPane={onPane} onGo={goCause} onParts={onParts} onFigures={setFigures} onChoose={setChosen} onTree={onTree} />
          <Findings onGo={goCause} onTry={tryFix} />
          </>}
        </div>
        <Suspense>
        {figures !== undefined && <FiguresDialog light={light} pointer={figures} wrong={wrong} onClose={() => setFigures(undefined)} change={doc.change} />}
        {assuming && <AssumedDialog light={light} assumed={assumptions ?? []} onClose={() => setAssuming(false)}
          onGo={(pointer) => {
            setAssuming(false)
            goCause(stageFor(pointer) ?? stage, pointer)
          }}
          onSure={(sure) => doc.change((l) => set(l, `${at}/assumed`, l.variants[index]?.assumed?.filter((a) => a.at !== sure)), 'It is so')} />}
        {part && <PartDialog light={light} variant={index} kind={part.kind} usedAt={part.usedAt} onClose={() => setPart(undefined)}
          onPick={(next, label) => {
            doc.edit(next, label)
            setPart(undefined)
          }} />}
        </Suspense>
        <ConflictDialog doc={doc} state={state} />
        <Snackbar open={state.apart.length > 0} autoHideDuration={8000} onClose={(_, reason) => reason !== 'clickaway' && doc.dismiss()} message="Changed in this variant alone; others keep the part as it was."
          action={<Button color="inherit" size="small" onClick={doc.inAll}>Change it in all</Button>} />
        <Snackbar open={state.message !== '' && state.state === 'saved'} autoHideDuration={5000} onClose={doc.dismiss} message={state.message} />
      </div>
    </SolvedContext>
    </LightContext>
  )
}
