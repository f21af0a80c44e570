import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import { differences } from '../document/pointer'
import { placeName } from '../document/tree'
import type { LightState, LightStore } from '../document/store'

const say = (v: unknown): string => (v === undefined ? 'nothing' : typeof v === 'string' ? v : JSON.stringify(v).slice(0, 40))

/** What a tab that is closed now did not get saved: offered with what differs, and gone only when that is asked for. */
export function LeftBehind({ doc, state }: { doc: LightStore; state: LightState }) {
  const light = state.light
  if (!light) return null
  return state.left.map((d) => {
    const changed = differences(d.light, light, 5)
    return (
      <Alert key={d.tab} severity="warning" sx={{ mb: 1, py: 0 }} data-testid="left-behind"
        action={
          <>
            <Button onClick={() => void doc.dropLeft(d)}>Throw it away</Button>
            <Button variant="contained" onClick={() => void doc.takeLeft(d)}>Take it</Button>
          </>
        }>
        A change in another tab{d.at > 0 ? `, ${new Date(d.at).toLocaleString()},` : ''} was never saved: {changed.slice(0, 4).map((c) => `${placeName(d.light, c.pointer)} ${say(c.mine)} (here ${say(c.theirs)})`).join(', ')}
        {changed.length > 4 ? ' and more' : ''}.
      </Alert>
    )
  })
}
