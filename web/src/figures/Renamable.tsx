import css from './figures.module.css'

/** A name that is changed where it stands; what was typed counts when it is left. */
export function Renamable({ value, fallback, strong, onName }: { value: string; fallback: string; strong?: boolean; onName: (name: string) => void }) {
  return (
    <input key={value} className={css.name} aria-label={`Name of ${value || fallback}`} defaultValue={value} placeholder={fallback} maxLength={120} style={strong ? { fontWeight: 700 } : undefined}
      onBlur={(e) => e.target.value.trim() !== value && onName(e.target.value.trim())}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()} />
  )
}
