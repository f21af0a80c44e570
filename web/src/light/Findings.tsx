import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Finding } from '../api/client'
import type { Stage } from './tree'

const shape = {
  stop: <path d="M5 1h6l4 4v6l-4 4H5l-4-4V5z" fill="var(--stop)" />,
  caution: <path d="M8 1.5 15 14.5H1z" fill="var(--caution)" />,
  note: <circle cx="8" cy="8" r="5.5" fill="none" stroke="var(--note)" strokeWidth="2" />,
}

export function SeverityMark({ severity }: { severity: Finding['severity'] }) {
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" role="img" aria-label={severity} style={{ flex: '0 0 auto', marginTop: 2 }}>
      {shape[severity]}
    </svg>
  )
}

interface Props {
  findings: Finding[]
  /** What a node, source or body is called. */
  nameOf: (id: string) => string
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
export function Findings({ findings, nameOf, onGo, onTry }: Props) {
  const groups = alike(findings)
  return (
    <Box component="section" tabIndex={0} aria-label="Findings">
      <Box component="h2" sx={{ fontSize: 14, m: 0, mb: 1 }}>
        Findings
      </Box>
      {findings.length === 0 && <Box sx={{ color: 'var(--margin-ink)' }}>Nothing is over a limit.</Box>}
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {groups.map(([f, ...more], i) => (
          <Box component="li" key={`${f.code}/${f.node}/${i}`} data-finding={f.code} sx={{ display: 'flex', gap: 1, py: 0.75, borderTop: i > 0 ? '1px solid var(--line)' : 0, fontSize: 13, lineHeight: 1.35 }}>
            <SeverityMark severity={f.severity} />
            <Box sx={{ minWidth: 0 }}>
              <Box component="button" type="button" onClick={() => onGo(f.stage, f.pointer)} sx={{ all: 'unset', cursor: 'pointer', fontWeight: 700, '&:hover': { textDecoration: 'underline' }, '&:focus-visible': { outline: '2px solid var(--power)' } }}>
                {f.title}.
              </Box>{' '}
              <span>{f.why}</span>{' '}
              {f.fix && (
                <Button variant="text" sx={{ p: 0, minWidth: 0, fontSize: 13, verticalAlign: 'baseline', textAlign: 'left' }} onClick={() => onTry(f)}>
                  Try it: {f.fix.label}
                </Button>
              )}
              {more.length > 0 && (
                <Box sx={{ color: 'var(--ink-soft)' }}>
                  The same at{' '}
                  {more.map((m, k) => (
                    <span key={m.node}>
                      {k > 0 && ', '}
                      <Box component="button" type="button" onClick={() => onGo(m.stage, m.pointer)} sx={{ all: 'unset', cursor: 'pointer', textDecoration: 'underline', '&:focus-visible': { outline: '2px solid var(--power)' } }}>{nameOf(m.node)}</Box>
                    </span>
                  ))}
                  .
                </Box>
              )}
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  )
}
