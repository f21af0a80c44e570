/** Driver families as people call them. */
export const familyWord = {
  none: 'straight through', resistor: 'resistor', dropper: 'fixed dropper', linear: 'linear', buck: 'step-down', boost: 'step-up', 'buck-boost': 'step-up/down', window: 'mains current', voltage: 'supply',
}

/** The first letter made large: for sentences that stand alone. */
export const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1)
