/** Under which quantity a reading is typed and shown: light over another reading is a share. */
export const typedAs = (quantity: string): string => (quantity === 'light' ? 'fraction' : quantity === 'ppfd' ? 'photonFluxDensity' : quantity)

export const verdicts = {
  agrees: { word: 'agrees', shape: '●', tone: 'var(--margin-ink)' },
  doubtful: { word: 'doubtful', shape: '◆', tone: 'var(--caution-ink)' },
  differs: { word: 'differs', shape: '▲', tone: 'var(--stop)' },
} as const
