import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'

/** How long nothing may have changed before a band is drawn, chosen: editing goes first. */
const calmMs = 1500

/** How far the answers of a light may be off; undefined until it was left alone for a moment. */
export function useBand(light: Light, variant: number, wanted = true): Schemas['Band'] | undefined {
  const [calm, setCalm] = useState<Light>()
  const client = useQueryClient()
  useEffect(() => {
    void client.cancelQueries({ queryKey: ['band'] }) // what is drawn of the light before is in the way now
    const timer = setTimeout(() => setCalm(light), calmMs)
    return () => clearTimeout(timer)
  }, [light, client])
  const found = useQuery({ queryKey: ['band', variant, calm], queryFn: ({ signal }) => answer(api.POST('/api/band', { signal, params: { query: { variant } }, body: calm! })), enabled: wanted && calm === light, retry: false, staleTime: Infinity })
  return calm === light ? found.data : undefined
}
