import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Part } from '../api/client'
import { append, set, without } from '../document/pointer'
import type { Placed } from '../document/tree'
import { ReadRow } from '../figures/FigureField'
import { Renamable } from '../figures/Renamable'
import { Field, type WorkbenchProps } from '../workbench/fields'

type Driver = NonNullable<Part['driver']>

/** How far a driver is dimmed: its current lowered, switched by duty, or one of its named modes. */
export function Modes({ work, p, d }: { work: WorkbenchProps; p: Placed; d: Driver }) {
  const { change } = work
  const use = p.node.driver!
  const here = `${p.pointer}/driver`
  const modes = use.modes ?? []
  const inUse = modes.findIndex((m) => m.name === use.mode)
  const level = inUse >= 0 ? `${here}/modes/${inUse}/level` : `${here}/dimming`
  const add = (name: string, to: object) => change((l) => set(append(l, `${here}/modes`, { name, level: to }), `${here}/mode`, name), `Mode ${name}`)
  const has = (name: string) => modes.some((m) => m.name === name)
  return (
    <Box sx={{ mt: 0.5 }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, alignItems: 'center' }} role="group" aria-label="Modes">
        <Button aria-pressed={inUse < 0} variant={inUse < 0 ? 'outlined' : 'text'} sx={{ borderRadius: 4, py: 0, minWidth: 0 }} onClick={() => change((l) => set(l, `${here}/mode`, undefined), 'Mode')}>dimmed</Button>
        {modes.map((m, i) => (
          <Button key={m.name} aria-pressed={i === inUse} variant={i === inUse ? 'outlined' : 'text'} sx={{ borderRadius: 4, py: 0, minWidth: 0 }} onClick={() => change((l) => set(l, `${here}/mode`, m.name), `Mode ${m.name}`)}>{m.name}</Button>
        ))}
        {!has('low') && <Button sx={{ py: 0, minWidth: 0, color: 'var(--ink-soft)' }} color="inherit" onClick={() => add('low', { current: Math.max(0.2, d.dimFloor ?? 0) })}>+ low</Button>}
        {!has('strobe') && <Button sx={{ py: 0, minWidth: 0, color: 'var(--ink-soft)' }} color="inherit" onClick={() => add('strobe', { duty: 0.5, frequencyHz: 8 })}>+ strobe</Button>}
        {inUse >= 0 && <Button sx={{ py: 0, minWidth: 0, color: 'var(--ink-soft)' }} color="inherit" onClick={() => change((l) => set(without(l, `${here}/modes`, inUse), `${here}/mode`, undefined), 'Mode removed')}>remove</Button>}
      </Box>
      {inUse >= 0 && (
        <ReadRow label="This mode is called">
          <Renamable value={modes[inUse]!.name} fallback="mode" end onName={(name) => name && !has(name) && change((l) => set(set(l, `${here}/modes/${inUse}/name`, name), `${here}/mode`, name), `Mode ${name}`)} />
        </ReadRow>
      )}
      <Field work={work} label="Current lowered to" pointer={`${level}/current`} quantity="fraction" fallback="100 %" hint={d.dimFloor !== undefined ? `its floor is ${(d.dimFloor * 100).toFixed(0)} %` : undefined} />
      <Field work={work} label="Switched: share of time on" pointer={`${level}/duty`} quantity="fraction" fallback="100 %" />
      <Field work={work} label="Times a second" pointer={`${level}/frequencyHz`} quantity="frequency" fallback="not said" />
      <Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>Lowered current gains lumens a watt and shifts the colour a little; switching keeps both, and may flicker.</Box>
    </Box>
  )
}
