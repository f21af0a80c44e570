import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Variant } from '../api/client'
import { sourceName } from '../document/names'
import { litOf, nodesOf, type Stage } from '../document/tree'

interface Step {
  stage: Stage
  what: string
  /** What is there; undefined: nothing yet. */
  is: string | undefined
  how: string
}

function stepsOf(variant: Variant): Step[] {
  const nodes = nodesOf(variant, '')
  const source = variant.feeds.flatMap((f) => f.sources.slice(0, 1)).find((s) => s.pack?.partId ?? s.supply ?? s.mains)
  const drivers = nodes.filter((p) => p.node.driver)
  const chosen = drivers.filter((p) => p.node.driver!.partId).length
  const lit = litOf(nodes).filter((p) => p.node.array?.partId ?? p.node.strip?.partId ?? p.node.load?.partId ?? ((p.node.load?.points?.length ?? 0) > 0 ? 'read' : undefined)).length
  const cooled = variant.bodies.filter((b) => b.kPerW !== undefined || Object.values(b.shape ?? {}).some((m) => typeof m === 'number')).length
  const count = (n: number, of: string) => (n === 1 ? `one ${of}` : `${n} ${of}s`)
  return [
    { stage: 'source', what: 'What feeds it', is: source && sourceName(source), how: 'cells, an adapter, the wall, a bench supply' },
    { stage: 'emitters', what: 'What lights up', is: lit > 0 ? count(lit, 'thing') : undefined, how: 'emitters by their label or three readings, strip by the metre, a lamp by its draw' },
    { stage: 'driver', what: 'What sets the current', is: drivers.length > 0 && chosen === drivers.length ? count(chosen, 'driver') : undefined, how: drivers.length > 0 ? 'choose the driver: those that fit come first' : 'put a driver in; without one it hangs straight on the source' },
    { stage: 'heat', what: 'What carries the heat away', is: cooled > 0 ? count(cooled, 'body').replace('bodys', 'bodies') : undefined, how: 'a sheet, a tube, a finned sink: its measures, or its K/W if it is known' },
  ]
}

/** What a light still needs before anything flows, in the order it is best said; each leads to where it is said. */
export function FirstSteps({ variant, why, onStage, onTree }: { variant: Variant; why: string; onStage: (stage: Stage) => void; onTree: () => void }) {
  const steps = stepsOf(variant)
  const next = steps.find((s) => s.is === undefined)
  return (
    <Box data-testid="first-steps" sx={{ maxWidth: 520 }}>
      <Box sx={{ color: next ? 'var(--ink-soft)' : 'inherit', mb: 1 }}>{next ? 'Nothing flows yet. In any order, say:' : why}</Box>
      <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {steps.map((s) => (
          <Box component="li" key={s.stage} sx={{ display: 'grid', gridTemplateColumns: '22px minmax(0, 1fr) auto', columnGap: 1, alignItems: 'baseline', py: 0.75, borderTop: '1px solid var(--line)' }}>
            <Box aria-hidden sx={{ color: s.is ? 'var(--margin-ink)' : 'var(--ink-soft)' }}>{s.is ? '✓' : '○'}</Box>
            <Box>
              <strong>{s.what}</strong>
              <Box sx={{ fontSize: 13, color: s.is ? 'var(--margin-ink)' : 'var(--ink-soft)' }}>{s.is ?? s.how}</Box>
            </Box>
            <Button variant={s === next ? 'contained' : 'text'} sx={{ minWidth: 0 }} onClick={() => onStage(s.stage)}>{s.is ? 'Change' : 'Say it'}</Button>
          </Box>
        ))}
      </Box>
      <Box sx={{ color: 'var(--ink-soft)', mt: 1 }}>Several sources, sides or switches are put together in the <Button sx={{ p: 0, minWidth: 0, verticalAlign: 'baseline' }} onClick={onTree}>power tree</Button>.</Box>
    </Box>
  )
}
