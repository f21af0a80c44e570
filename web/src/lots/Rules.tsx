import Box from '@mui/material/Box'
import type { Schemas } from '../api/client'
import { FigureField } from '../figures/FigureField'
import { wordOf } from '../units/words'

type Lot = Schemas['Lot']

const chemistries = ['li-ion-4.2', 'li-ion-4.35', 'lifepo4', 'nimh', 'lead-acid'] as const
const figures: { key: keyof Lot['rules']; label: string; quantity: string; usual: string }[] = [
  { key: 'goodShare', label: 'Grade A from, of what is printed', quantity: 'fraction', usual: '80 %' },
  { key: 'fairShare', label: 'Grade B from; less is rejected', quantity: 'fraction', usual: '60 %' },
  { key: 'goodOhm', label: 'Grade A up to', quantity: 'resistance', usual: '80 mΩ' },
  { key: 'fairOhm', label: 'Grade B up to; more is rejected', quantity: 'resistance', usual: '150 mΩ' },
  { key: 'restV', label: 'Still stands after rest at', quantity: 'voltage', usual: 'usual for the chemistry' },
  { key: 'restDays', label: 'Left alone for, days', quantity: 'count', usual: '7' },
  { key: 'deadV', label: 'Found below is rejected', quantity: 'voltage', usual: 'usual for the chemistry' },
]

/** What the cells are, and by what they are graded; what is left open is common practice. */
export function Rules({ lot, change }: { lot: Lot; change: (lot: Lot) => void }) {
  return (
    <>
      <Box component="h2" sx={{ fontSize: 15, m: 0, mt: 2 }}>Rules</Box>
      <Box sx={{ display: 'flex', alignItems: 'baseline', borderBottom: '1px solid var(--line)', py: 0.35 }}>
        <Box component="label" htmlFor="lot-chemistry" sx={{ flex: 1, color: 'var(--ink-soft)' }}>Chemistry</Box>
        <select id="lot-chemistry" value={lot.chemistry} onChange={(e) => change({ ...lot, chemistry: e.target.value as Lot['chemistry'] })} style={{ font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)' }}>
          {chemistries.map((c) => <option key={c} value={c}>{wordOf(c)}</option>)}
        </select>
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'baseline', borderBottom: '1px solid var(--line)', py: 0.35 }}>
        <Box component="label" htmlFor="lot-size" sx={{ flex: 1, color: 'var(--ink-soft)' }}>Size</Box>
        <input id="lot-size" key={lot.size ?? ''} defaultValue={lot.size ?? ''} placeholder="not said" maxLength={30} onBlur={(e) => e.target.value.trim() !== (lot.size ?? '') && change({ ...lot, size: e.target.value.trim() || undefined })} style={{ border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', font: 'inherit', width: 90, textAlign: 'right', padding: 0 }} />
      </Box>
      {figures.map((f) => <FigureField key={f.key} label={f.label} pointer={`lot/rules/${f.key}`} quantity={f.quantity} value={lot.rules[f.key]} fallback={f.usual} onChange={(x, done) => done && change({ ...lot, rules: { ...lot.rules, [f.key]: x } })} />)}
      <Box component="label" htmlFor="lot-note" sx={{ display: 'block', color: 'var(--ink-soft)', mt: 1 }}>Where they come from, how they were measured</Box>
      <Box component="textarea" id="lot-note" rows={3} maxLength={4000} key={lot.note ?? ''} defaultValue={lot.note ?? ''} onBlur={(e: React.FocusEvent<HTMLTextAreaElement>) => e.target.value.trim() !== (lot.note ?? '') && change({ ...lot, note: e.target.value.trim() || undefined })} sx={{ width: '100%', border: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', font: 'inherit', fontSize: 13.5, p: 0.5 }} />
    </>
  )
}
