import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { memo } from 'react'
import type { Finding } from '../api/client'
import { SeverityMark } from '../figures/SeverityMark'
import css from './frame.module.css'
import { nameOf, type Stage } from '../document/tree'
import { useSolution, useSolved } from '../solved/useSolved'

interface Props {
  onGo: (stage: Stage, pointer?: string) => void
  onTry: (f: Finding) => void
}

/** Findings that say the same of several nodes, each group in the place of its first. */
function alike(findings: Finding[]): [Finding, ...Finding[]][] {
  const groups = new Map<string, [Finding, ...Finding[]]>()
  for (const f of findings) {
    const key = `${f.code} ${f.why}`
    const group = groups.get(key)
    if (group) group.push(f)
    else groups.set(key, [f])
  }
  return [...groups.values()]
}

/** What is over a limit and why, in plain words, worst first; each leads to its cause. */
export const Findings = memo(function Findings({ onGo, onTry }: Props) {
  const findings = useSolution((s) => s.findings) ?? []
  const variant = useSolved((s) => s.of?.variants[s.variant])
  const groups = alike(findings)
  return (
    <Box component="section" tabIndex={0} aria-label="Findings">
      <Box component="h2" sx={{ fontSize: 14, m: 0, mb: 1 }}>
        Findings
      </Box>
      {findings.length === 0 && <Box sx={{ color: 'var(--margin-ink)' }}>Nothing is over a limit.</Box>}
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {groups.map(([f, ...more], i) => (
          <li key={`${f.code}/${f.node}/${i}`} data-finding={f.code} className={css.finding}>
            <SeverityMark severity={f.severity} />
            <div style={{ minWidth: 0 }}>
              <button type="button" onClick={() => onGo(f.stage, f.pointer)} className={css.go}>
                {f.title}.
              </button>{' '}
              <span>{f.why}</span>{' '}
              {f.fix && (
                <Button variant="text" sx={{ p: 0, minWidth: 0, fontSize: 13, verticalAlign: 'baseline', textAlign: 'left' }} onClick={() => onTry(f)}>
                  Try it: {f.fix.label}
                </Button>
              )}
              {f.fix?.then && <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>then {f.fix.then}</Box>}
              {more.length > 0 && (
                <Box sx={{ color: 'var(--ink-soft)' }}>
                  The same at{' '}
                  {more.map((m, k) => (
                    <span key={m.node}>
                      {k > 0 && ', '}
                      <Box component="button" type="button" onClick={() => onGo(m.stage, m.pointer)} sx={{ all: 'unset', cursor: 'pointer', textDecoration: 'underline', '&:focus-visible': { outline: '2px solid var(--power)' } }}>{variant ? nameOf(variant, m.node) : m.node}</Box>
                    </span>
                  ))}
                  .
                </Box>
              )}
            </div>
          </li>
        ))}
      </Box>
    </Box>
  )
})
