import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import { FigureField } from '../figures/FigureField'
import { useSettings } from '../settings/SettingsProvider'
import type { Key } from './useKeys'

export function KeysDialog({ open, keys, onClose }: { open: boolean; keys: Key[]; onClose: () => void }) {
  const { settings, change } = useSettings()
  const rows: [string, string][] = [...keys.map((k): [string, string] => [k.key, k.does]), ['Ctrl+Z', 'take the last change back'], ['Ctrl+Shift+Z', 'make it again'], ['↑ ↓', 'in a figure: nudge it; Shift for ten steps'], ['← →', 'on the clock: move; Space plays']]
  return (
    <Dialog open={open} onClose={onClose} aria-labelledby="keys-title">
      <DialogTitle id="keys-title">Keys and units</DialogTitle>
      <DialogContent>
        <Box component="dl" sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 2, rowGap: 0.5, m: 0 }}>
          {rows.map(([key, does]) => (
            <Box key={key} sx={{ display: 'contents' }}>
              <Box component="dt">
                <kbd>{key}</kbd>
              </Box>
              <Box component="dd" sx={{ m: 0 }}>
                {does}
              </Box>
            </Box>
          ))}
        </Box>
        <Box sx={{ display: 'grid', mt: 2 }}>
          <FormControlLabel control={<Switch checked={settings.singleKeys} onChange={(e) => change({ singleKeys: e.target.checked })} />} label="Single keys work" />
          <FormControlLabel control={<Switch checked={settings.fahrenheit} onChange={(e) => change({ fahrenheit: e.target.checked })} />} label="Temperatures in °F" />
          <FormControlLabel control={<Switch checked={settings.inches} onChange={(e) => change({ inches: e.target.checked })} />} label="Lengths in inches, masses in ounces" />
          <FigureField label="A kilowatt-hour costs, in your money" pointer="/price" quantity="count" value={settings.pricePerKWh} fallback="not said" onChange={(v) => change({ pricePerKWh: v })} />
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
