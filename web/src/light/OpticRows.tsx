import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useRef, useState } from 'react'
import { answer, api } from '../api/client'
import { set } from '../document/pointer'
import type { Placed } from '../document/tree'
import { Choice, Field, type WorkbenchProps } from '../workbench/fields'

const kinds = { '': 'a lens, where a beam is said', bare: 'none: bare emitters', lens: 'a lens', 'smooth-reflector': 'a smooth reflector', 'textured-reflector': 'a textured reflector', diffuser: 'a diffuser' }

/** What the light of a node leaves through, and where it looks. */
export function OpticRows({ work, p }: { work: WorkbenchProps; p: Placed }) {
  const at = `${p.pointer}/optic`
  const o = p.node.optic
  const [more, setMore] = useState(false)
  const file = useRef<HTMLInputElement>(null)
  const [wrong, setWrong] = useState('')
  const reflector = o?.kind === 'smooth-reflector' || o?.kind === 'textured-reflector'
  const bring = async (list: FileList | null) => {
    const one = list?.[0]
    if (!one) return
    try {
      const text = await one.text()
      const found = await answer(api.POST('/api/photometric', { body: text as never, bodySerializer: (b) => b, headers: { 'Content-Type': 'text/plain' } }))
      work.change((l) => set(set(l, `${at}/table`, { ...found.table, name: found.table.name || one.name }), `${at}/kind`, 'table'), `Intensity table for ${p.node.name ?? 'it'}`)
      setWrong('')
    } catch (e) {
      setWrong(`${one.name}: ${(e as Error).message}`)
    }
  }
  return (
    <>
      <Choice work={work} label="Through" pointer={`${at}/kind`} standard="" options={o?.table ? { ...kinds, table: `a measured table${o.table.name ? `: ${o.table.name}` : ''}` } : kinds} />
      {p.node.array && (
        <>
          {!reflector && o?.kind !== 'table' && o?.kind !== 'bare' && o?.kind !== 'diffuser' && <Field work={work} label="Beam, full at half" pointer={`${p.pointer}/array/beamDeg`} quantity="angle" fallback="no optic" />}
          <Field work={work} label="Optic lets through" pointer={`${p.pointer}/array/opticEfficiency`} quantity="fraction" fallback="all of it" />
        </>
      )}
      {reflector && (
        <>
          <Field work={work} label="Spot, full at half" pointer={`${at}/spotDeg`} quantity="angle" fallback="10°" />
          <Field work={work} label="Spill, full" pointer={`${at}/spillDeg`} quantity="angle" fallback="100°" />
          <Field work={work} label="Light in the spot" pointer={`${at}/spotShare`} quantity="fraction" fallback="40 %" />
        </>
      )}
      <Field work={work} label={o?.kind === 'diffuser' ? 'Diffuser lets through' : 'Cover lets through'} pointer={`${at}/coverTransmits`} quantity="fraction" fallback="no cover" />
      {(more || o?.soiled !== undefined) && <Field work={work} label="Dirt on it takes" pointer={`${at}/soiled`} quantity="fraction" fallback="clean" />}
      {(more || o?.openingM !== undefined) && <Field work={work} label="Opening, width" pointer={`${at}/openingM`} quantity="length" fallback="not known" />}
      {(more || o?.diffuserDistanceM !== undefined || o?.kind === 'diffuser') && <Field work={work} label="Diffuser before it by" pointer={`${at}/diffuserDistanceM`} quantity="length" fallback="none" />}
      {(more || o?.tiltDeg !== undefined) && <Field work={work} label="Leans from its body" pointer={`${at}/tiltDeg`} quantity="angle" fallback="0°" />}
      {(more || o?.turnDeg !== undefined) && <Field work={work} label="Towards, round from its length" pointer={`${at}/turnDeg`} quantity="angle" fallback="0°" />}
      {(more || o?.alongM !== undefined) && <Field work={work} label="Sits along its body by" pointer={`${at}/alongM`} quantity="length" fallback="in the middle" />}
      {(more || o?.acrossM !== undefined) && <Field work={work} label="Sits across by" pointer={`${at}/acrossM`} quantity="length" fallback="in the middle" />}
      {(more || o?.forwardM !== undefined) && <Field work={work} label="Sits before it by" pointer={`${at}/forwardM`} quantity="length" fallback="on its face" />}
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap' }}>
        <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setMore((m) => !m)}>{more ? 'Less of its optic' : 'More of its optic…'}</Button>
        <Button sx={{ p: 0, minWidth: 0 }} onClick={() => file.current?.click()}>Measured table…</Button>
        {o?.table && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(set(l, `${at}/table`, undefined), `${at}/kind`, undefined), 'Without its table')}>Take the table away</Button>}
        <input ref={file} type="file" hidden aria-label="Photometric file" accept=".ies,text/plain" onChange={(e) => { void bring(e.target.files); e.target.value = '' }} />
      </Box>
      {wrong && <Box role="alert" sx={{ fontSize: 12.5, color: 'var(--stop)' }}>{wrong}</Box>}
    </>
  )
}
