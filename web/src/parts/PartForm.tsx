import Button from '@mui/material/Button'
import { useState } from 'react'
import type { Part } from '../api/client'
import { get, set } from '../document/pointer'
import { FigureField } from '../figures/FigureField'
import { withFamily } from './begin'
import { figuresOf, firstFigures, kindOf } from './description'
import { ChoiceRow, FigureRow, WordRow } from './rows'

interface Props {
  part: Part
  /** Place in a light whose ranges hold; any part's will do. */
  wrong: Map<string, string>
  /** Name of a figure that is looked for: it is shown though it be an unusual one. */
  sought?: string
  onChange: (part: Part, label: string, done: boolean) => void
}

const rangesAt = '/parts/0'

/** Every figure of a part, the usual ones first. */
export function PartForm({ part, wrong, sought, onChange }: Props) {
  const [all, setAll] = useState(false)
  const kind = kindOf(part)
  const first = firstFigures(part)
  const data = (part[kind] ?? {}) as Record<string, unknown>
  const figures = figuresOf(part)
  const shown = all ? figures : figures.filter((f) => first.includes(f.name) || f.name === sought || get(data, `/${f.name}`) !== undefined)
  const put = (pointer: string, label: string) => (value: unknown, done = true) => {
    // Another family leaves nothing of the one before: its currents and voltages meant something else.
    const family = pointer === '/driver/family' && part.driver && value !== part.driver.family
    onChange(family ? { ...part, driver: withFamily(part.driver!, value as NonNullable<Part['driver']>['family']) } : set(part, pointer, value), label, done)
  }
  return (
    <>
      <WordRow label="Name" value={part.name} onChange={put('/name', 'Name')} required />
      <ChoiceRow label="Where its figures come from" value={part.basis ?? ''} options={['datasheet', 'measured', 'guess']} onChange={put('/basis', 'Basis')} />
      <FigureField label="Price, each" pointer={`${rangesAt}/price`} quantity="count" value={part.price} fallback="not known" onChange={put('/price', 'Price')} />
      {shown.map((f) => (
        <FigureRow key={f.name} figure={f} value={get(data, `/${f.name}`)} error={wrong.get(`/${kind}/${f.name}`) ?? [...wrong].find(([k]) => k.startsWith(`/${kind}/${f.name}/`))?.[1]} pointer={`${rangesAt}/${kind}/${f.name}`} onChange={put(`/${kind}/${f.name}`, f.label)} />
      ))}
      <Button onClick={() => setAll((a) => !a)}>{all ? 'The usual figures only' : 'All figures'}</Button>
      <WordRow label="Note" value={part.note ?? ''} onChange={put('/note', 'Note')} />
    </>
  )
}
