import useMediaQuery from '@mui/material/useMediaQuery'
import { useKept } from '../settings/useKept'

/** Whether the ribbon is folded: by itself where a view needs the room it takes, or as it was put by hand, which is kept. */
export function useFolded(needsRoom: boolean): [folded: boolean, fold: () => void] {
  const low = useMediaQuery('(max-height: 960px), (max-width: 899.95px)')
  const [byHand, setByHand] = useKept<boolean | null>('ribbon-folded', null)
  const byItself = needsRoom && low
  const folded = byHand ?? byItself
  return [folded, () => setByHand(!folded === byItself ? null : !folded)]
}
