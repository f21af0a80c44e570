import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import type { LightState, LightStore } from '../document/store'
import { differences } from '../document/pointer'
import { placeName } from '../document/tree'

const say = (v: unknown): string => (v === undefined ? 'nothing' : typeof v === 'string' ? v : JSON.stringify(v).slice(0, 60))

/** Two tabs have changed the same light: both versions side by side, and a choice. Neither is lost. */
export function ConflictDialog({ doc, state }: { doc: LightStore; state: LightState }) {
  if (state.state !== 'conflict' || !state.theirs || !state.light) return null
  const changed = differences(state.light, state.theirs.light)
  return (
    <Dialog open aria-labelledby="conflict-title" maxWidth="md">
      <DialogTitle id="conflict-title">This light was changed elsewhere too</DialogTitle>
      <DialogContent>
        <p>Another tab saved a change while yours was not yet saved. Whichever you choose, the other stays in the history.</p>
        <Box component="table" sx={{ borderCollapse: 'collapse', '& td, & th': { textAlign: 'left', p: 0.75, borderTop: '1px solid var(--line)', verticalAlign: 'top' } }}>
          <thead>
            <tr>
              <th>Where</th>
              <th>Yours</th>
              <th>Theirs</th>
            </tr>
          </thead>
          <tbody>
            {changed.map((d) => (
              <tr key={d.pointer}>
                <td>{placeName(state.light!, d.pointer)}</td>
                <td className="figure">{say(d.mine)}</td>
                <td className="figure">{say(d.theirs)}</td>
              </tr>
            ))}
          </tbody>
        </Box>
        {changed.length === 0 && <p>Both are the same: either will do.</p>}
      </DialogContent>
      <DialogActions>
        <Button onClick={() => void doc.settle('theirs')}>Take theirs</Button>
        <Button variant="contained" onClick={() => void doc.settle('mine')}>
          Keep mine
        </Button>
      </DialogActions>
    </Dialog>
  )
}
