import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { lookAtLog, sendLog } from '../api/log'
import type { Change } from '../document/store'
import { useKept } from '../settings/useKept'
import { ColumnsForm } from './ColumnsForm'
import { LiveForm } from './LiveForm'
import { OneLog } from './OneLog'
import type { Instrument } from './useInstruments'

type BenchLog = Schemas['BenchLog']
type Column = Schemas['Column']

/** Logs are told apart by their headings; one without any by how many columns it has. */
const headsOf = (look: Schemas['LogLook']) => (look.heads.length > 0 ? look.heads.join('|') : `${look.columns.length} columns`)

interface Props {
  id: string
  light: Light
  variant: number
  change: Change
  plan: Schemas['ReadingPlan'] | undefined
  instruments: Instrument[]
}

/** Logs of a light: brought in from a file or pasted, charted, and what they say of its heat and its pack. */
export function LogsView({ id, light, variant, change, plan, instruments }: Props) {
  const client = useQueryClient()
  const [open, setOpen] = useState<string>()
  const [note, setNote] = useState('')
  const [paste, setPaste] = useState<string>()
  const [beginning, setBeginning] = useState(false)
  const [asked, setAsked] = useState<{ look: Schemas['LogLook']; name: string; body: Blob | string }>()
  const [byHand, setByHand] = useState(false)
  const [known, setKnown] = useKept<Record<string, Column[]>>('log-columns', {})
  const file = useRef<HTMLInputElement>(null)
  const found = useQuery({ queryKey: ['logs', id], queryFn: ({ signal }) => answer(api.GET('/api/lights/{id}/logs', { signal, params: { path: { id } } })), retry: false })
  const logs: BenchLog[] = found.data ?? []
  const log = logs.find((l) => l.id === open) ?? logs.at(-1)
  const bring = async (name: string, body: Blob | string, said?: Column[]) => {
    setNote('The log is read…')
    try {
      // What its columns are is asked where headings do not tell, or where it was asked for.
      const look = said ? undefined : await lookAtLog(body)
      const remembered = look && !byHand ? known[headsOf(look)] : undefined
      if (look && !remembered && (!look.sure || byHand)) {
        setAsked({ look, name, body })
        return setNote('')
      }
      const made = await sendLog(id, name, body, said ?? remembered)
      await client.invalidateQueries({ queryKey: ['logs', id] })
      setOpen(made.id)
      setNote('')
      setPaste(undefined)
      setAsked(undefined)
    } catch (e) {
      setNote((e as Error).message)
    }
  }
  const drop = async (l: BenchLog) => {
    await api.DELETE('/api/lights/{id}/logs/{log}', { params: { path: { id, log: l.id } } })
    await client.invalidateQueries({ queryKey: ['logs', id] })
  }
  return (
    <Box data-testid="logs" sx={{ mt: 1 }}>
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'baseline' }}>
        {logs.map((l) => (
          <Button key={l.id} aria-pressed={l === log} variant={l === log ? 'outlined' : 'text'} sx={{ borderRadius: 4, py: 0, minWidth: 0 }} onClick={() => setOpen(l.id)}>{l.state === 'running' && <span aria-hidden style={{ color: 'var(--margin-ink)', marginRight: 4 }}>●</span>}{l.name}</Button>
        ))}
        <Button sx={{ p: 0, minWidth: 0 }} aria-expanded={beginning} onClick={() => setBeginning(!beginning)}>Log from instruments…</Button>
        <Button sx={{ p: 0, minWidth: 0 }} onClick={() => file.current?.click()}>Bring a log in…</Button>
        <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setPaste(paste === undefined ? '' : undefined)}>Paste one…</Button>
        <input ref={file} type="file" aria-label="File of a log" accept=".csv,.txt,.tsv,text/csv,text/plain" hidden
          onChange={(e) => {
            const f = e.target.files?.[0]
            if (f) void bring(f.name.replace(/\.[a-z]+$/i, '').slice(0, 120) || 'log', f)
            e.target.value = ''
          }} />
      </Box>
      {beginning && <LiveForm id={id} light={light} variant={variant} plan={plan} instruments={instruments} onBegun={(l) => { setBeginning(false); setOpen(l.id); void client.invalidateQueries({ queryKey: ['logs', id] }) }} />}
      {paste !== undefined && (
        <Box sx={{ mt: 1 }}>
          <Box component="textarea" aria-label="Readings of a log" value={paste} rows={6} onChange={(e: React.ChangeEvent<HTMLTextAreaElement>) => setPaste(e.target.value)} placeholder={'time (s); housing (°C)\n0; 20,1\n10; 20,6'} sx={{ width: '100%', font: 'inherit', fontFamily: 'var(--mono)', fontSize: 13, border: '1px dotted var(--power)', background: 'none', color: 'inherit', p: 0.5 }} />
          <Button variant="outlined" sx={{ py: 0 }} disabled={paste.trim() === ''} onClick={() => void bring(`pasted, ${new Date().toISOString().slice(0, 10)}`, paste)}>Take it</Button>
        </Box>
      )}
      {(paste !== undefined || asked || logs.length > 0) && <Box component="label" sx={{ fontSize: 13, display: 'flex', gap: 0.75, mt: 0.5 }}><input type="checkbox" checked={byHand} onChange={(e) => setByHand(e.target.checked)} />say what the columns of the next one are</Box>}
      {asked && <ColumnsForm key={headsOf(asked.look)} look={asked.look} onLeave={() => setAsked(undefined)} onTake={(columns) => { setKnown({ ...known, [headsOf(asked.look)]: columns }); setByHand(false); void bring(asked.name, asked.body, columns) }} />}
      {note && <Box role="alert" sx={{ fontSize: 13, color: 'var(--caution-ink)', mt: 0.5 }}>{note}</Box>}
      {!log && !note && !beginning && !asked && found.isSuccess && <Box sx={{ color: 'var(--ink-soft)', mt: 1, maxWidth: 560 }}>Nothing is logged yet. A few minutes of a warm-up, read every few seconds, tell where it ends; a pack run down tells its capacity. Any logger’s CSV will do: commas, semicolons or tabs, a time in front.</Box>}
      {log && <OneLog key={log.id} id={id} log={log} light={light} variant={variant} change={change} onDrop={() => void drop(log)} />}
    </Box>
  )
}
