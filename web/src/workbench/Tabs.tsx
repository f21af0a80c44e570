import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { ReactNode } from 'react'

/** A few views of one stage, side by side. */
export function Tabs({ label, tabs, value, onChange, children }: { label: string; tabs: [key: string, name: string][]; value: string; onChange: (key: string) => void; children?: ReactNode }) {
  const open = tabs.some(([key]) => key === value) ? value : ''
  return (
    <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'center', flexWrap: 'wrap' }} role="group" aria-label={label}>
      {tabs.map(([key, name]) => (
        <Button key={key} aria-pressed={open === key} variant={open === key ? 'outlined' : 'text'} sx={{ borderRadius: 4, py: 0.1 }} onClick={() => onChange(key)}>
          {name}
        </Button>
      ))}
      {children}
    </Box>
  )
}
