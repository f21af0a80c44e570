import Box from '@mui/material/Box'
import { Link } from 'react-router'

export function Lost() {
  return (
    <Box sx={{ p: 3 }}>
      <h1>There is nothing here</h1>
      <p>
        The address leads nowhere. <Link to="/">The shelf</Link> has all your lights.
      </p>
    </Box>
  )
}
