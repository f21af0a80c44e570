import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import { FigureField } from '../figures/FigureField'
import { Field, type WorkbenchProps } from '../workbench/fields'
import { changed, withStands, type StandAt } from './stands'

const above: Record<string, string> = { tank: 'Above the water', beam: 'Above the ground', around: 'Above the ground' }
const shownAtOnce = 6

/** Where the bodies hang: said, or as is usual. */
export function StandRows({ work, stands, kind }: { work: WorkbenchProps; stands: StandAt[]; kind: string }) {
  const [all, setAll] = useState(false)
  const name = (id: string) => work.variant.bodies.find((b) => b.id === id)?.name ?? 'What has no body'
  const shown = all ? stands : stands.slice(0, shownAtOnce)
  return (
    <>
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }} data-pointer={`${work.at}/stands`}>Where it hangs or stands</Box>
      {shown.map((s, i) => {
        if (s.bodyId === '') return <Box key={i} sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>What is mounted on no body cannot be placed: say what it is mounted on, under Heat. {s.heightM} m is taken.</Box>
        const at = `${work.at}/stands/${s.at}`
        const label = `${stands.length > 1 ? `${name(s.bodyId)} ${i + 1}: ` : ''}`
        if (!s.said) {
          // What is only taken becomes a stand when it is typed.
          return (
            <Box key={i}>
              <FigureField label={`${label}${above[kind] ?? 'Above what it lights'}`} pointer={`${work.at}/stands/0/heightM`} quantity="length" value={undefined} fallback={`${s.heightM} m, taken`} onChange={(x, done) => x !== undefined && work.change((l) => changed(l, work.at, stands, i, (t) => ({ ...t, heightM: x })), 'Height', done)} />
              <FigureField label={`${label}Leans from straight down`} pointer={`${work.at}/stands/0/tiltDeg`} quantity="angle" value={undefined} fallback={`${s.tiltDeg ?? 0}°, taken`} onChange={(x, done) => x !== undefined && work.change((l) => changed(l, work.at, stands, i, (t) => ({ ...t, tiltDeg: x })), 'Lean', done)} />
            </Box>
          )
        }
        return (
          <Box key={i} sx={stands.length > 1 ? { borderLeft: '2px solid var(--line)', pl: 1, mb: 0.5 } : {}}>
            <Field work={work} label={`${label}${above[kind] ?? 'Above what it lights'}`} pointer={`${at}/heightM`} quantity="length" required />
            {kind !== 'beam' && <Field work={work} label={`${label}Along, from the middle`} pointer={`${at}/xM`} quantity="length" required />}
            {kind !== 'beam' && <Field work={work} label={`${label}Across`} pointer={`${at}/yM`} quantity="length" required />}
            <Field work={work} label={`${label}Leans from straight down`} pointer={`${at}/tiltDeg`} quantity="angle" fallback="0°" />
            {kind !== 'beam' && <Field work={work} label={`${label}Turned`} pointer={`${at}/turnDeg`} quantity="angle" fallback="0°" />}
            {stands.length > 1 && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => withStands(l, work.at, stands.filter((o) => o !== s && o.bodyId !== '')), 'A light less')}>Take it away</Button>}
          </Box>
        )
      })}
      {stands.length > shownAtOnce && !all && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setAll(true)}>All {stands.length}</Button>}
      {kind !== 'beam' && stands[0] && stands[0].bodyId !== '' && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => withStands(l, work.at, [...stands.filter((s) => s.bodyId !== ''), ...stands.filter((s) => s.bodyId === stands[0]!.bodyId).slice(-1).map((s) => ({ ...s, xM: s.xM + Math.max(s.lengthM, 0.2) }))]), 'One more light')}>One more light like it</Button>}
    </>
  )
}
