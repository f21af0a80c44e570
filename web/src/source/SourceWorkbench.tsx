import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Schemas } from '../api/client'
import { append, set } from '../document/pointer'
import { Renamable } from '../figures/Renamable'
import { ReadRow } from '../figures/FigureField'
import { feedName, freshId, nodeName, sourceName } from '../document/names'
import { kindOfSource, sourceKinds, type SourceKind } from '../document/sources'
import { idsOf, nodesOf } from '../document/tree'
import { Choice, WorkbenchTitle, Field, Words, type WorkbenchProps } from '../workbench/fields'
import { useAnyFigures, useFigures } from '../solved/useSolved'
import { litWords } from '../units/words'
import { x } from '../workbench/rows'
import { PackRows } from './PackRows'

type Feed = Schemas['Feed']

export function SourceWorkbench(work: WorkbenchProps) {
  const { variant, at } = work
  const between = nodesOf(variant, at).filter((p) => p.node.switch ?? p.node.auxiliary)
  return (
    <>
      <WorkbenchTitle title="Source" keyName="1" />
      {variant.feeds.map((f, i) => (
        <Box key={f.id}>
          {variant.feeds.length > 1 && <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>{feedName(f)}</Box>}
          {f.sources.map((s, k) => (
            <Box key={s.id}>
              {k > 0 && <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Must also accept: {sourceName(s)}</Box>}
              <KindOf work={work} here={`${at}/feeds/${i}/sources/${k}`} source={s} />
              <OneSource work={work} feed={f} index={i} source={k} />
            </Box>
          ))}
          <Another work={work} pointer={`${at}/feeds/${i}/sources`} first={f.sources.length === 0} />
        </Box>
      ))}
      {between.map((p) => (
        <Box key={p.node.id}>
          {p.node.switch && <Field work={work} label={`${nodeName(p.node)}, contact`} pointer={`${p.pointer}/switch/contactOhm`} quantity="resistance" fallback="0 Ω" />}
          {p.node.switch && <Field work={work} label="switches fast: share of time closed" pointer={`${p.pointer}/switch/duty`} quantity="fraction" fallback="does not" />}
          {p.node.switch && p.node.switch.duty === undefined && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(set(l, `${p.pointer}/switch/duty`, 0.5), `${p.pointer}/switch/frequencyHz`, 8), 'Strobe')}>Let it flash…</Button>}
          {p.node.switch?.duty !== undefined && <Field work={work} label="times a second" pointer={`${p.pointer}/switch/frequencyHz`} quantity="frequency" fallback="not said" />}
          {p.node.switch && <Field work={work} label="rated" pointer={`${p.pointer}/switch/ratingA`} quantity="current" fallback="not known" />}
          {p.node.auxiliary && (
            <>
              <Choice work={work} label={nodeName(p.node)} pointer={`${p.pointer}/auxiliary/purpose`} standard="other" options={purposes} />
              <Field work={work} label="draws while lit" pointer={`${p.pointer}/auxiliary/currentA`} quantity="current" fallback="0 A" />
              <Field work={work} label="draws while off" pointer={`${p.pointer}/auxiliary/standbyA`} quantity="current" fallback="nothing" />
              <Field work={work} label="starts at" pointer={`${p.pointer}/auxiliary/startV`} quantity="voltage" fallback="any voltage" />
            </>
          )}
        </Box>
      ))}
    </>
  )
}

/** What feeds it, changed in one gesture: another kind leaves nothing of the one before. */
function KindOf({ work, here, source }: { work: WorkbenchProps; here: string; source: Schemas['Source'] }) {
  const options = Object.fromEntries(Object.entries(sourceKinds).map(([k, s]) => [k, s.word]))
  const kind = kindOfSource(source)
  return <Choice work={work} label="Fed from" pointer={here} value={kind ?? ''} options={kind ? options : { '': 'not chosen yet', ...options }} put={(l, picked) => (picked ? set(l, here, sourceKinds[picked as SourceKind].make(source.id)) : l)} />
}

/** One more source that the light must accept: full and empty of each are judged. */
function Another({ work, pointer, first }: { work: WorkbenchProps; pointer: string; first: boolean }) {
  const { variant } = work
  return <Choice work={work} label={first ? 'What feeds it' : 'It must also accept'} pointer={pointer} value="" options={{ '': first ? 'not chosen yet' : 'nothing else', ...Object.fromEntries(Object.entries(sourceKinds).map(([k, s]) => [k, s.word])) }}
    put={(l, picked) => (picked ? append(l, pointer, sourceKinds[picked as SourceKind].make(freshId(picked, idsOf(variant)))) : l)} />
}

const purposes = { other: 'not said', fan: 'fan', controller: 'controller', alarm: 'alarm', indicator: 'indicator', protection: 'protection' }

function OneSource({ work, feed, index, source: k }: { work: WorkbenchProps; feed: Feed; index: number; source: number }) {
  const { at } = work
  const source = feed.sources[k]!
  const here = `${at}/feeds/${index}/sources/${k}`
  const inUse = k === 0
  const named = <Renamable value={source.name ?? ''} fallback={sourceName(source)} end onName={(name) => work.change((l) => set(l, `${here}/name`, name || undefined), 'Name of the source')} />
  if (source.supply) {
    return (
      <>
        <ReadRow label="Supply">{named}</ReadRow>
        <Field work={work} label="Voltage without load" pointer={`${here}/supply/voltageV`} quantity="voltage" required />
        <Field work={work} label="Source resistance" pointer={`${here}/supply/resistanceOhm`} quantity="resistance" fallback="0 Ω" hint="an unregulated adapter is high off load: no-load less loaded voltage, over the current" />
        <Field work={work} label="Current limit" pointer={`${here}/supply/maxCurrentA`} quantity="current" fallback="none" />
        {source.supply.kind === 'power-bank' && <Field work={work} label="Sleeps where less is drawn than" pointer={`${here}/supply/keepsOnA`} quantity="current" fallback="60 mA, common practice" />}
        <Words work={work} label="A rail of" pointer={`${here}/supply/unit`} fallback="no other rails" />
        {source.supply.unit && <Field work={work} label="All its rails together" pointer={`${here}/supply/unitMaxW`} quantity="power" fallback="not known" />}
      </>
    )
  }
  if (source.mains) {
    return (
      <>
        <ReadRow label="Mains">{named}</ReadRow>
        <Field work={work} label="Voltage" pointer={`${here}/mains/voltageV`} quantity="voltage" required />
        {inUse && <FromTheWall feed={feed.id} hoursADay={work.light.brief.hoursADay ?? 24} />}
      </>
    )
  }
  if (!source.pack) return null
  return (
    <>
      <ReadRow label="Pack">{named}</ReadRow>
      <PackRows work={work} feed={feed} index={index} here={here} pack={source.pack} inUse={inUse} />
    </>
  )
}

function FromTheWall({ feed, hoursADay }: { feed: string; hoursADay: number }) {
  const { sourceW } = useFigures(feed, 'sourceW')
  const any = useAnyFigures()
  if (sourceW === undefined || !any) return null
  return (
    <>
      <ReadRow label="Takes from the wall">{x(sourceW, 'W')}</ReadRow>
      <ReadRow label={`In a day, ${litWords(hoursADay)}`}>{x((sourceW * hoursADay) / 1000, 'kWh')}</ReadRow>
    </>
  )
}
