import Box from '@mui/material/Box'

/** A name being changed in place: Enter or leaving takes it, Escape or nothing typed keeps the old one. */
export function NameField({ label, name, onName, onDone }: { label: string; name: string; onName: (name: string) => void; onDone: () => void }) {
  return (
    <Box component="input" aria-label={label} defaultValue={name} maxLength={120} autoFocus
      onFocus={(e) => e.target.select()}
      onBlur={(e) => {
        const typed = e.target.value.trim()
        if (typed !== '' && typed !== name) onName(typed)
        onDone()
      }}
      onKeyDown={(e) => {
        const field = e.target as HTMLInputElement
        if (e.key === 'Escape') field.value = name
        if (e.key === 'Escape' || e.key === 'Enter') field.blur()
      }}
      sx={{ font: 'inherit', fontWeight: 600, color: 'inherit', background: 'var(--paper)', border: '1px solid var(--power)', borderRadius: 4, px: 1.25, py: 0.25, width: `${Math.max(name.length + 2, 12)}ch`, maxWidth: '60vw' }} />
  )
}
