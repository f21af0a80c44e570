import type { Part } from '../api/client'
import { familyWord, wordOf } from '../units/words'

const some = (...words: (string | false | undefined)[]) => words.filter(Boolean).join(' · ')

/** A part in one line: what one chooses it by. */
export function facts(p: Part): string {
  const { emitter: e, driver: d, cell: c, strip: s, load: l, profile: f, protection: b, charger: h } = p
  if (e) {
    const last = e.forward.at(-1)
    return some(e.colour && wordOf(e.colour), last && `${last.voltageV} V at ${last.currentA} A`, e.ratedCurrentA !== undefined && `rated ${e.ratedCurrentA} A`, e.fluxLm !== undefined && `${e.fluxLm} lm`, e.size)
  }
  if (d) {
    const current = d.minCurrentA !== undefined && d.maxCurrentA !== undefined ? `${d.minCurrentA} to ${d.maxCurrentA} A` : d.setCurrentA !== undefined ? `${d.setCurrentA} A` : d.maxCurrentA !== undefined ? `up to ${d.maxCurrentA} A` : undefined
    return some(familyWord[d.family], (d.channels ?? 1) > 1 && `${d.channels} channels`, current, d.setVoltageV !== undefined && `${d.setVoltageV} V`, d.resistanceOhm !== undefined && `${d.resistanceOhm} Ω`, d.inputMaxV !== undefined && `${d.inputMinV ?? 0} to ${d.inputMaxV} V in`)
  }
  if (c) return some(c.size, wordOf(c.chemistry), `${c.capacityAh} Ah`, `${(c.resistanceOhm * 1000).toFixed(0)} mΩ`, c.maxDischargeA !== undefined && `up to ${c.maxDischargeA} A`)
  if (s) return some(`${s.voltageV} V`, s.powerWPerM !== undefined && `${s.powerWPerM} W/m`, `cut every ${(s.cutM * 1000).toFixed(0)} mm`)
  if (l) {
    const last = l.points?.at(-1)
    return some(last && `${last.currentA} A at ${last.voltageV} V`, `${l.points?.length ?? 0} readings`, l.fluxLm !== undefined && `${l.fluxLm} lm`)
  }
  if (f) return some(f.widthM !== undefined && f.heightM !== undefined && `${(f.widthM * 1000).toFixed(0)} × ${(f.heightM * 1000).toFixed(0)} mm`, f.perimeterM !== undefined && `${f.perimeterM} m²/m`, f.kgPerM !== undefined && `${f.kgPerM} kg/m`)
  if (b) return some(`for ${b.series} in series`, `cuts at ${b.cutCellV} V`, b.releaseCellV !== undefined && !b.latches && `back at ${b.releaseCellV} V`, b.latches && 'stays off', b.maxCurrentA !== undefined && `up to ${b.maxCurrentA} A`)
  if (h) return some(wordOf(h.kind), wordOf(h.chemistry), (h.series ?? 1) > 1 && `${h.series} in series`, h.currentA !== undefined ? `${h.currentA} A` : h.programV !== undefined && `${h.programV} V over its resistor`, h.endCellV !== undefined && `to ${h.endCellV} V a cell`)
  return ''
}
