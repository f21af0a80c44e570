/** Where the figure of a line is written: at the lowest point of its longest ring that is clear of the edge. */
export function labelAt(polygons: number[][][][], nx: number, ny: number, w: number, h: number): [number, number] | undefined {
  const ring = polygons.flat().toSorted((a, b) => b.length - a.length)[0]
  const inside = ring?.filter(([x, y]) => x! > 0.05 * nx && x! < 0.95 * nx && y! > 0.06 * ny && y! < 0.94 * ny)
  const low = inside?.toSorted((a, b) => b[1]! - a[1]!)[0]
  return low && [(low[0]! / nx) * w, (low[1]! / ny) * h + 4]
}

/** The colour of light that is so much of the brightest: eyes see steps about as its root. */
export const shade = (share: number) => `color-mix(in oklab, var(--light) ${Math.round(100 * Math.sqrt(Math.min(1, Math.max(0, share))))}%, var(--light-dark))`
