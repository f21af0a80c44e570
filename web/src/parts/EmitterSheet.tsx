import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { answer, api, type Part } from '../api/client'
import { Chart } from '../charts/Chart'
import type { Line } from '../charts/lines'
import { ReadRow } from '../figures/FigureField'
import { digits } from '../units/quantity'

/** From how far off a claim is told, chosen: labels are rounded by a few per cent. */
const farFromClaim = 0.1

/** What an emitter's data make: the fitted curve through its points, how far they lie from it, and its colour. */
export function EmitterSheet({ part }: { part: Part }) {
  const sheet = useQuery({ queryKey: ['emitter', part], queryFn: ({ signal }) => answer(api.POST('/api/emitter', { signal, body: { ...part, id: part.id || 'part' } })), retry: false, placeholderData: (old) => old })
  const chart = useMemo(() => {
    if (!sheet.data) return undefined
    const e = part.emitter!
    const lines: Line[] = [{ name: 'curve', unit: 'V', colour: '--power', axis: 0, points: sheet.data.curve.map((p): [number, number] => [p.currentA, p.voltageV]), digits: 3 }]
    const top = Math.max(...sheet.data.curve.map((p) => p.currentA))
    return {
      lines, x: { name: 'Current, A', min: 0, max: Number((top * 1.07).toPrecision(2)), format: (v: number) => `${Number(v.toPrecision(3))} A`, mark: String }, y: [{ name: `Forward voltage at ${e.vfRefTempC} °C, V` }] as [{ name: string }],
      marks: e.forward.map((p, i) => ({ x: p.currentA, y: p.voltageV, name: `${(Math.round((sheet.data.fit.residualV[i] ?? 0) * 1000) || 0).toFixed(0)} mV` })),
    }
  }, [sheet.data, part.emitter])
  if (sheet.isError) return <Box role="alert" sx={{ color: 'var(--stop)' }}>{sheet.error.message}</Box>
  if (!sheet.data || !chart) return null
  const { fit, colour, lmPerW, claim } = sheet.data
  const said = part.emitter!.claimed ?? {}
  /** As claimed beside what its figures make, with how far that is off. */
  const against = (label: string, claimed: number | undefined, is: number | null | undefined, unit: string) =>
    claimed === undefined || claimed <= 0 || is == null ? null : <ReadRow label={`Claimed, ${label}`} tone={Math.abs(is / claimed - 1) > farFromClaim ? 'var(--caution-ink)' : undefined}>{`${digits(claimed, 3)} ${unit} · is ${digits(is, 3)} ${unit}, ${is >= claimed ? '+' : '−'}${Math.abs((is / claimed - 1) * 100).toFixed(0)} %`}</ReadRow>
  const worst = Math.max(0, ...fit.residualV.map((r) => Math.abs(r)))
  return (
    <Box>
      <Chart title="Points and the curve through them" {...chart} height={220} />
      <ReadRow label="Diode with resistance">{`${(fit.idealityV * 1000).toFixed(0)} mV · ln I + ${digits(fit.seriesOhm, 3)} Ω`}</ReadRow>
      <ReadRow label={fit.assumed ? 'Fewer than three points: its shape is assumed' : 'Farthest point from it'}>{fit.assumed ? '—' : `${(worst * 1000).toFixed(1)} mV`}</ReadRow>
      {lmPerW != null && <ReadRow label="At its rated current">{`${lmPerW.toFixed(0)} lm/W`}</ReadRow>}
      {claim && against(`at ${digits(claim.currentA, 3)} A`, said.voltageV, claim.voltageV, 'V')}
      {claim && against('power', said.powerW, claim.powerW, 'W')}
      {claim && against('light', said.fluxLm, claim.fluxLm, 'lm')}
      {colour && (
        <>
          <ReadRow label="For each radiated watt">{`${colour.lmPerRadiatedW.toFixed(0)} lm · ${digits(colour.photonsPerJ, 3)} µmol/s`}</ReadRow>
          {colour.farRedPerJ > 0.01 && <ReadRow label="Far red beside it">{`${digits(colour.farRedPerJ, 3)} µmol/s`}</ReadRow>}
          {Number.isFinite(colour.blueShare) && <ReadRow label="Blue share of the photons">{`${(100 * colour.blueShare).toFixed(0)} %`}</ReadRow>}
          {colour.temperatureK != null && <ReadRow label="Colour temperature">{`${colour.temperatureK.toFixed(0)} K · Duv ${(colour.duv ?? 0).toFixed(4)}`}</ReadRow>}
          {colour.ra != null && <ReadRow label="Colour rendering, Ra">{colour.ra.toFixed(0)}</ReadRow>}
        </>
      )}
    </Box>
  )
}
