import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Contrast from '@mui/icons-material/Contrast'
import { useColorScheme } from '@mui/material/styles'
import { Suspense, useState } from 'react'
import { Link, Outlet } from 'react-router'
import { later } from './frame/later'
import { KeyList } from './keys/keyList'
import { KeysDialog } from './keys/KeysDialog'
import type { Key } from './keys/useKeys'
import { useSettings } from './settings/SettingsProvider'

const PhoneDialog = later(async () => (await import('./phone/PhoneDialog')).PhoneDialog)

/** The frame of every page: name, shelf, units, theme, keys. */
export function App() {
  const { mode, systemMode, setMode } = useColorScheme()
  const { settings } = useSettings()
  const [keys, setKeys] = useState<Key[]>([])
  const [open, setOpen] = useState(false)
  const [phone, setPhone] = useState(false)
  const dark = (mode === 'system' ? systemMode : mode) === 'dark'
  const [list] = useState(() => ({ setKeys, showKeys: () => setOpen(true) }))
  return (
    <KeyList value={list}>
      <Box component="header" sx={{ display: 'flex', alignItems: 'center', gap: { xs: 1, sm: 3 }, px: { xs: 1.5, sm: 2.5 }, height: 44, background: 'var(--paper)', borderBottom: '1px solid var(--line)', '@media print': { display: 'none' } }}>
        <Box component={Link} to="/" sx={{ fontSize: 18, fontWeight: 800, textDecoration: 'none', color: 'var(--ink)' }}>
          Phot<Box component="span" sx={{ color: 'var(--heat-ink)' }}>herm</Box>
        </Box>
        <Box component={Link} to="/" sx={{ color: 'var(--ink-soft)', textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>
          Shelf
        </Box>
        <Box component={Link} to="/cabinet" sx={{ color: 'var(--ink-soft)', textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>
          Cabinet
        </Box>
        <Box sx={{ ml: 'auto', display: 'flex', alignItems: 'center', gap: 0.5 }}>
          <Button color="inherit" sx={{ color: 'var(--ink-soft)', display: { xs: 'none', sm: 'inline-flex' } }} onClick={() => setPhone(true)}>
            Phone
          </Button>
          <Button color="inherit" sx={{ color: 'var(--ink-soft)', display: { xs: 'none', sm: 'inline-flex' } }} onClick={() => setOpen(true)}>
            {settings.inches ? 'in' : 'mm'} · {settings.fahrenheit ? '°F' : '°C'}
          </Button>
          <Tooltip title={dark ? 'Light theme' : 'Dark theme'}>
            <IconButton size="small" aria-label={dark ? 'Light theme' : 'Dark theme'} onClick={() => setMode(dark ? 'light' : 'dark')}>
              <Contrast fontSize="small" />
            </IconButton>
          </Tooltip>
          <Button color="inherit" sx={{ color: 'var(--ink-soft)' }} onClick={() => setOpen(true)}>
            Keys
          </Button>
        </Box>
      </Box>
      <Box component="main" tabIndex={-1} sx={{ outline: 'none' }}>
        <Outlet />
      </Box>
      {phone && (
        <Suspense>
          <PhoneDialog onClose={() => setPhone(false)} />
        </Suspense>
      )}
      <KeysDialog open={open} keys={keys} onClose={() => setOpen(false)} />
    </KeyList>
  )
}
