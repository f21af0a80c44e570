import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Schemas } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { clock, show, text } from '../units/quantity'
import { typedAs } from './quantities'

type BenchLog = Schemas['BenchLog']

interface Props {
  id: string
  log: BenchLog
  /** The newest row; undefined: none came yet. */
  last: Schemas['LiveRow'] | undefined
  lost: boolean
}

/** What is often noted while a log is written. */
const often = ['fan off', 'knob to 50 %', 'cover on', 'door opened']

/** A log that is written: its newest figures large, marks, stop and go on. */
export function LiveBar({ id, log, last, lost }: Props) {
  const client = useQueryClient()
  const { settings } = useSettings()
  const [word, setWord] = useState('')
  const [wrong, setWrong] = useState('')
  const path = { id, log: log.id }
  const running = log.state === 'running'
  const turn = async () => {
    setWrong('')
    try {
      const now = await answer(running ? api.POST('/api/lights/{id}/logs/{log}/stop', { params: { path } }) : api.POST('/api/lights/{id}/logs/{log}/resume', { params: { path } }))
      client.setQueryData<BenchLog[]>(['logs', id], (old) => old?.map((l) => (l.id === now.id ? now : l)))
      await client.invalidateQueries({ queryKey: ['log', log.id] })
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  const mark = async (said: string) => {
    setWrong('')
    try {
      await answer(api.POST('/api/lights/{id}/logs/{log}/mark', { params: { path }, body: { s: log.seconds, text: said } }))
      setWord('')
      if (!running) await client.invalidateQueries({ queryKey: ['logs', id] })
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  return (
    <Box data-testid="live" sx={{ mt: 0.5 }}>
      {running && (
        <Box sx={{ display: 'flex', gap: 3, flexWrap: 'wrap', alignItems: 'baseline' }}>
          {log.channels.map((c, i) => {
            const x = last?.values[i]
            return (
              <Box key={i}>
                <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>{c.name}</Box>
                <Box className="figure" sx={{ fontSize: { xs: 30, md: 38 }, lineHeight: 1.1, minWidth: '4ch' }}>{x == null ? '–' : text(show(x, typedAs(c.quantity), settings))}</Box>
              </Box>
            )
          })}
          {last && <Box sx={{ color: 'var(--ink-soft)', fontSize: 13 }}>after <span className="figure">{clock(last.s)}</span>{log.pace > 1 && <>, at <span className="figure">{log.pace}×</span> its pace</>}</Box>}
        </Box>
      )}
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'baseline', fontSize: 13, mt: 0.5 }}>
        <Button variant="outlined" sx={{ py: 0 }} onClick={() => void turn()}>{running ? 'Stop' : 'Go on with it'}</Button>
        {running && <Box role="status" sx={{ color: lost ? 'var(--caution-ink)' : 'var(--margin-ink)' }}><span aria-hidden>{lost ? '◆' : '●'}</span> {lost ? 'the line is down; what is read is kept all the same' : 'is being written'}</Box>}
        <Box component="form" sx={{ display: 'flex', gap: 1, flex: '1 1 200px', minWidth: 0, alignItems: 'baseline' }} onSubmit={(e: React.FormEvent) => { e.preventDefault(); if (word.trim()) void mark(word.trim()) }}>
          <Box component="input" list="often-noted" aria-label="Note what happens" placeholder="what happens: fan off…" maxLength={120} value={word} onChange={(e: React.ChangeEvent<HTMLInputElement>) => setWord(e.target.value)} sx={{ flex: 1, minWidth: 0, font: 'inherit', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'inherit' }} />
          <datalist id="often-noted">{often.map((o) => <option key={o} value={o} />)}</datalist>
          <Button type="submit" sx={{ p: 0, minWidth: 0 }} disabled={word.trim() === ''}>Mark it</Button>
        </Box>
      </Box>
      {wrong && <Box role="alert" sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>{wrong}</Box>}
    </Box>
  )
}
