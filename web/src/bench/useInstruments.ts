import { useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { useKept } from '../settings/useKept'
import { parse } from '../units/quantity'

/** An instrument of the bench: a real one by its address, or a stand-in by its room. */
export interface Instrument {
  name: string
  quantity: string
  address: string
  /** Id of the stand-in and of its room; absent: a real one. */
  standIn?: { id: string; room: string }
}

export type RealInstrument = Omit<Instrument, 'standIn'>

/** The instruments at hand, and how one is read for a row of the plan. */
export function useInstruments(light: Light, variant: number) {
  const [real, setReal] = useKept<RealInstrument[]>('instruments', [])
  const [standIns, setStandIns] = useState<Schemas['StandIns']>()
  const [wrong, setWrong] = useState('')
  const setUp = async (seed: number, faults: string[]) => {
    setWrong('')
    try {
      setStandIns(await answer(api.POST('/api/bench/standins', { params: { query: { variant, seed, faults } }, body: light })))
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  const [done, setDone] = useState('')
  /** Changes the stand-ins while they are there: another fault, a load on the pack. */
  const put = async (what: { fault?: string; load?: string }) => {
    if (!standIns || (!what.fault && what.load === undefined)) return
    setWrong('')
    setDone('')
    try {
      const loadA = what.load === undefined ? undefined : what.load.trim() === '' ? '0' : String(parse(what.load, 'current', 'A'))
      await answer(api.POST('/api/bench/standins/{id}', { params: { path: { id: standIns.id }, query: { ...(what.fault ? { fault: what.fault } : {}), ...(loadA !== undefined ? { loadA } : {}) } } }))
      setDone(what.fault === 'none' ? 'It is put right; the light started cold again.' : what.fault ? 'It is in. The light was off meanwhile, and started cold again.' : loadA === '0' ? '' : 'The load is on the full pack, in place of the light.')
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  const list: Instrument[] = [...(standIns?.meters ?? []).map((m) => ({ name: m.name, quantity: m.quantity, address: m.address, standIn: { id: m.id, room: standIns!.id } })), ...real]
  /** Which instrument reads a row; undefined: none can. */
  const forRow = (row: Schemas['BenchRow']) => list.find((i) => i.quantity === row.reading?.quantity && (!i.standIn || row.probe != null))
  const read = async (row: Schemas['BenchRow']): Promise<{ value: number; tool?: string } | undefined> => {
    const i = forRow(row)
    if (!i) return undefined
    setWrong('')
    try {
      if (i.standIn && row.probe) {
        const { value } = await answer(api.POST('/api/bench/standins/{id}/read', { params: { path: { id: i.standIn.room }, query: { meter: i.standIn.id } }, body: row.probe }))
        return { value, tool: i.standIn.id }
      }
      return { value: (await answer(api.POST('/api/instruments/read', { params: { query: { address: i.address, quantity: i.quantity as 'voltage' } } }))).value }
    } catch (e) {
      setWrong(`${row.reading?.what ?? row.step}: ${(e as Error).message}`)
      return undefined
    }
  }
  return { list, real, setReal, standIns, setUp, away: () => setStandIns(undefined), put, done, forRow, read, wrong }
}
