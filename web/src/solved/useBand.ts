import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { drawBand } from '../api/band'
import type { Light, Schemas } from '../api/client'

/** How long nothing may have changed before a band is drawn, chosen: editing goes first. */
const calmMs = 1500

export interface Drawing {
  band: Schemas['Band'] | undefined
  /** How many lights are drawn, of how many; undefined: it has not begun. */
  step: { done: number; of: number } | undefined
  /** Why there is none. */
  why: string | undefined
  stopped: boolean
  stop: () => void
  again: () => void
}

/** How far the answers of a light may be off; there is no band until the light was left alone for a moment. */
export function useBand(light: Light, variant: number, wanted = true): Drawing {
  const [calm, setCalm] = useState<Light>()
  const client = useQueryClient()
  useEffect(() => {
    void client.cancelQueries({ queryKey: ['band'] }) // what is drawn of the light before is in the way now
    const timer = setTimeout(() => setCalm(light), calmMs)
    return () => clearTimeout(timer)
  }, [light, client])
  const key = [variant, calm]
  const steps = ['band-step', ...key]
  // Stopped it stays so for whoever else shows it, too.
  const halt = ['band-stopped', ...key]
  const halted = useQuery<boolean>({ queryKey: halt, queryFn: () => false, enabled: false }).data === true
  const found = useQuery({
    queryKey: ['band', ...key],
    queryFn: ({ signal }) => drawBand(calm!, variant, signal, (step) => client.setQueryData(steps, { done: step.done, of: step.of })),
    enabled: wanted && calm === light && !halted, retry: false, staleTime: Infinity,
  })
  // How far it is stands beside it, put there as it comes.
  const step = useQuery<{ done: number; of: number }>({ queryKey: steps, queryFn: () => ({ done: 0, of: 0 }), enabled: false })
  const now = calm === light
  return {
    band: now ? found.data : undefined,
    step: now && found.isFetching ? step.data : undefined,
    why: now && found.isError ? found.error.message : undefined,
    stopped: now && halted,
    stop: () => {
      client.setQueryData(halt, true)
      void client.cancelQueries({ queryKey: ['band', ...key] })
    },
    again: () => {
      client.setQueryData(halt, false)
      if (found.isError) void found.refetch()
    },
  }
}
