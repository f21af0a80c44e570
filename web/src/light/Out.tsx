import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { RefObject } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { save } from '../api/save'
import { useSolved } from '../solved/useSolved'
import { saveMapCSV, savePNG, saveSVG } from './picture'

/** Takes a picture out: as a drawing, as pixels, a map as a table, the light as a photometric file. */
export function Out({ name, light, variant, pictureRef, map }: { name: string; light: Light; variant: number; pictureRef: RefObject<SVGSVGElement | null>; map?: Schemas['LightMap'] }) {
  const t = useSolved((s) => s.t)
  const file = `${light.name} ${name}`.replaceAll(/[^\p{L}\p{N} -]/gu, '')
  const photometric = async () => save(`${file}.ies`, new Blob([await answer(api.POST('/api/light.ies', { params: { query: { variant, atS: t } }, body: light, parseAs: 'text' }))], { type: 'text/plain' }))
  const button = { p: 0, minWidth: 0, fontSize: 12.5 }
  return (
    <Box role="group" aria-label="Take it out" sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap' }}>
      <Button sx={button} onClick={() => pictureRef.current && saveSVG(file, pictureRef.current)}>SVG</Button>
      <Button sx={button} onClick={() => void (pictureRef.current && savePNG(file, pictureRef.current))}>PNG</Button>
      {map && <Button sx={button} onClick={() => saveMapCSV(file, map)}>CSV</Button>}
      <Button sx={button} onClick={() => void photometric()}>Photometric file, LM-63</Button>
    </Box>
  )
}
