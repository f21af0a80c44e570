import { createContext, useContext } from 'react'
import type { Key } from './useKeys'

/** The keys of the page that is open, for the list that ? shows. */
export const KeyList = createContext<{ setKeys: (keys: Key[]) => void; showKeys: () => void }>({ setKeys: () => undefined, showKeys: () => undefined })
export const useKeyList = () => useContext(KeyList)
