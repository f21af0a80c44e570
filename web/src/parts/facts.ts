import type { Part } from '../api/client'
import { familyWord, wordOf } from '../units/words'

const some = (...words: (string | false | undefined)[]) => words.filter(Boolean).join(' · ')

/** Words around figures of at most four digits. */
const say = (words: TemplateStringsArray, ...figures: (number | string | undefined)[]) => String.raw({ raw: words }, ...figures.map((x) => (typeof x === 'number' ? Number(x.toPrecision(4)) : x)))

/** A part in one line: what one chooses it by. */
export function facts(p: Part): string {
  const { emitter: e, driver: d, cell: c, strip: s, load: l, profile: f, protection: b, charger: h } = p
  if (e) {
    const last = e.forward.at(-1)
    return some(e.colour && wordOf(e.colour), last && say`${last.voltageV} V at ${last.currentA} A`, e.ratedCurrentA !== undefined && say`rated ${e.ratedCurrentA} A`, e.fluxLm !== undefined && say`${e.fluxLm} lm`, e.size)
  }
  if (d) {
    const current = d.minCurrentA !== undefined && d.maxCurrentA !== undefined ? say`${d.minCurrentA} to ${d.maxCurrentA} A` : d.setCurrentA !== undefined ? say`${d.setCurrentA} A` : d.maxCurrentA !== undefined ? say`up to ${d.maxCurrentA} A` : undefined
    return some(familyWord[d.family], (d.channels ?? 1) > 1 && say`${d.channels} channels`, current, d.setVoltageV !== undefined && say`${d.setVoltageV} V`, d.resistanceOhm !== undefined && say`${d.resistanceOhm} Ω`, d.inputMaxV !== undefined && say`${d.inputMinV ?? 0} to ${d.inputMaxV} V in`)
  }
  if (c) return some(c.size, wordOf(c.chemistry), say`${c.capacityAh} Ah`, say`${(c.resistanceOhm * 1000).toFixed(0)} mΩ`, c.maxDischargeA !== undefined && say`up to ${c.maxDischargeA} A`)
  if (s) return some(say`${s.voltageV} V`, s.powerWPerM !== undefined && say`${s.powerWPerM} W/m`, say`cut every ${(s.cutM * 1000).toFixed(0)} mm`)
  if (l) {
    const last = l.points?.at(-1)
    return some(last && say`${last.currentA} A at ${last.voltageV} V`, say`${l.points?.length ?? 0} readings`, l.fluxLm !== undefined && say`${l.fluxLm} lm`)
  }
  if (f) return some(f.widthM !== undefined && f.heightM !== undefined && say`${(f.widthM * 1000).toFixed(0)} × ${(f.heightM * 1000).toFixed(0)} mm`, f.perimeterM !== undefined && say`${f.perimeterM} m²/m`, f.kgPerM !== undefined && say`${f.kgPerM} kg/m`)
  if (b) return some(say`for ${b.series} in series`, say`cuts at ${b.cutCellV} V`, b.releaseCellV !== undefined && !b.latches && say`back at ${b.releaseCellV} V`, b.latches && 'stays off', b.maxCurrentA !== undefined && say`up to ${b.maxCurrentA} A`)
  if (h) return some(wordOf(h.kind), wordOf(h.chemistry), (h.series ?? 1) > 1 && say`${h.series} in series`, h.currentA !== undefined ? say`${h.currentA} A` : h.programV !== undefined && say`${h.programV} V over its resistor`, h.endCellV !== undefined && say`to ${h.endCellV} V a cell`)
  return ''
}
