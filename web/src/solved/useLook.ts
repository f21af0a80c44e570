import { queryOptions, useQuery } from '@tanstack/react-query'
import { answer, api, type Light, type Schemas } from '../api/client'
import { useSolved } from './useSolved'

export type Look = Schemas['View']

interface Asked {
  /** Other ways to put it, and what mends a target that is missed. */
  ways?: boolean
  colour?: boolean
  kelvin?: number
  share?: number
  /** Another variant to compare with. */
  against?: number
  /** How much of a beam comes so far, m, on a plane tilted so, degrees. */
  atM?: number
  tiltDeg?: number
}

/** Where the light goes at an instant, s after switch-on. */
export function lookQuery(light: Light, variant: number, t: number, asked: Asked = {}) {
  const { ways = false, colour = false, kelvin = 0, share = 0, against = -1, atM = 0, tiltDeg = 0 } = asked
  return queryOptions({
    queryKey: ['look', variant, light, t, ways, colour, kelvin, share, against, atM, tiltDeg],
    queryFn: ({ signal }) => answer(api.POST('/api/light', { signal, params: { query: { variant, atS: t, ways, colour, kelvin, share, against, atM, tiltDeg } }, body: light })),
    retry: false,
    // The picture before stays until the next is there, but never of another variant.
    placeholderData: (old: Look | undefined, query) => (query?.queryKey[1] === variant ? old : undefined),
  })
}

/** The same at the clock's instant. */
export function useLook(light: Light, variant: number, asked: Asked = {}, wanted = true) {
  const t = useSolved((s) => s.t)
  return useQuery({ ...lookQuery(light, variant, t, asked), enabled: wanted })
}
