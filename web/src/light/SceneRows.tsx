import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { set } from '../document/pointer'
import { Choice, Field, Tick, type WorkbenchProps } from '../workbench/fields'

const crops = {
  '': 'not said', seedlings: 'seedlings', cuttings: 'cuttings that root', 'leaf-greens': 'leaf greens', herbs: 'herbs', fruiting: 'fruiting plants',
  'low-light-plants': 'water plants, low light', 'medium-light-plants': 'water plants, medium', 'high-light-plants': 'water plants, high light', 'soft-corals': 'soft corals', 'large-polyp-corals': 'large-polyped corals', 'small-polyp-corals': 'small-polyped corals', seagrass: 'seagrass',
}

/** What is lit, how large it is, and how much is wanted there. */
export function SceneRows({ work, kind }: { work: WorkbenchProps; kind: string }) {
  const { light } = work
  const { brief } = light
  const room = light.scene?.room
  const tank = light.scene?.tank
  const field = (label: string, pointer: string, quantity: string, fallback = 'not said') => <Field work={work} label={label} pointer={pointer} quantity={quantity} fallback={fallback} />
  const growing = kind === 'area' || kind === 'tank'
  return (
    <>
      {/* What was said stays to be seen, whatever is looked at. */}
      {(kind === 'beam' || brief.beamM !== undefined) && field('Wanted reach, to 0.25 lx', '/brief/beamM', 'length')}
      {(kind === 'beam' || brief.peakCd !== undefined) && field('Wanted peak', '/brief/peakCd', 'intensity')}
      {(kind === 'area' || kind === 'strip' || brief.areaLengthM !== undefined || brief.areaWidthM !== undefined) && (
        <>
          {field('Area, length', '/brief/areaLengthM', 'length')}
          {field('Area, width', '/brief/areaWidthM', 'length')}
        </>
      )}
      {kind === 'around' && (
        <>
          {field('Looked at, all round to', '/scene/surroundM', 'length', '5 m')}
          {field('Eyes at', '/scene/eyeHeightM', 'length', '1.6 m')}
        </>
      )}
      {((kind !== 'beam' && kind !== 'tank') || brief.lux !== undefined) && field('Wanted light', '/brief/lux', 'illuminance')}
      {(growing || light.scene?.crop !== undefined || brief.ppfdUmolPerM2S !== undefined) && (
        <>
          <Choice work={work} label="What grows there" pointer="/scene/crop" standard="" options={crops} />
          {field('Wanted photons', '/brief/ppfdUmolPerM2S', 'photonFluxDensity', light.scene?.crop ? 'as is usual for it' : 'not said')}
          {field('Lit a day', '/brief/hoursADay', 'hours', '16 h')}
          {field('Sunrise and sunset, each', '/scene/rampH', 'hours', 'none')}
        </>
      )}
      {kind === 'area' && (room ? (
        <Box sx={{ borderLeft: '2px solid var(--line)', pl: 1 }}>
          {field('Walls, along', '/scene/room/lengthM', 'length', 'as the area')}
          {field('Walls, across', '/scene/room/widthM', 'length', 'as the area')}
          <Field work={work} label="Ceiling at" pointer="/scene/room/heightM" quantity="length" required />
          {field('Walls reflect', '/scene/room/wallsReflect', 'fraction', 'nothing')}
          {field('Ceiling reflects', '/scene/room/ceilingReflects', 'fraction', 'nothing')}
          {field('The lit plane reflects', '/scene/room/floorReflects', 'fraction', 'nothing')}
          <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(l, '/scene/room', undefined), 'Without walls')}>Without walls</Button>
        </Box>
      ) : (
        // Common practice: white paint or film gives back some 80 %, a bare ceiling 70 %, soil and leaves 10 %.
        <Button data-pointer="/scene/room" sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(l, '/scene/room', { heightM: 1, wallsReflect: 0.8, ceilingReflects: 0.7, floorReflects: 0.1 }), 'Walls and a ceiling')}>Walls and a ceiling…</Button>
      ))}
      {kind === 'tank' && (tank ? (
        <Box sx={{ borderLeft: '2px solid var(--line)', pl: 1 }}>
          <Field work={work} label="Tank, length" pointer="/scene/tank/lengthM" quantity="length" required />
          <Field work={work} label="Front to back" pointer="/scene/tank/widthM" quantity="length" required />
          <Field work={work} label="Water, deep" pointer="/scene/tank/waterDepthM" quantity="length" required />
          {field('Glass above the water', '/scene/tank/rimM', 'length', 'none')}
          <Tick work={work} label="A pane lies over it" pointer="/scene/tank/coverGlass" />
          <Choice work={work} label="Sides" pointer="/scene/tank/sides" standard="glass" options={{ glass: 'clear glass', black: 'black' }} />
          <Choice work={work} label="Water" pointer="/scene/tank/water" standard="clear" options={{ clear: 'clear', tannin: 'tea-coloured', green: 'green' }} />
          <Tick work={work} label="Over water, or in it" pointer="/conditions/nearWater" />
        </Box>
      ) : (
        <Button data-pointer="/scene/tank" sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(set(l, '/scene/tank', { lengthM: 0.8, widthM: 0.35, waterDepthM: 0.4 }), '/conditions/nearWater', true), 'A tank')}>Measures of the tank…</Button>
      ))}
    </>
  )
}
