import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import type { Light, Variant } from '../api/client'
import { append, get, set, without } from '../document/pointer'
import type { Change } from '../document/store'
import { amps, digits } from '../units/quantity'
import { Renamable } from '../figures/Renamable'
import { useAnyFigures, useFigures } from '../solved/useSolved'
import { feedName, freshId, kindOfNode, kindWords, nodeName, sourceName, type NodeKindName } from '../document/names'
import { sourceKinds, type SourceKind } from '../document/sources'
import { idsOf, nodesOf, partOf, stageOf, timesOf, type Placed, type Stage } from '../document/tree'
import { copyBranch, freshNode, hangOn, toFront, moveTo, nodeKinds, placeOf, placesFor, putBefore, shift, takeOut } from '../document/edits'

type Options = [key: string, word: string][]

interface Props {
  light: Light
  variant: Variant
  at: string
  change: Change
  /** Leads to the workbench where a node's figures are set. */
  onGo: (stage: Stage, pointer: string) => void
  onChoose: (node: string) => void
}

type Kinds = [key: NodeKindName, word: string][]
const below = Object.entries(kindWords) as Kinds
const before = below.filter(([k]) => nodeKinds[k].feeds)

/** The power tree, from every source it must accept to what lights up: what hangs where, what flows there now, and every way of changing it. */
export function PowerTree(props: Props) {
  const { variant, at, change, onGo, onChoose } = props
  const name = (pointer: string, value: string) => change((l) => set(l, `${pointer}/name`, value || undefined), 'Name')
  const hang = (kind: NodeKindName, owner: string) => {
    const node = freshNode(variant, kind)
    change((l) => hangOn(l, owner, node), `${kindWords[kind]} added`)
    onChoose(node.id)
  }
  const newId = (kind: string) => freshId(kind, idsOf(variant))
  return (
    <Box data-testid="tree">
      {variant.feeds.map((f, i) => {
        const here = `${at}/feeds/${i}`
        const word = feedName(f)
        return (
          <Box key={f.id} role="group" aria-label={`Feed ${word}`} sx={{ mb: 1.5 }}>
            <Row depth={0}>
              <Renamable value={f.name ?? ''} fallback="Where power comes in" strong onName={(v) => name(here, v)} />
              <Flow id={f.id} figures={['busV', 'busA', 'sourceW']} />
              <Pick label={`Add a source to ${word}`} word="+ source" options={Object.entries(sourceKinds).map(([k, s]) => [k, s.word])} onPick={(k) => change((l) => append(l, `${here}/sources`, sourceKinds[k as SourceKind].make(newId(k))), 'A source it must accept')} />
              <Pick label={`Hang something below ${word}`} word="+ below" options={below} onPick={(k) => hang(k, here)} />
              {variant.feeds.length > 1 && <Small label={`Remove feed ${word}`} onClick={() => change((l) => without(l, `${at}/feeds`, i, true), 'Feed removed')}>×</Small>}
            </Row>
            {f.sources.map((s, k) => (
              <Row key={s.id} depth={1}>
                <Box component="button" type="button" onClick={() => onGo('source', `${here}/sources/${k}`)} sx={{ all: 'unset', cursor: 'pointer', flex: 1, color: k === 0 ? 'var(--power-ink)' : 'var(--ink-soft)', '&:hover': { textDecoration: 'underline' }, '&:focus-visible': { outline: '2px solid var(--power)' } }}>
                  {k === 0 ? '▸ ' : '· '}
                  {sourceName(s)}
                  <Box component="span" sx={{ color: 'var(--ink-soft)' }}>{k === 0 ? ', in use' : ', must be accepted'}</Box>
                </Box>
                {k > 0 && <Small label={`Run from ${sourceName(s)}`} onClick={() => change((l) => toFront(l, `${here}/sources`, k), 'Source in use')}>use</Small>}
                {f.sources.length > 1 && <Small label={`Remove ${sourceName(s)}`} onClick={() => change((l) => without(l, `${here}/sources`, k, true), 'Source removed')}>×</Small>}
              </Row>
            ))}
            {nodesOf(variant, at).filter((p) => p.feed === i).map((p) => <NodeRow key={p.node.id} {...props} p={p} onName={(v) => name(p.pointer, v)} onHang={(k) => hang(k, p.pointer)} />)}
          </Box>
        )
      })}
      <Button sx={{ p: 0, minWidth: 0 }} onClick={() => change((l) => append(l, `${at}/feeds`, { id: newId('feed'), sources: [], loads: [] }), 'Another feed')}>Another feed or rail…</Button>
    </Box>
  )
}

function NodeRow({ light, variant, at, change, onGo, onChoose, p, onName, onHang }: Props & { p: Placed; onName: (v: string) => void; onHang: (kind: NodeKindName) => void }) {
  const kind = kindWords[kindOfNode(p.node)]
  const what = nodeName(p.node)
  const part = partOf(light, p.node.driver?.partId ?? p.node.array?.partId ?? p.node.strip?.partId ?? p.node.load?.partId)?.part
  const boards = p.node.array?.count ?? 1
  const { owner, index } = placeOf(p.pointer)
  const siblings = (get(light, `${owner}/loads`) as unknown[]).length
  const places = placesFor(variant, at, p.pointer)
  const moves: Options = [...(index > 0 ? ([['up', 'Up one place']] as Options) : []), ...(index < siblings - 1 ? ([['down', 'Down one place']] as Options) : []), ...places.map((to): [string, string] => [to.owner, `Hang it on ${to.name}`])]
  const move = (key: string) => change((l) => key === 'up' ? shift(l, p.pointer, -1) : key === 'down' ? shift(l, p.pointer, 1) : moveTo(l, p.pointer, key), `${what} moved`)
  const insert = (k: NodeKindName) => {
    const node = freshNode(variant, k)
    change((l) => putBefore(l, p.pointer, node), `${kindWords[k]} put before ${what}`)
    onChoose(node.id)
  }
  const open = p.node.switch?.open === true
  return (
    <Row depth={1 + p.above.length}>
      <Box sx={{ flex: '1 1 150px', minWidth: 0 }}>
        <Renamable value={p.node.name ?? ''} fallback={kind} onName={onName} />
        <Box component="button" type="button" onClick={() => onGo(stageOf(p.node), p.pointer)} sx={{ all: 'unset', cursor: 'pointer', display: 'block', fontSize: 12, color: 'var(--ink-soft)', maxWidth: '100%', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', '&:hover': { textDecoration: 'underline' }, '&:focus-visible': { outline: '2px solid var(--power)' } }}>
          {p.node.name ? kind.toLowerCase() : ''}
          {part ? `${p.node.name ? ' · ' : ''}${part.name}` : ''}
          {boards > 1 ? ` · ${boards} boards` : ''}
        </Box>
      </Box>
      <Times key={p.node.count ?? 1} what={what} value={p.node.count ?? 1} onChange={(n) => change((l) => set(l, `${p.pointer}/count`, n > 1 ? n : undefined), `${n} × ${what}`)} />
      {p.node.switch && <Small label={`${what} is ${open ? 'off' : 'on'}`} onClick={() => change((l) => set(l, `${p.pointer}/switch/open`, open ? undefined : true), 'Switch')}>{open ? 'off' : 'on'}</Small>}
      <Flow id={p.node.id} figures={['inV', 'inA', 'inW']} each={timesOf(p) > 1} />
      <Pick label={`Put something before ${what}`} word="+ before" options={before} onPick={insert} />
      {nodeKinds[kindOfNode(p.node)].feeds ? <Pick label={`Hang something below ${what}`} word="+ below" options={below} onPick={onHang} /> : <Box sx={{ width: 51, display: { xs: 'none', sm: 'block' } }} />}
      <Pick label={`Move ${what}`} word="move" options={moves} onPick={move} />
      <Small label={`Copy ${what}`} onClick={() => change((l) => copyBranch(l, variant, p.pointer), 'Branch copied')}>copy</Small>
      <Pick label={`Remove ${what}`} word="×" options={(p.node.loads?.length ?? 0) > 0 ? [['all', 'Remove with all below it'], ['keep', 'Remove, keep what hangs on it']] : undefined} onPick={(k) => change((l) => takeOut(l, p.pointer, k === 'keep'), 'Taken out of the tree')} />
    </Row>
  )
}

/** One line of the tree; what hangs deeper stands further in, along a wire. */
function Row({ depth, children }: { depth: number; children: React.ReactNode }) {
  return (
    <Box sx={{ display: 'flex', flexWrap: { xs: 'wrap', sm: 'nowrap' }, alignItems: 'center', columnGap: 0.5, ml: depth * 1.75, pl: depth > 0 ? 1 : 0, borderLeft: depth > 0 ? '2px solid var(--power-soft)' : 0, borderBottom: '1px solid var(--line)', minHeight: 30, py: 0.25, fontSize: 13 }}>
      {children}
    </Box>
  )
}

/** What flows into a node now. */
function Flow({ id, figures: [volts, current, watts], each }: { id: string; figures: [volts: string, amps: string, watts: string]; each?: boolean }) {
  const { [volts]: v, [current]: a, [watts]: w } = useFigures(id, volts, current, watts)
  const known = useAnyFigures(id)
  if (v === undefined) return null
  return (
    <Box className="figure" sx={{ flex: '0 0 auto', color: (w ?? 0) > 0 ? 'var(--power-ink)' : 'var(--ink-soft)', fontSize: 12, whiteSpace: 'nowrap' }}>
      {(w ?? 0) > 0 ? `${digits(v, 3)} V · ${amps(a ?? 0)}${each ? ' each' : ''}` : known ? 'no power' : 'not known'}
    </Box>
  )
}

const mostAlike = 1000

/** How many of a node there are side by side, each with all that hangs on it. */
function Times({ what, value, onChange }: { what: string; value: number; onChange: (n: number) => void }) {
  const [text, setText] = useState(String(value))
  const n = Number(text)
  const wrong = Number.isInteger(n) && n >= 1 && n <= mostAlike ? undefined : `How many of ${what}: a whole number from 1 to ${mostAlike}`
  return (
    <Box component="label" title={wrong ?? `How many of ${what} there are, each with all that hangs on it`} sx={{ flex: '0 0 auto', color: value > 1 || wrong ? 'var(--ink)' : 'var(--ink-soft)', fontSize: 12.5 }}>
      ×
      <Box component="input" inputMode="numeric" aria-label={`How many of ${what}`} aria-invalid={wrong !== undefined} value={text} onChange={(e: React.ChangeEvent<HTMLInputElement>) => setText(e.target.value)} onBlur={() => !wrong && n !== value && onChange(n)}
        onKeyDown={(e: React.KeyboardEvent) => e.key === 'Enter' && (e.target as HTMLElement).blur()}
        sx={{ width: '3.2ch', border: 0, borderBottom: wrong ? '2px solid var(--stop)' : '1px solid var(--line)', background: 'none', color: 'inherit', font: 'inherit', p: 0, ml: '1px' }} />
      {wrong && <Box role="alert" sx={{ color: 'var(--stop)', fontSize: 12, width: 130 }}>{wrong}</Box>}
    </Box>
  )
}

function Small({ label, onClick, children }: { label: string; onClick: (e: React.MouseEvent<HTMLElement>) => void; children: React.ReactNode }) {
  return (
    <Button aria-label={label} title={label} color="inherit" sx={{ minWidth: 20, p: '0 4px', fontSize: 12.5, color: 'var(--ink-soft)', flex: '0 0 auto' }} onClick={onClick}>
      {children}
    </Button>
  )
}

/** A small button; with options it opens a menu of them. */
function Pick<K extends string = string>({ label, word, options, onPick }: { label: string; word: string; options?: [key: K, word: string][]; onPick: (key: K) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement>()
  return (
    <>
      <Small label={label} onClick={(e) => (options ? setAnchor(e.currentTarget) : onPick('' as K))}>{word}</Small>
      {options && (
        <Menu anchorEl={anchor} open={anchor !== undefined} onClose={() => setAnchor(undefined)}>
          {options.length === 0 && <MenuItem dense disabled>There is no other place for it</MenuItem>}
          {options.map(([key, text]) => (
            <MenuItem key={key} dense
              onClick={() => {
                setAnchor(undefined)
                onPick(key)
              }}>
              {text}
            </MenuItem>
          ))}
        </Menu>
      )}
    </>
  )
}
