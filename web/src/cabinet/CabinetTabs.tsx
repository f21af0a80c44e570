import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { Link } from 'react-router'

/** The two rooms of the cabinet. */
export function CabinetTabs({ open }: { open: 'parts' | 'lots' }) {
  return (
    <Box component="nav" aria-label="Rooms of the cabinet" sx={{ display: 'flex', gap: 0.5 }}>
      <Button component={Link} to="/cabinet" aria-current={open === 'parts' ? 'page' : undefined} variant={open === 'parts' ? 'outlined' : 'text'} sx={{ borderRadius: 4, py: 0.1 }}>Parts</Button>
      <Button component={Link} to="/cabinet/lots" aria-current={open === 'lots' ? 'page' : undefined} variant={open === 'lots' ? 'outlined' : 'text'} sx={{ borderRadius: 4, py: 0.1 }}>Lots of cells</Button>
    </Box>
  )
}
