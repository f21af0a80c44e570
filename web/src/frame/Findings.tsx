import { memo } from 'react'
import type { Finding } from '../api/client'
import { SeverityMark } from '../figures/SeverityMark'
import css from './frame.module.css'
import { nameOf, type Stage } from '../document/tree'
import { useSolution, useSolved } from '../solved/useSolved'
import { Column } from '../workbench/Column'

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
    <Column label="Findings">
      <h2 className={css.head}>Findings</h2>
      {findings.length === 0 && <div className={css.free}>Nothing is over a limit.</div>}
      <ul className={css.list}>
        {groups.map(([f, ...more], i) => (
          <li key={`${f.code}/${f.node}/${i}`} data-finding={f.code} className={css.finding}>
            <SeverityMark severity={f.severity} />
            <div style={{ minWidth: 0 }}>
              <button type="button" onClick={() => onGo(f.stage, f.pointer)} className={css.go}>
                {f.title.endsWith('?') ? f.title : `${f.title}.`}
              </button>{' '}
              <span>{f.why}</span>{' '}
              {f.fix && (
                <button type="button" className={css.try} onClick={() => onTry(f)}>
                  Try it: {f.fix.label}
                </button>
              )}
              {f.fix?.then && <div className={css.then}>{f.fix.then === 'not tried' ? 'not tried in this light' : `then ${f.fix.then}`}</div>}
              {more.length > 0 && (
                <div className={css.same}>
                  The same at{' '}
                  {more.map((m, k) => (
                    <span key={m.node}>
                      {k > 0 && ', '}
                      <button type="button" onClick={() => onGo(m.stage, m.pointer)} className={css.also}>{variant ? nameOf(variant, m.node) : m.node}</button>
                    </span>
                  ))}
                  .
                </div>
              )}
            </div>
          </li>
        ))}
      </ul>
    </Column>
  )
})
