import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import type { Schemas } from '../api/client'

type BenchLog = Schemas['BenchLog']
type Rows = Schemas['LiveRows']

/** Rows are kept beside the chart's own until there are so many; then the log is asked for anew. */
const mostFresh = 300

/** Rows of a log that is being written, as they come, after those that are known. */
export function useFollow(light: string, log: BenchLog, known: number | undefined): { rows: Schemas['LiveRow'][]; lost: boolean } {
  const client = useQueryClient()
  const [rows, setRows] = useState<Schemas['LiveRow'][]>([])
  const [lost, setLost] = useState(false)
  const running = log.state === 'running'
  const ready = known !== undefined
  const knownRef = useRef(known)
  useEffect(() => { knownRef.current = known }, [known])
  useEffect(() => {
    if (!running || !ready) return
    const source = new EventSource(`/api/lights/${light}/logs/${log.id}/follow?after=${known}`)
    source.addEventListener('open', () => setLost(false))
    source.addEventListener('error', () => setLost(true))
    let kept: Schemas['LiveRow'][] = []
    source.addEventListener('rows', (e: MessageEvent<string>) => {
      const came = JSON.parse(e.data) as Rows
      const last = kept.at(-1)?.seq ?? 0
      kept = [...kept, ...came.rows.filter((r) => r.seq > last)].filter((r) => r.seq > (knownRef.current ?? 0))
      setRows(kept)
      if (came.gap || kept.length >= mostFresh) void client.invalidateQueries({ queryKey: ['log', log.id] }, { cancelRefetch: false })
    })
    source.addEventListener('log', (e: MessageEvent<string>) => {
      const now = JSON.parse(e.data) as BenchLog
      client.setQueryData<BenchLog[]>(['logs', light], (old) => old?.map((l) => (l.id === now.id ? now : l)))
    })
    return () => source.close()
    // Rows that come are told apart by their number: a chart that was asked for anew needs no new line.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [client, light, log.id, running, ready])
  return { rows: known === undefined ? [] : rows.filter((r) => r.seq > known), lost: running && lost }
}
