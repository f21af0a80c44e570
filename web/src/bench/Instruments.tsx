import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import type { useInstruments } from './useInstruments'

const faults: [string, string][] = [['', 'nothing is wrong'], ['surprise', 'something is wrong: find it'], ['pot', 'the pot stands wrong'], ['dry-joint', 'a dry joint'], ['shorted-emitter', 'an emitter is shorted'], ['open-emitter', 'an emitter is open'], ['contact', 'a bad contact'], ['weak-cell', 'a weak cell']]
const inNow: [string, string][] = [['', 'another fault…'], ['none', 'none: put it right'], ...faults.slice(2)]
const quantities = ['voltage', 'current', 'power', 'temperature', 'illuminance', 'ppfd']
const plain = { font: 'inherit', fontSize: 13, border: 0, background: 'none', color: 'var(--power-ink)', maxWidth: '100%' } as const

/** Instruments on the side: stand-ins to practise with, and real ones by their address. */
export function Instruments({ of }: { of: ReturnType<typeof useInstruments> }) {
  const [fault, setFault] = useState('surprise')
  const [adding, setAdding] = useState<{ address: string; quantity: string }>()
  const begin = () => void of.setUp(Math.floor(Math.random() * 1e6), fault === '' ? [] : [fault])
  return (
    <Box component="section" aria-label="Instruments" sx={{ mb: 2, fontSize: 13 }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>Instruments</Box>
      {of.standIns ? (
        <>
          <Box sx={{ color: 'var(--ink-soft)' }}>Stand-ins are on the light; its figures are not quite those of the document. R reads the open row; Logs reads them again and again.</Box>
          {of.standIns.meters.map((m) => <Box key={m.id} sx={{ display: 'flex', gap: 1, alignItems: 'baseline' }}><Box sx={{ flex: 1 }}>{m.name.replace(/^Stand-in /, '')}</Box><Box className="figure" sx={{ color: 'var(--ink-soft)', fontSize: 11.5 }}>{m.address}</Box></Box>)}
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'baseline' }}>
            <Box component="label" sx={{ flex: '1 1 100%' }}>Put in <select aria-label="Fault to put in now" value="" onChange={(e) => void of.put({ fault: e.target.value })} style={plain}>{inNow.map(([k, w]) => <option key={k} value={k}>{w}</option>)}</select></Box>
            <Box component="label">Load draws <Box component="input" aria-label="What the electronic load draws" placeholder="0 A" key={of.standIns.id} maxLength={12} onBlur={(e: React.FocusEvent<HTMLInputElement>) => { if (e.target.value.trim() !== (e.target.dataset.was ?? '')) void of.put({ load: (e.target.dataset.was = e.target.value.trim()) }) }} onKeyDown={(e: React.KeyboardEvent<HTMLInputElement>) => { if (e.key === 'Enter') e.currentTarget.blur() }} sx={{ width: '6ch', font: 'inherit', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'inherit' }} /></Box>
          </Box>
          {of.done && <Box role="status" sx={{ color: 'var(--ink-soft)' }}>{of.done}</Box>}
          <Button sx={{ p: 0, minWidth: 0 }} onClick={of.away}>Put them away</Button>
        </>
      ) : (
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'baseline' }}>
          <select aria-label="What is hidden" value={fault} onChange={(e) => setFault(e.target.value)} style={plain}>{faults.map(([k, w]) => <option key={k} value={k}>{w}</option>)}</select>
          <Button sx={{ p: 0, minWidth: 0 }} onClick={begin}>Practise with stand-ins</Button>
        </Box>
      )}
      {of.real.map((i, k) => (
        <Box key={i.address + i.quantity} sx={{ display: 'flex', gap: 1 }}>
          <Box className="figure" sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis' }}>{i.address}</Box><Box sx={{ color: 'var(--ink-soft)' }}>{i.quantity}</Box>
          <Button aria-label={`Leave out ${i.address}`} sx={{ p: 0, minWidth: 20 }} onClick={() => of.setReal(of.real.filter((_, n) => n !== k))}>×</Button>
        </Box>
      ))}
      {adding ? (
        <Box component="form" sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }} onSubmit={(e: React.FormEvent) => {
          e.preventDefault()
          if (adding.address.trim()) of.setReal([...of.real, { name: adding.address.trim(), ...adding, address: adding.address.trim() }])
          setAdding(undefined)
        }}>
          <Box component="input" autoFocus aria-label="Address of an instrument" placeholder="host:port" value={adding.address} maxLength={200} onChange={(e: React.ChangeEvent<HTMLInputElement>) => setAdding({ ...adding, address: e.target.value })} sx={{ flex: 1, minWidth: 90, font: 'inherit', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'inherit' }} />
          <select aria-label="What it reads" value={adding.quantity} onChange={(e) => setAdding({ ...adding, quantity: e.target.value })} style={plain}>{quantities.map((q) => <option key={q}>{q}</option>)}</select>
          <Button type="submit" sx={{ p: 0, minWidth: 0 }}>Add</Button>
        </Box>
      ) : <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setAdding({ address: '', quantity: 'voltage' })}>Add one of your own…</Button>}
      {of.wrong && <Box role="alert" sx={{ color: 'var(--caution-ink)' }}>{of.wrong}</Box>}
    </Box>
  )
}
