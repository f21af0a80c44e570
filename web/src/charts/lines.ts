export interface Line {
  name: string
  unit: string
  colour: string
  /** Which of the two vertical axes; 0 is the left one. */
  axis: 0 | 1
  points: [number, number][]
  dashed?: boolean | 'dotted'
  digits?: number
}

export interface Axis {
  name: string
  min?: number
  max?: number
}
