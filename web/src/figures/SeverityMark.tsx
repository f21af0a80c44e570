import type { Finding } from '../api/client'

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
