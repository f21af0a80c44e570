import { useEffect, useRef } from 'react'
import { useSettings } from '../settings/SettingsProvider'

/** Single keys, each with what it does, for the page and for the list that ? shows. */
export interface Key {
  key: string
  does: string
  run: () => void
}

/** Listens for single keys while no control has focus (WCAG 2.1.4), and for Ctrl+Z everywhere but in a field being typed in. */
export function useKeys(keys: Key[], undo?: () => void, redo?: () => void) {
  const { settings } = useSettings()
  const latest = useRef({ keys, undo, redo })
  useEffect(() => {
    latest.current = { keys, undo, redo }
  })
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const focus = document.activeElement
      const typing = focus instanceof HTMLElement && focus.matches('input:not([type=checkbox]), textarea, select, [contenteditable]')
      const z = e.key.toLowerCase() === 'z' && (e.ctrlKey || e.metaKey)
      if (z && !(typing && (focus as HTMLInputElement).value !== (focus as HTMLInputElement).defaultValue)) {
        const act = e.shiftKey ? latest.current.redo : latest.current.undo
        if (act) {
          e.preventDefault()
          if (typing) focus.blur()
          act()
        }
        return
      }
      const free = !focus || focus === document.body || focus.tagName === 'MAIN'
      if (!settings.singleKeys || !free || e.ctrlKey || e.metaKey || e.altKey || document.querySelector('[role=dialog]')) return
      const hit = latest.current.keys.find((k) => k.key === e.key || k.key === e.key.toUpperCase())
      if (hit) {
        e.preventDefault()
        hit.run()
      }
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [settings.singleKeys])
}
