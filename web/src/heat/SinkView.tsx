import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Slider from '@mui/material/Slider'
import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { answer, api, type Light, type Schemas, type Variant } from '../api/client'
import { set } from '../document/pointer'
import { nodesOf, partOf } from '../document/tree'
import { useSettings } from '../settings/SettingsProvider'
import { amps, digits, show, text } from '../units/quantity'
import { SinkDrawing } from './SinkDrawing'

/** What another number of fins must bring to be offered, K. */
const worthK = 1

type Sink = Schemas['Sink']
type Body = Variant['bodies'][number]

interface Props {
  light: Light
  variant: number
  at: string
  tryOut: (light: Light, label: string) => void
}

/** Every body that is known by its measures, held against the heat on it by both schools. */
export function SinkView(props: Props) {
  const bodies = props.light.variants[props.variant]!.bodies
  const measured = bodies.filter((b) => b.shape && b.kPerW === undefined)
  if (measured.length === 0) {
    return (
      <Box sx={{ color: 'var(--ink-soft)', maxWidth: 480 }}>
        {bodies.length === 0 ? 'Add a body first: what the emitters are mounted on.' : 'Say beside what the body is known by: a sheet, fins, a profile, a tube, a housing. From a ruler’s measures follow its surface, how warm it gets by both schools, and the length to buy.'}
      </Box>
    )
  }
  return measured.map((b) => <OneSink key={b.id} {...props} body={b} />)
}

function OneSink({ light, variant, at, tryOut, body }: Props & { body: Body }) {
  const { settings } = useSettings()
  const [cutM, setCutM] = useState<number>()
  const here = `${at}/bodies/${light.variants[variant]!.bodies.indexOf(body)}/shape/lengthM`
  const asked = cutM === undefined ? light : set(light, here, cutM)
  const found = useQuery({ queryKey: ['sink', variant, body.id, asked], queryFn: ({ signal }) => answer(api.POST('/api/sink', { signal, params: { query: { variant, body: body.id } }, body: asked })), retry: false, placeholderData: (old) => old })
  if (found.isError) return <Box role="alert" sx={{ color: 'var(--ink-soft)' }}>{found.error.message}</Box>
  const s = found.data
  if (!s) return <Box sx={{ color: 'var(--ink-soft)' }}>Held against its heat…</Box>
  const degrees = (c: number | null | undefined) => (c == null ? 'nowhere' : text(show(c, 'temperature', settings)))
  const area = (m2: number) => text(show(m2, 'area', settings))
  const length = (m: number | null | undefined) => (m == null ? '—' : text(show(m, 'length', settings)))
  // What is not said of it is that of the profile it is cut from.
  const extrusion = partOf(light, body.shape!.partId)?.part.profile
  const cutFrom = extrusion && { widthM: extrusion.widthM, heightM: extrusion.heightM, thicknessM: extrusion.baseM }
  const mass = (kg: number) => text(show(kg, 'mass', settings))
  const money = (x: number | null | undefined) => (x == null ? '' : `, ${digits(x, 3)}`)
  const setCurrent = () => {
    const driver = nodesOf(light.variants[variant]!, at).find((p) => p.node.driver?.partId && p.node.driver.programOhm === undefined)
    if (driver && s.currentA != null) tryOut(set(light, `${driver.pointer}/driver/setCurrentA`, Number(s.currentA.toPrecision(3))), `${amps(s.currentA)}, for ${body.name}`)
  }
  const cut = (m: number | null | undefined) => m != null && tryOut(set(light, here, Number(m.toPrecision(3))), `${body.name} of ${length(m)}`)
  return (
    <Box data-testid="sink" sx={{ '& + &': { mt: 2 } }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>{body.name}: <span className="figure">{digits(s.heatW, 3)} W</span> of heat{s.sunW > 0 && <> and <span className="figure">{digits(s.sunW, 3)} W</span> of sun</>}{s.areaM2 > 0 && <> on <span className="figure">{area(s.areaM2)}</span></>}{s.massKg != null && <> and <span className="figure">{text(show(s.massKg, 'mass', settings))}</span></>}</Box>
      {!s.unsettled && s.inputW > 0 && <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>Not the <span className="figure">{digits(s.inputW, 3)} W</span> that go in: <span className="figure">{digits(s.lightW, 3)} W</span> leave as light{s.inputW - s.lightW - s.heatW > 0.01 * s.inputW && <>, <span className="figure">{digits(s.inputW - s.lightW - s.heatW, 3)} W</span> become heat elsewhere</>}.</Box>}
      {s.unsettled && <Box sx={{ color: 'var(--stop)', fontSize: 13 }}>It does not come to rest: {s.unsettled}. Its heat is that of switch-on.</Box>}
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '220px minmax(0, 1fr)' }, gap: 2, mt: 1 }}>
        <Box>
          <SinkDrawing body={{ ...body, shape: { ...cutFrom, ...body.shape!, ...(cutM !== undefined && { lengthM: cutM }) } }} />
          {(body.shape!.kind === 'profile' || body.shape!.kind === 'fins') && body.shape!.lengthM !== undefined && (
            <Slider size="small" aria-label={`Length of ${body.name}`} min={0.01} max={Math.max(2 * body.shape!.lengthM, 0.1)} step={0.001} value={cutM ?? body.shape!.lengthM} valueLabelDisplay="auto" valueLabelFormat={(m) => length(m)} sx={{ color: 'var(--heat)', width: 200 }}
              onChange={(_, m) => setCutM(m)} onChangeCommitted={(_, m) => { setCutM(undefined); cut(m) }} />
          )}
        </Box>
        <Box>
          <Axis s={s} degrees={degrees} air={body.insideId === undefined ? 'air' : 'air in there'} />
          <Box component="table" aria-label="Both schools of sizing" sx={{ width: '100%', fontSize: 13, borderCollapse: 'collapse', mt: 1, '& td, & th': { borderTop: '1px solid var(--line)', py: 0.4, pl: 1, textAlign: 'right', fontWeight: 400 }, '& td': { whiteSpace: 'nowrap' }, '& th[scope=row]': { textAlign: 'left', color: 'var(--ink-soft)', pl: 0 }, '& thead th': { fontWeight: 700, borderTop: 0 } }}>
            <thead>
              <tr><td /><th scope="col">Area rule{s.withFan ? ', in moving air' : ''}</th><th scope="col">Physics</th></tr>
            </thead>
            <tbody>
              <Row label="Carries, at its limit"><span>{s.areaM2 > 0 ? `${digits(s.ruleW, 3)} W` : 'not told'}</span><span>{digits(s.physicsW, 3)} W</span></Row>
              <Row label={`This one${s.kPerW == null ? '' : `, ${digits(s.kPerW, 3)} K/W,`} rests at`}><span>not told</span><span>{degrees(s.endsAtC)}</span></Row>
              <Row label="The surface it asks for rests at"><span>{area(s.ruleM2)}</span><span>{degrees(s.ruleEndsAtC)}</span></Row>
              {s.emitters > 0 && <Row label={`Emitters like the ${s.emitters} now`}><span>{s.areaM2 > 0 ? s.ruleLeds : '—'}</span><span>{s.physicsLeds}</span></Row>}
              {s.ruleLengthM != null && <Row label="Length to cut"><Cut m={s.ruleLengthM} say={length} onTry={cut} /><Cut m={s.physicsLengthM} say={length} onTry={cut} /></Row>}
              {s.sureLengthM != null && <Row label={`with ${digits(s.offShare * 100, 2)} % in hand for what physics is off by`}><span>—</span><Cut m={s.sureLengthM} say={length} onTry={cut} /></Row>}
              {s.ruleMassKg != null && <Row label={s.rulePrice != null ? 'which weighs, and costs' : 'which weighs'}><span>{mass(s.ruleMassKg)}{money(s.rulePrice)}</span><span>{s.physicsMassKg == null ? '—' : mass(s.physicsMassKg)}{money(s.physicsPrice)}</span></Row>}
            </tbody>
          </Box>
          <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 0.5 }}>
            The area rule, 17 in² (110 cm²) a watt in still air and 6 in² (40 cm²) with a fan, is common practice and knows no temperature; physics is good to about <span className="figure">{digits(s.offShare * 100, 2)} %</span> here (common practice too).
          </Box>
          {s.currentA != null && s.setA != null && (
            <Box sx={{ mt: 1 }}>
              It settles at its limit with <span className="figure">{amps(s.currentA)}</span>, set are <span className="figure">{amps(s.setA)}</span>. <Button sx={{ p: 0, minWidth: 0 }} onClick={setCurrent}>Try it</Button>
            </Box>
          )}
          {s.bestSpacingM != null && s.spacingM != null && (
            <Box sx={{ fontSize: 13, mt: 1 }}>
              Its fins stand <span className="figure">{length(s.spacingM)}</span> apart; in still air an envelope of this height gives most at about <span className="figure">{length(s.bestSpacingM)}</span>{s.bestFins != null && s.bestEndsAtC != null && s.endsAtC != null && s.endsAtC - s.bestEndsAtC > worthK && <>: <span className="figure">{s.bestFins}</span> fins, at rest <span className="figure">{degrees(s.bestEndsAtC)}</span>. <Button sx={{ p: 0, minWidth: 0 }} onClick={() => tryOut(set(light, `${at}/bodies/${light.variants[variant]!.bodies.indexOf(body)}/shape/fins`, s.bestFins), `${s.bestFins} fins for ${body.name}`)}>Try them</Button></>}
            </Box>
          )}
        </Box>
      </Box>
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>And if</Box>
      <Box component="ul" aria-label="What if" sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(180px, 1fr))', gap: 1 }}>
        {s.allInputC != null && <If name="every watt is heat" at={degrees(s.allInputC)} over={s.allInputC > s.limitC} />}
        {s.whatIfs.map((w) => <If key={w.name} name={w.name} at={w.bodyC == null ? 'never comes to rest' : degrees(w.bodyC)} junction={w.junctionC == null ? undefined : degrees(w.junctionC)} over={w.bodyC == null || w.bodyC > s.limitC} />)}
      </Box>
    </Box>
  )
}

function Row({ label, children }: { label: string; children: [ReactNode, ReactNode] }) {
  return (
    <tr>
      <th scope="row">{label}</th>
      <td className="figure">{children[0]}</td>
      <td className="figure">{children[1]}</td>
    </tr>
  )
}

function Cut({ m, say, onTry }: { m: number | null | undefined; say: (m: number | null | undefined) => string; onTry: (m: number) => void }) {
  return m == null ? <span>none is enough</span> : <Button title="Try this length" sx={{ p: 0, minWidth: 0 }} onClick={() => onTry(m)}>{say(m)}</Button>
}

function If({ name, at, junction, over }: { name: string; at: string; junction?: string; over: boolean }) {
  return (
    <Box component="li" sx={{ borderTop: '2px solid', borderColor: over ? 'var(--stop)' : 'var(--line)', pt: 0.5, fontSize: 13 }}>
      <Box sx={{ color: 'var(--ink-soft)' }}>{name}</Box>
      <Box className="figure" sx={{ color: over ? 'var(--stop)' : 'inherit' }}>{at}{over ? ', over its limit' : ''}</Box>
      {junction && <Box className="figure" sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>junction {junction}</Box>}
    </Box>
  )
}

/** Temperatures of the body on one axis from the air up: where it rests, its limit, with its fan stopped. */
function Axis({ s, degrees, air }: { s: Sink; degrees: (c: number | null | undefined) => string; air: string }) {
  const ends = s.endsAtC ?? s.limitC + 60
  const top = Math.max(ends, s.limitC, s.stoppedC ?? 0) + 8
  const low = Math.min(s.airC, s.limitC, ends)
  const x = (c: number) => 4 + ((Math.min(c, top) - low) / Math.max(top - low, 1)) * 392
  const over = ends > s.limitC
  return (
    <svg viewBox="0 0 400 74" width="100%" role="img" aria-label={`${air} ${degrees(s.airC)}, at rest ${degrees(s.endsAtC)}, limit ${degrees(s.limitC)} by ${s.limitOf}`}>
      <rect x={x(s.airC)} y="26" width={Math.max(x(ends) - x(s.airC), 1)} height="16" fill={over ? 'var(--heat)' : 'var(--heat-flow)'} />
      <line x1={x(s.limitC)} x2={x(s.limitC)} y1="14" y2="54" stroke="var(--ink)" strokeWidth="2" />
      <text x={x(s.limitC)} y="11" textAnchor={x(s.limitC) > 300 ? 'end' : 'middle'} fontSize="11.5" fill="var(--ink)">{`${degrees(s.limitC)}, ${s.limitOf}`}</text>
      <text x={x(s.airC)} y="66" fontSize="11.5" fill="var(--ink-soft)">{`${air} ${degrees(s.airC)}`}</text>
      <text x={Math.max(x(ends), 150)} y="66" textAnchor={x(ends) > 330 ? 'end' : 'middle'} fontSize="12.5" className="figure" fill={over ? 'var(--stop)' : 'var(--heat-ink)'}>{s.endsAtC == null ? 'beyond all reason' : `rests at ${degrees(s.endsAtC)}`}</text>
    </svg>
  )
}
