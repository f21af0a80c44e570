import type { FocusEvent, ReactNode } from 'react'
import css from './column.module.css'

interface Props {
  label: string
  /** Stands below the others where there is one column. */
  below?: boolean
  className?: string
  onBlur?: (e: FocusEvent<HTMLElement>) => void
  children: ReactNode
}

/** A column of the page of a light, which scrolls by itself. What changes in it is laid out by itself: for that the part that scrolls is not the grid's own item. */
export function Column({ label, below, className, onBlur, children }: Props) {
  return (
    <div className={below ? `${css.column} ${css.below}` : css.column}>
      <section tabIndex={0} aria-label={label} onBlur={onBlur} className={className ? `${css.scroll} ${className}` : css.scroll}>
        {children}
      </section>
    </div>
  )
}
