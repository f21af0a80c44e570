import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react'
import type { Preferences } from '../units/quantity'

export interface Settings extends Preferences {
  singleKeys: boolean
  /** What a kilowatt-hour costs, in the user's own money. */
  pricePerKWh?: number
}

const key = 'photherm-settings'
const standard: Settings = { fahrenheit: false, inches: false, singleKeys: true }

const Context = createContext<{ settings: Settings; change: (part: Partial<Settings>) => void }>({ settings: standard, change: () => undefined })

function read(): Settings {
  try {
    return { ...standard, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<Settings>) }
  } catch {
    return standard
  }
}

export function SettingsProvider({ children }: { children: ReactNode }) {
  const [settings, setSettings] = useState(read)
  useEffect(() => localStorage.setItem(key, JSON.stringify(settings)), [settings])
  const value = useMemo(() => ({ settings, change: (part: Partial<Settings>) => setSettings((s) => ({ ...s, ...part })) }), [settings])
  return <Context value={value}>{children}</Context>
}

export const useSettings = () => useContext(Context)
