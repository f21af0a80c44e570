import { save } from '../api/save'
import type { Schemas } from '../api/client'

const styled = ['fill', 'stroke', 'stroke-width', 'stroke-dasharray', 'fill-opacity', 'stroke-opacity', 'font-size', 'font-family', 'font-weight', 'text-anchor', 'paint-order']

/** A drawing on its own: colours of the theme written into it, so that it looks the same anywhere. */
function alone(svg: SVGSVGElement): { source: string; width: number; height: number } {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const from = [svg, ...svg.querySelectorAll<SVGElement>('*')]
  const to = [copy, ...copy.querySelectorAll<SVGElement>('*')]
  from.forEach((e, i) => {
    const style = getComputedStyle(e)
    for (const name of styled) to[i]!.style.setProperty(name, style.getPropertyValue(name))
  })
  const [, , width = 100, height = 100] = (svg.getAttribute('viewBox') ?? '').split(' ').map(Number)
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.setAttribute('width', String(width))
  copy.setAttribute('height', String(height))
  const paper = document.createElementNS('http://www.w3.org/2000/svg', 'rect')
  paper.setAttribute('width', '100%')
  paper.setAttribute('height', '100%')
  paper.setAttribute('fill', getComputedStyle(document.documentElement).getPropertyValue('--paper').trim())
  copy.prepend(paper)
  return { source: new XMLSerializer().serializeToString(copy), width, height }
}

export const saveSVG = (name: string, svg: SVGSVGElement) => save(`${name}.svg`, new Blob([alone(svg).source], { type: 'image/svg+xml' }))

/** The drawing as pixels, twice as fine as on the page. */
export async function savePNG(name: string, svg: SVGSVGElement) {
  const { source, width, height } = alone(svg)
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(source)}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = 2 * width
  canvas.height = 2 * height
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'))
  if (blob) save(`${name}.png`, blob)
}

/** A map as a table: a row across, a column along, metres from the middle in the first of each. */
export function saveMapCSV(name: string, map: Schemas['LightMap']) {
  const at = (i: number, n: number, side: number) => (((i + 0.5) / n - 0.5) * side).toFixed(4)
  const head = [`y (m) \\ x (m), ${map.unit}`, ...Array.from({ length: map.nx }, (_, i) => at(i, map.nx, map.lengthM))].join(';')
  const rows = Array.from({ length: map.ny }, (_, j) => [at(j, map.ny, map.widthM), ...map.values.slice(j * map.nx, (j + 1) * map.nx)].join(';'))
  save(`${name}.csv`, new Blob([[head, ...rows].join('\n') + '\n'], { type: 'text/csv' }))
}
