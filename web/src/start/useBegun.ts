import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useEffect, useState } from 'react'
import { answer, api, type Part, type Schemas } from '../api/client'
import { SolvedStore } from '../solved/store'
import type { Facts } from './ways'

/** The light that facts make, and its figures: the last that was made stays until the next is there. */
export function useBegun(facts: Facts | undefined): { begun?: Schemas['Begun']; solved: SolvedStore; error?: Error } {
  const [solved] = useState(() => new SolvedStore(true))
  const asked = useDeferredValue(facts)
  const query = useQuery({
    queryKey: ['begin', asked],
    queryFn: ({ signal }) => answer(api.POST('/api/begin', { body: asked!, signal })),
    enabled: asked !== undefined,
    placeholderData: (before) => before,
    staleTime: Infinity,
  })
  const begun = facts ? query.data : undefined
  useEffect(() => {
    if (begun) solved.want(begun.light, 0)
  }, [solved, begun])
  useEffect(() => () => solved.close(), [solved])
  return { begun, solved, error: query.error ?? undefined }
}

/** The cabinet's parts, to pick from. */
export function useCabinet(): Part[] {
  const parts = useQuery({ queryKey: ['cabinet', 'start'], queryFn: () => answer(api.GET('/api/cabinet', { params: { query: { bin: false } } })) })
  return parts.data?.filter((p) => !p.unreadable).map((p) => ({ ...p.part, origin: { id: p.id, hash: p.hash } })) ?? []
}
