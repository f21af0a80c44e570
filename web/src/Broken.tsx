import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useRouteError } from 'react-router'

/** In place of a page that could not be drawn: says so, and that nothing typed is lost. */
export function Broken() {
  const error = useRouteError()
  return (
    <Box sx={{ p: 3, maxWidth: 560 }} role="alert">
      <h1>This page could not be drawn</h1>
      <p>What you typed is kept in this browser and comes back when the page is loaded again. If the server is gone, wait until it is back.</p>
      <Button variant="contained" onClick={() => window.location.reload()}>Load it again</Button>
      <Box component="p" sx={{ color: 'var(--ink-soft)', fontSize: 12 }}>{error instanceof Error ? error.message : ''}</Box>
    </Box>
  )
}
