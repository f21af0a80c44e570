import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import type { Problem } from '../api/client'
import type { LightState, LightStore } from '../document/store'
import { LeftBehind } from './LeftBehind'

/** What must be known before any figure is believed: a trial, changes left behind, a save or a solve that failed. */
export function Notices({ doc, state, problem, offline }: { doc: LightStore; state: LightState; problem: Problem | undefined; offline: boolean }) {
  return (
    <>
      {state.trial && (
        <Alert severity="info" sx={{ mb: 1, py: 0 }} data-testid="trial"
          action={
            <>
              <Button onClick={doc.discardTrial}>Discard</Button>
              <Button variant="contained" onClick={doc.keepTrial}>
                Keep
              </Button>
            </>
          }>
          Trying: {state.trial.label}. Nothing is saved until you keep it; struck-out figures are from before.
        </Alert>
      )}
      <LeftBehind doc={doc} state={state} />
      {state.inBin && (
        <Alert severity="warning" sx={{ mb: 1, py: 0 }} action={<Button variant="contained" onClick={() => void doc.takeBack()}>Take it back</Button>}>
          This light lies in the bin: nothing is saved to it there. What you type is kept in this browser.
        </Alert>
      )}
      {state.state === 'failing' && !state.inBin && (
        <Alert severity="error" sx={{ mb: 1, py: 0 }} action={<Button onClick={() => void doc.save()}>Try again now</Button>}>
          Not saved: {state.message} What you typed is kept in this browser, and it is tried again every few seconds.
        </Alert>
      )}
      {problem && (
        <Alert severity="error" sx={{ mb: 1, py: 0 }}>
          {problem.message}
        </Alert>
      )}
      {offline && (
        <Alert severity="warning" sx={{ mb: 1, py: 0 }}>
          The server does not answer. What you type is kept in this browser and saved when it is back; figures are from before.
        </Alert>
      )}
    </>
  )
}
