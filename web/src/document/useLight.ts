import { createContext, useContext, useEffect, useState } from 'react'
import { useStore } from 'zustand/react'
import { createStore } from 'zustand/vanilla'
import type { Light } from '../api/client'
import { get } from './pointer'
import { LightStore, type LightState } from './store'

/** The light of a page, which is keyed by id. */
export function useLight(id: string) {
  const [doc] = useState(() => new LightStore(id))
  const state = useStore(doc.store)
  useEffect(() => {
    doc.open()
    void doc.load()
    const look = () => void doc.look()
    // What is typed and not left yet is taken with it.
    const leave = () => {
      if (document.activeElement instanceof HTMLInputElement) document.activeElement.blur()
      void doc.save(true)
    }
    window.addEventListener('focus', look)
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('focus', look)
      window.removeEventListener('pagehide', leave)
      void doc.save()
      doc.close()
    }
  }, [doc])
  return { doc, ...state }
}

/** The light of the page; a page without one shows fields of parts by themselves. */
export const LightContext = createContext<LightStore | undefined>(undefined)

const none = createStore<LightState>(() => ({ revision: 0, state: 'gone', message: '', canUndo: false, canRedo: false, left: [], apart: [] }))

/** A place of the light on screen at this moment: a field shows what was typed before the page is drawn for it. */
export function useShown(fallback: Light, pointer: string): unknown {
  const doc = useContext(LightContext)
  return useStore(doc?.store ?? none, (s) => get(s.trial?.light ?? s.light ?? fallback, pointer))
}
