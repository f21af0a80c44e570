import { createStore } from 'zustand/vanilla'
import { answer, api, Offline, Problem, type Light, type StoredLight } from '../api/client'
import { keepApart, together, type Apart } from './apart'
import { settle } from './assumed'
import { closed, dropDraft, keepDraft, othersDrafts, readDraft, type Draft, type LeftDraft } from './drafts'
import { differences } from './pointer'

export type SaveState = 'loading' | 'saved' | 'saving' | 'unsaved' | 'offline' | 'failing' | 'refused' | 'conflict' | 'gone'

/** A change that is looked at and not saved until it is kept. */
export interface Trial {
  light: Light
  label: string
}

/** Makes a changed light of the one on screen. */
export type Change = (make: (light: Light) => Light, label: string, done?: boolean) => void

export interface LightState {
  /** The light as it is to be saved. */
  light?: Light
  /** Whether it lies in the bin, where nothing is saved to it. */
  inBin?: boolean
  trial?: Trial
  revision: number
  state: SaveState
  message: string
  canUndo: boolean
  canRedo: boolean
  theirs?: StoredLight
  /** Changes that tabs which are closed now left behind. */
  left: LeftDraft[]
  /** Parts changed just now in the variant on screen alone, which others take as they were. */
  apart: Apart[]
}

const idleMs = 2000
const retryMs = 1500
const failingMs = 5000

/** How much a browser sends on for a page that is left. */
const keepaliveBytes = 60_000

const headers = (revision: number, label: string) => ({ 'If-Match': `"${revision}"`, 'X-Photherm-Change': encodeURIComponent(label).slice(0, 120) })

/**
 * Holds one light: what is on screen, what is tried, what the server has, and the way between. An edit is on screen and in the
 * browser's own store at once; it goes to the server at the end of the gesture, and again until acknowledged.
 */
export class LightStore {
  readonly store = createStore<LightState>(() => ({ revision: 0, state: 'loading', message: '', canUndo: false, canRedo: false, left: [], apart: [] }))
  private readonly id: string
  private timer: ReturnType<typeof setTimeout> | undefined
  private busy = false
  private dirty = false
  private label = ''
  /** The last draft on its way into the browser's own store. */
  private kept: Promise<unknown> = Promise.resolve()
  private closed = false
  /** Other tabs that have changes of this light in work. */
  private readonly watched = new Set<string>()
  private leaving = new AbortController()
  /** The variant on screen: a part is changed in that one alone. */
  private variant = 0

  constructor(id: string) {
    this.id = id
  }

  private get state() {
    return this.store.getState()
  }

  private put(part: Partial<LightState>) {
    if (!this.closed) this.store.setState(part)
  }

  private accept(l: StoredLight, keepMine = false) {
    this.put({
      revision: l.revision,
      canUndo: l.canUndo,
      canRedo: l.canRedo,
      inBin: l.deleted,
      light: keepMine ? this.state.light : l.light,
      theirs: undefined,
      message: '',
    })
  }

  async load() {
    try {
      const stored = await answer(api.GET('/api/lights/{id}', { params: { path: { id: this.id } } }))
      const draft = await readDraft(this.id)
      this.accept(stored)
      void this.offerLeft(stored.light)
      // A draft equal to what is stored was saved, and only the acknowledgement was lost.
      if (draft && differences(draft.light, stored.light, 1).length === 0) await dropDraft(this.id)
      else if (draft) return this.resume(draft, stored)
      this.put({ state: 'saved' })
    } catch (e) {
      if (e instanceof Offline) {
        const draft = await readDraft(this.id)
        if (draft && !this.state.light) {
          this.dirty = true
          this.put({ light: draft.light, revision: draft.base })
        }
        this.put({ state: 'offline', message: e.message })
        this.later(() => (this.state.light ? void this.save() : void this.load()), retryMs)
      } else this.put({ state: 'gone', message: (e as Error).message })
    }
  }

  private resume(draft: Draft, stored: StoredLight) {
    this.dirty = true
    this.label = draft.label
    this.put({ light: draft.light })
    if (draft.base === stored.revision) return void this.save()
    this.put({ state: 'conflict', theirs: stored, revision: draft.base })
  }

  /** Offers what closed tabs left behind, but what is stored already. */
  private async offerLeft(stored: Light) {
    const { left, inWork } = await othersDrafts(this.id)
    for (const d of left) if (differences(d.light, stored, 1).length === 0) void dropDraft(this.id, d.tab)
    this.put({ left: left.filter((d) => differences(d.light, stored, 1).length > 0) })
    for (const { tab } of inWork) {
      if (this.watched.has(tab)) continue
      this.watched.add(tab)
      void closed(tab, this.leaving.signal).then((gone) => {
        this.watched.delete(tab)
        if (gone && this.state.light) void this.offerLeft(this.state.light)
      })
    }
  }

  /** Takes what another tab left behind, on top of what is stored; what stands there now is shown beside it if that has moved on. */
  takeLeft = async (d: LeftDraft) => {
    await this.save()
    if (this.dirty || this.busy) return
    try {
      const stored = await answer(api.GET('/api/lights/{id}', { params: { path: { id: this.id } } }))
      this.accept(stored)
      this.put({ left: this.state.left.filter((o) => o !== d) })
      await keepDraft(this.id, d)
      await dropDraft(this.id, d.tab)
      this.resume(d, stored)
    } catch (e) {
      this.put({ message: (e as Error).message })
    }
  }

  dropLeft = async (d: LeftDraft) => {
    await dropDraft(this.id, d.tab)
    this.put({ left: this.state.left.filter((o) => o !== d) })
  }

  private later(f: () => void, ms: number) {
    clearTimeout(this.timer)
    this.timer = setTimeout(f, ms)
  }

  /** Puts a changed light on screen, or into what is tried. `done` ends the gesture; without it the change is saved when idle. */
  edit = (changed: Light, label: string, done = true) => {
    const { trial, light: saved } = this.state
    const before = trial?.light ?? saved
    const { light, apart } = before ? keepApart(before, settle(before, changed), this.variant) : { light: changed, apart: [] }
    if (apart.length > 0) this.put({ apart })
    if (trial) this.put({ trial: { light, label: `${trial.label}, ${label}` } })
    else this.replace(light, label, done)
  }

  /** The variant on screen, by its place. */
  show = (variant: number) => {
    this.variant = variant
    if (this.state.apart.length > 0) this.put({ apart: [] })
  }

  /** What was changed in one variant alone is changed in all. */
  inAll = () => {
    const { apart } = this.state
    this.put({ apart: [] })
    const change = (l: Light) => apart.reduce(together, l)
    this.both(change, 'Changed in every variant')
  }

  /** Changes what is on screen now, whatever has come between. */
  change: Change = (make, label, done = true) => {
    const { light, trial } = this.state
    const shown = trial?.light ?? light
    if (shown) this.edit(make(shown), label, done)
  }

  /** What is no part of a trial is done to what is tried as well, so that keeping it loses nothing. */
  both = (change: (l: Light) => Light, label: string) => {
    const { light, trial } = this.state
    if (light) this.replace(settle(light, change(light)), label, true)
    if (trial) this.put({ trial: { ...trial, light: settle(trial.light, change(trial.light)) } })
  }

  tryOut = (changed: Light, label: string) => {
    const { light } = this.state
    this.put({ trial: { light: light ? keepApart(light, settle(light, changed), this.variant).light : changed, label } })
  }

  discardTrial = () => this.put({ trial: undefined })

  keepTrial = () => {
    const { trial } = this.state
    if (!trial) return
    this.put({ trial: undefined })
    this.replace(trial.light, trial.label, true)
  }

  private replace(light: Light, label: string, done: boolean) {
    if (this.state.state === 'conflict') return
    this.dirty = true
    this.label = label
    this.put({ light, state: this.state.state === 'offline' || this.state.state === 'failing' ? this.state.state : 'unsaved' })
    this.kept = keepDraft(this.id, { base: this.state.revision, light, label })
    if (done) void this.save()
    else this.later(() => void this.save(), idleMs)
  }

  /** Saves what is not saved yet; `closing` lets it go on while the page is left. */
  save = async (closing = false) => {
    clearTimeout(this.timer)
    if (this.busy || !this.dirty || !this.state.light || this.state.state === 'conflict') return
    this.busy = true
    this.dirty = false
    const light = this.state.light
    this.put({ state: this.state.state === 'offline' || this.state.state === 'failing' ? this.state.state : 'saving' })
    try {
      const stored = await answer(api.PUT('/api/lights/{id}', { params: { path: { id: this.id }, header: headers(this.state.revision, this.label) }, body: light, keepalive: closing && JSON.stringify(light).length < keepaliveBytes }))
      this.accept(stored, true)
      if (this.dirty) void keepDraft(this.id, { base: stored.revision, light: this.state.light, label: this.label })
      else await dropDraft(this.id)
      this.put({ state: this.dirty ? 'unsaved' : 'saved' })
    } catch (e) {
      this.dirty = true
      await this.kept // that it is kept is said when it is
      this.failed(e)
    } finally {
      this.busy = false
    }
    if (this.dirty && this.state.state === 'unsaved') this.later(() => void this.save(), idleMs)
  }

  private failed(e: unknown) {
    if (e instanceof Offline) {
      this.put({ state: 'offline', message: e.message })
      this.later(() => void this.save(), retryMs)
    } else if (e instanceof Problem && e.status === 412 && e.theirs) {
      if (this.state.light && differences(this.state.light, e.theirs.light, 1).length === 0) {
        this.dirty = false
        void dropDraft(this.id)
        this.accept(e.theirs)
        this.put({ state: 'saved' })
      } else this.put({ state: 'conflict', theirs: e.theirs, message: e.message })
    } else if (e instanceof Problem && (e.status >= 500 || e.status === 401 || e.status === 409)) {
      // The fault is the server's, or it wants the passphrase again: like being offline, but it is said.
      this.put({ state: 'failing', message: e.message, inBin: e.status === 409 })
      this.later(() => void this.save(), failingMs)
    } else this.put({ state: 'refused', message: (e as Error).message })
  }

  /** Takes the light back from the bin, and what was typed into it. */
  takeBack = async () => {
    try {
      await answer(api.POST('/api/lights/{id}/restore', { params: { path: { id: this.id } } }))
      this.put({ inBin: false })
      await this.save()
    } catch (e) {
      this.put({ message: (e as Error).message })
    }
  }

  undo = () => void this.step('undo')

  redo = () => void this.step('redo')

  private async step(direction: 'undo' | 'redo') {
    await this.save()
    if (this.busy || this.dirty) return
    this.busy = true
    try {
      const path = direction === 'undo' ? '/api/lights/{id}/undo' : '/api/lights/{id}/redo'
      this.accept(await answer(api.POST(path, { params: { path: { id: this.id }, header: headers(this.state.revision, '') } })))
      this.put({ state: 'saved' })
    } catch (e) {
      if (e instanceof Problem && e.status === 409) this.put({ message: e.message })
      else if (e instanceof Problem && e.status === 412 && e.theirs) this.accept(e.theirs)
      else if (e instanceof Offline) this.put({ message: e.message })
      else this.failed(e)
    } finally {
      this.busy = false
    }
  }

  /** Ends a conflict: mine goes on top of theirs as a new revision, or theirs takes its place. */
  settle = async (which: 'mine' | 'theirs') => {
    const theirs = this.state.theirs
    if (!theirs) return
    const mine = this.state.light
    this.accept(theirs)
    if (which === 'theirs') {
      this.dirty = false
      await dropDraft(this.id)
      return this.put({ state: 'saved' })
    }
    this.dirty = true
    this.put({ light: mine, state: 'unsaved' })
    await this.save()
  }

  /** Looks whether another tab has changed the light while nothing is pending here. */
  async look() {
    if (this.busy || this.dirty || this.state.state !== 'saved') return
    try {
      const stored = await answer(api.GET('/api/lights/{id}', { params: { path: { id: this.id } } }))
      if (!this.dirty && !this.busy && stored.revision > this.state.revision) this.accept(stored)
      void this.offerLeft(stored.light)
    } catch {
      // the next edit will tell
    }
  }

  dismiss = () => {
    this.put({ message: '', apart: [] })
  }

  close() {
    this.closed = true
    this.leaving.abort()
    clearTimeout(this.timer)
  }

  open() {
    this.closed = false
    if (this.leaving.signal.aborted) this.leaving = new AbortController()
  }
}
