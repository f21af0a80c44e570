import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import type { LightNode, Schemas } from '../../api/client'
import { get, set } from '../../document/pointer'
import { freshId, idsOf, nodesOf } from '../tree'
import type { BenchProps } from './fields'

type Feed = Schemas['Feed']
type Source = Schemas['Source']

const kinds: Record<string, { word: string; make: (body?: string) => Partial<LightNode>; feeds: boolean }> = {
  switch: { word: 'Switch', make: () => ({ switch: { contactOhm: 0.02 } }), feeds: true },
  dimmer: { word: 'Wall dimmer', make: () => ({ dimmer: { level: 1 } }), feeds: true },
  driver: { word: 'Driver', make: (body) => ({ bodyId: body, driver: {} }), feeds: true },
  array: { word: 'Emitters', make: (body) => ({ bodyId: body, array: { series: 1, parallel: 1 } }), feeds: false },
  strip: { word: 'Strip', make: (body) => ({ bodyId: body, strip: { piecesM: [1] } }), feeds: false },
  load: { word: 'Measured load', make: (body) => ({ bodyId: body, load: { points: [{ voltageV: 12, currentA: 0.5 }] } }), feeds: false },
  auxiliary: { word: 'Fan, gauge or controller', make: (body) => ({ bodyId: body, auxiliary: { purpose: 'controller', currentA: 0.005 } }), feeds: false },
}

const kindOf = (n: LightNode) => Object.keys(kinds).find((k) => (n as Record<string, unknown>)[k] !== undefined) ?? 'array'

const sources: Record<string, { word: string; make: (id: string) => Source }> = {
  pack: { word: 'Pack of cells', make: (id) => ({ id, pack: { series: 1, parallel: 1 } }) },
  supply: { word: 'Adapter, rail or bench supply', make: (id) => ({ id, supply: { voltageV: 12 } }) },
  mains: { word: 'Wall socket', make: (id) => ({ id, mains: { voltageV: 230, frequencyHz: 50 } }) },
}
const sourceWord = (s: Source) => s.name ?? (s.pack ? `${s.pack.series}S${s.pack.parallel}P pack` : s.supply ? `${s.supply.voltageV} V supply` : s.mains ? `${s.mains.voltageV} V mains` : 'not chosen yet')

/** The power tree, from every source it must accept to what lights up: branches are added, named, moved and taken away. */
export function TreeEditor(bench: BenchProps) {
  const { light, variant, at, edit } = bench
  const taken = () => idsOf(variant)
  const body = variant.bodies[0]?.id
  const addBelow = (pointer: string, kind: string) => {
    const list = (get(light, `${pointer}/loads`) as LightNode[] | undefined) ?? []
    edit(set(light, `${pointer}/loads`, [...list, { id: freshId(kind, taken()), ...kinds[kind]!.make(body) }]), `${kinds[kind]!.word} added`)
  }
  const listAt = (pointer: string): [string, LightNode[], number] => {
    const i = pointer.lastIndexOf('/')
    return [pointer.slice(0, i), get(light, pointer.slice(0, i)) as LightNode[], Number(pointer.slice(i + 1))]
  }
  const putList = (at: string, list: LightNode[], label: string) => edit(set(light, at, list.length > 0 || /feeds\/\d+\/loads$/.test(at) ? list : undefined), label)
  const remove = (pointer: string, keepBelow: boolean) => {
    const [where, list, i] = listAt(pointer)
    putList(where, [...list.slice(0, i), ...(keepBelow ? (list[i]!.loads ?? []) : []), ...list.slice(i + 1)], 'Taken out of the tree')
  }
  const copy = (pointer: string) => {
    const [where, list, i] = listAt(pointer)
    const ids = taken()
    const fresh = (n: LightNode): LightNode => {
      const id = freshId(n.id.replace(/-\d+$/, ''), ids)
      ids.push(id)
      return { ...n, id, name: n.name ? `${n.name}, copy` : undefined, loads: n.loads?.map(fresh) }
    }
    putList(where, [...list.slice(0, i + 1), fresh(list[i]!), ...list.slice(i + 1)], 'Branch copied')
  }
  const putFeed = (i: number, f: Feed | undefined, label: string) => edit(set(light, `${at}/feeds`, f ? variant.feeds.map((old, k) => (k === i ? f : old)) : variant.feeds.filter((_, k) => k !== i)), label)
  const name = (pointer: string, value: string) => edit(set(light, `${pointer}/name`, value || undefined), 'Name')
  const row = (depth: number, key: string, children: React.ReactNode) => (
    <Box key={key} sx={{ display: 'flex', alignItems: 'center', gap: 0.5, pl: depth * 1.5, borderTop: '1px solid var(--line)', minHeight: 28, fontSize: 13 }}>
      {children}
    </Box>
  )
  return (
    <Box data-testid="tree">
      <Box component="h2" sx={{ fontSize: 15, m: 0, mt: 2 }}>Power tree</Box>
      {variant.feeds.map((f, i) => (
        <Box key={f.id} role="group" aria-label={`Feed ${f.name ?? f.id}`}>
          {row(0, 'feed', (
            <>
              <Name value={f.name ?? ''} fallback="Where power comes in" onChange={(v) => name(`${at}/feeds/${i}`, v)} />
              <Add label={`Add a source to ${f.name ?? f.id}`} word="+ source" options={Object.entries(sources).map(([k, s]) => [k, s.word])} onPick={(k) => putFeed(i, { ...f, sources: [...f.sources, sources[k]!.make(freshId(k, taken()))] }, 'A source it must accept')} />
              <Add label={`Hang something on ${f.name ?? f.id}`} word="+" options={Object.entries(kinds).map(([k, n]) => [k, n.word])} onPick={(k) => addBelow(`${at}/feeds/${i}`, k)} />
              {variant.feeds.length > 1 && <Small label={`Remove feed ${f.name ?? f.id}`} onClick={() => putFeed(i, undefined, 'Feed removed')}>×</Small>}
            </>
          ))}
          {f.sources.map((s, k) => row(1, s.id, (
            <>
              <Box component="span" sx={{ color: k === 0 ? 'var(--power-ink)' : 'var(--ink-soft)', flex: 1 }}>
                {k === 0 ? '▸ ' : '· '}
                {sourceWord(s)}
                <Box component="span" sx={{ color: 'var(--ink-soft)' }}>{k === 0 ? ', in use' : ', must be accepted'}</Box>
              </Box>
              {k > 0 && <Small label={`Run from ${sourceWord(s)}`} onClick={() => putFeed(i, { ...f, sources: [s, ...f.sources.filter((o) => o !== s)] }, 'Source in use')}>use</Small>}
              {f.sources.length > 1 && <Small label={`Remove ${sourceWord(s)}`} onClick={() => putFeed(i, { ...f, sources: f.sources.filter((o) => o !== s) }, 'Source removed')}>×</Small>}
            </>
          )))}
          {nodesOf(variant, at).filter((p) => p.feed === i).map((p) => {
            const kind = kindOf(p.node)
            const what = p.node.name ?? kinds[kind]!.word
            return row(1 + p.above.length, p.node.id, (
              <>
                <Name value={p.node.name ?? ''} fallback={kinds[kind]!.word} onChange={(v) => name(p.pointer, v)} />
                {p.node.name && <Box component="span" sx={{ color: 'var(--ink-soft)', whiteSpace: 'nowrap' }}>{kinds[kind]!.word.toLowerCase()}</Box>}
                {kinds[kind]!.feeds && <Add label={`Hang something on ${what}`} word="+" options={Object.entries(kinds).map(([k, n]) => [k, n.word])} onPick={(k) => addBelow(p.pointer, k)} />}
                <Small label={`Copy ${what}`} onClick={() => copy(p.pointer)}>copy</Small>
                <Add label={`Remove ${what}`} word="×" options={(p.node.loads?.length ?? 0) > 0 ? [['all', 'Remove with all below it'], ['keep', 'Remove, keep what hangs on it']] : undefined} onPick={(k) => remove(p.pointer, k === 'keep')} />
              </>
            ))
          })}
        </Box>
      ))}
      <Button sx={{ p: 0, minWidth: 0 }} onClick={() => edit(set(light, `${at}/feeds`, [...variant.feeds, { id: freshId('feed', taken()), sources: [], loads: [] }]), 'Another feed')}>Another feed or rail…</Button>
    </Box>
  )
}

function Name({ value, fallback, onChange }: { value: string; fallback: string; onChange: (v: string) => void }) {
  return (
    <Box component="input" key={value} aria-label={`Name of ${value || fallback}`} defaultValue={value} placeholder={fallback} maxLength={120} onBlur={(e) => e.target.value.trim() !== value && onChange(e.target.value.trim())}
      onKeyDown={(e) => e.key === 'Enter' && (e.target as HTMLElement).blur()}
      sx={{ flex: 1, minWidth: 0, border: 0, background: 'none', color: 'inherit', font: 'inherit', p: 0, textOverflow: 'ellipsis', '&::placeholder': { color: 'var(--ink)', opacity: 1 } }} />
  )
}

function Small({ label, onClick, children }: { label: string; onClick: (e: React.MouseEvent<HTMLElement>) => void; children: React.ReactNode }) {
  return (
    <Button aria-label={label} title={label} color="inherit" sx={{ minWidth: 20, p: '0 4px', fontSize: 13, color: 'var(--ink-soft)', flex: '0 0 auto' }} onClick={onClick}>
      {children}
    </Button>
  )
}

function Add({ label, word, options, onPick }: { label: string; word: string; options?: string[][]; onPick: (key: string) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement>()
  return (
    <>
      <Small label={label} onClick={(e) => (options ? setAnchor(e.currentTarget) : onPick(''))}>{word}</Small>
      {options && (
        <Menu anchorEl={anchor} open={anchor !== undefined} onClose={() => setAnchor(undefined)}>
          {options.map(([key, name]) => (
            <MenuItem key={key} dense
              onClick={() => {
                setAnchor(undefined)
                onPick(key!)
              }}>
              {name}
            </MenuItem>
          ))}
        </Menu>
      )}
    </>
  )
}
