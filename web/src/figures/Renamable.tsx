import css from './figures.module.css'

/** A name that is changed where it stands; what was typed counts when it is left, and gives way where it is not taken (false, or nothing). */
export function Renamable({ value, fallback, strong, end, onName }: { value: string; fallback: string; strong?: boolean; end?: boolean; onName: (name: string) => unknown }) {
  return (
    <input key={value} className={css.name} aria-label={`Name of ${value || fallback}`} defaultValue={value} placeholder={fallback} maxLength={120} style={{ fontWeight: strong ? 700 : undefined, textAlign: end ? 'right' : undefined }}
      onBlur={(e) => {
        const typed = e.target.value.trim()
        const taken = typed === value ? false : onName(typed)
        if (taken === false || taken === '') e.target.value = value
      }}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()} />
  )
}
