import { useMemo } from 'react'
import type { Variant } from '../api/client'
import type { Stage } from '../document/tree'
import type { Moment } from '../solved/trace'
import { FoldButton } from './FoldButton'
import css from './strip.module.css'
import { flowsOf, labelsOf } from './flows'
import type { StageText } from './stageTexts'

interface Props {
  variant: Variant
  at: string
  moment: Moment
  texts: StageText[]
  open: Stage
  state?: string
  onFold: () => void
  onStage: (stage: Stage) => void
}

/** The ribbon folded: every stage with its watts, as wide a bar under each as its share; still the menu. */
export function RibbonStrip({ variant, at, moment, texts, open, state, onFold, onStage }: Props) {
  const flows = useMemo(() => flowsOf(variant, at, moment), [variant, at, moment])
  const { decimals } = labelsOf(flows)
  const sum = (of: (lane: (typeof flows.lanes)[number]) => number) => flows.lanes.reduce((w, l) => w + of(l), 0)
  const watts: Record<string, [number, string]> = {
    source: [flows.sourceW, '--power-flow'],
    driver: [sum((l) => (l.driver ? l.driverInW : 0)), '--power-flow'],
    emitters: [sum((l) => l.arrayInW), '--power-flow'],
    light: [sum((l) => l.lightW), '--light-flow'],
    heat: [flows.heatW, '--heat-flow'],
  }
  return (
    <div data-testid="strip" title={state} className={css.strip}>
      {texts.map((t) => {
        const [w, colour] = watts[t.stage]!
        return (
          <button key={t.stage} type="button" onClick={() => onStage(t.stage)} aria-pressed={open === t.stage} data-stage={t.stage} title={t.line} className={css.stage}>
            <span className={css.stageTop}>
              <span className={css.stageName}>{t.stage === 'heat' ? 'Heat' : t.title}</span>
              <kbd>{t.key}</kbd>
              <span className={`figure ${css.watts}`} style={w > 0 ? undefined : { color: 'var(--ink-soft)' }}>{w > 0 ? `${w.toFixed(decimals)} W` : '—'}</span>
            </span>
            <span aria-hidden className={css.track}>
              <span className={css.share} style={{ width: `${flows.sourceW > 0 ? Math.min(w / flows.sourceW, 1) * 100 : 0}%`, background: `var(${colour})` }} />
            </span>
          </button>
        )
      })}
      <FoldButton folded onFold={onFold} />
    </div>
  )
}
