import Autocomplete from '@mui/material/Autocomplete'
import Box from '@mui/material/Box'
import TextField from '@mui/material/TextField'
import { useId } from 'react'
import type { Part, Schemas } from '../api/client'
import { kindOf } from '../parts/description'
import { capital } from '../units/words'
import type { Fact, Facts } from './ways'

interface Props {
  fact: Fact
  facts: Facts
  /** The cabinet, to pick from. */
  cabinet: Part[]
  understood?: string
  /** Words and figures in it that changed nothing. */
  unused?: string
  /** What in it does not agree, or was not understood. */
  remarks?: Schemas['Remark'][]
  onChange: (facts: Facts) => void
}

const line = { width: '100%', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', font: 'inherit', fontSize: 14, p: 0, py: 0.25, resize: 'vertical', '&::placeholder': { color: 'var(--ink-soft)', opacity: 0.75 } } as const

/** One thing that can be said: in words, by a choice, or by picking a part at hand. */
export function FactInput({ fact, facts, cabinet, understood, unused, remarks, onChange }: Props) {
  const id = useId()
  if (fact.kind === 'tick') {
    return (
      <Box component="label" sx={{ display: 'flex', gap: 1, py: 0.5 }}>
        <input type="checkbox" data-fact={fact.name} checked={facts[fact.name] === true} onChange={(e) => onChange({ ...facts, [fact.name]: e.target.checked || undefined })} />
        {fact.label}
      </Box>
    )
  }
  if (fact.kind === 'ticks') {
    const kept = facts.keeps ?? []
    return (
      <Box role="group" aria-label={fact.label} sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2, py: 0.5 }}>
        {Object.entries(fact.options).map(([key, word]) => (
          <label key={key}>
            <input type="checkbox" data-fact={key} checked={kept.includes(key)} onChange={(e) => onChange({ ...facts, keeps: e.target.checked ? [...kept, key] : kept.filter((k) => k !== key) })} /> {word}
          </label>
        ))}
      </Box>
    )
  }
  if (fact.kind === 'choice') {
    return (
      <Box component="label" sx={{ display: 'flex', gap: 1, alignItems: 'baseline', py: 0.5 }}>
        <Box component="span" sx={{ color: 'var(--ink-soft)', fontSize: 12.5 }}>{fact.label}</Box>
        <Box component="select" data-fact={fact.name} value={facts[fact.name] ?? Object.keys(fact.options)[0]} onChange={(e: React.ChangeEvent<HTMLSelectElement>) => onChange({ ...facts, [fact.name]: e.target.value || undefined })} sx={{ font: 'inherit', border: 0, background: 'var(--paper)', color: 'var(--power-ink)' }}>
          {Object.entries(fact.options).map(([key, word]) => (
            <option key={key} value={key}>
              {word}
            </option>
          ))}
        </Box>
      </Box>
    )
  }
  const said = facts[fact.name] ?? ''
  const put = (value: string, part?: Part) => {
    const others = (facts.parts ?? []).filter((p) => fact.part === undefined || kindOf(p) !== fact.part)
    onChange({ ...facts, [fact.name]: value || undefined, parts: part ? [...others, part] : others })
  }
  const picked = fact.part && facts.parts?.find((p) => kindOf(p) === fact.part)
  const options = fact.part ? cabinet.filter((p) => kindOf(p) === fact.part) : []
  return (
    <Box sx={{ py: 0.5 }}>
      <Box component="label" htmlFor={id} sx={{ display: 'block', color: 'var(--ink-soft)', fontSize: 12.5 }}>
        {fact.label}
      </Box>
      {fact.part ? (
        <Autocomplete freeSolo id={id} options={options} getOptionLabel={(o) => (typeof o === 'string' ? o : o.name)} getOptionKey={(o) => (typeof o === 'string' ? o : o.id + o.name)} value={picked ?? null} inputValue={picked?.name ?? said}
          onChange={(_, value) => value !== null && typeof value !== 'string' && put('', value)} onInputChange={(_, value, why) => why !== 'reset' && put(value)}
          renderInput={(p) => <TextField {...p} variant="standard" placeholder={fact.example} slotProps={{ ...p.slotProps, htmlInput: { ...p.slotProps.htmlInput, 'data-fact': fact.name, maxLength: 300 }, input: { ...p.slotProps.input, sx: { fontSize: 14, color: 'var(--power-ink)' } } }} />} />
      ) : (
        <Box component={fact.tall ? 'textarea' : 'input'} rows={fact.tall ? 4 : undefined} id={id} data-fact={fact.name} maxLength={fact.tall ? 3000 : 300} autoComplete="off" spellCheck={false} placeholder={fact.example} value={said} onChange={(e: React.ChangeEvent<HTMLInputElement>) => put(e.target.value)} sx={line} />
      )}
      {picked && fact.name !== 'driver' && (
        <Box component="label" sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>
          how many{' '}
          <Box component="input" data-fact={`${fact.name}-count`} value={said} placeholder="2 · 2S2P · 3 in series" maxLength={60} onChange={(e: React.ChangeEvent<HTMLInputElement>) => onChange({ ...facts, [fact.name]: e.target.value || undefined })} sx={{ ...line, width: 150 }} />
        </Box>
      )}
      {understood && (
        <Box className="figure" data-understood={fact.name} sx={{ fontSize: 12.5, color: 'var(--margin-ink)' }}>
          {understood}
        </Box>
      )}
      {unused && (
        <Box data-unused={fact.name} sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>
          Not used: {unused}
        </Box>
      )}
      {remarks?.map((r) => (
        <Box key={r.why} role="status" data-remark={fact.name} sx={{ fontSize: 12.5, color: 'var(--caution-ink)' }}>
          {capital(r.why)}
        </Box>
      ))}
    </Box>
  )
}
