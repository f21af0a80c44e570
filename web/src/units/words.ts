/** Driver families as people call them. */
export const familyWord = {
  none: 'straight through', resistor: 'resistor', dropper: 'fixed dropper', linear: 'linear', buck: 'step-down', boost: 'step-up', 'buck-boost': 'step-up/down', window: 'mains current', voltage: 'supply',
}

const words: Record<string, string> = {
  ...familyWord,
  'li-ion-4.2': 'lithium-ion, 4.2 V (pouch packs too)', 'zinc-carbon': 'zinc-carbon (lantern blocks)', 'lead-acid': 'sealed lead-acid, a cell of 2 V', 'li-ion-4.35': 'lithium-ion, 4.35 V', lifepo4: 'iron phosphate', nimh: 'NiMH', 'lithium-3.0': 'lithium, 3 V, not to be charged', 'lithium-1.5': 'lithium, 1.5 V, not to be charged',
  pots: 'pots', 'three-in-one': 'three-in-one leads', analog: 'a voltage', pwm: 'PWM', 'phase-cut': 'the mains cut by a wall dimmer', leading: 'leading edge', trailing: 'trailing edge', either: 'either', ohmic: 'a resistance', slope: 'as between the last two readings',
}

/** A word of the light file as people say it, in the field that it stands in. */
export const wordOf = (code: string, pointer = '') => (code === 'none' && pointer.endsWith('/dimming') ? 'not at all' : (words[code] ?? code.replaceAll('-', ' ')))

/** How long a light is lit a day. */
export const litWords = (hours: number) => (hours >= 24 ? 'lit all day' : `lit ${Number(hours.toPrecision(3))} h a day`)

/** The first letter made large: for sentences that stand alone. */
export const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1)
