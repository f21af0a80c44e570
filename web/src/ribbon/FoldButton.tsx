import { memo } from 'react'
import IconButton from '@mui/material/IconButton'
import UnfoldLess from '@mui/icons-material/UnfoldLess'
import UnfoldMore from '@mui/icons-material/UnfoldMore'

export const FoldButton = memo(function FoldButton({ folded, onFold }: { folded: boolean; onFold: () => void }) {
  const word = folded ? 'Draw the ribbon in full (R)' : 'Fold the ribbon to a strip (R)'
  return (
    <IconButton size="small" aria-label={word} title={word} aria-expanded={!folded} onClick={onFold} sx={{ alignSelf: 'center', color: 'var(--ink-soft)' }}>
      {folded ? <UnfoldMore fontSize="small" /> : <UnfoldLess fontSize="small" />}
    </IconButton>
  )
})
