import { memo } from 'react'
import type { Light } from '../api/client'
import type { Stage } from '../document/tree'
import type { LightStore } from '../document/store'
import type { WorkbenchProps } from '../workbench/fields'
import { Column } from '../workbench/Column'
import { Course } from './Course'
import { paneOpen, StagePane } from './StagePane'
import { workbenches } from './workbenches'
import css from './frame.module.css'

interface Props extends Pick<WorkbenchProps, 'wrong' | 'chosen' | 'onParts' | 'onFigures' | 'onChoose' | 'onTree'> {
  doc: LightStore
  light: Light
  index: number
  stage: Stage
  pane: string
  onPane: (pane: string) => void
  onGo: (stage: Stage, pointer?: string) => void
}

/** The open stage: its workbench, and its charts or lists beside it. */
export const StageArea = memo(function StageArea({ doc, light, index, stage, pane, onPane, onGo, ...rest }: Props) {
  const at = `/variants/${index}`
  const variant = light.variants[index]!
  const Workbench = workbenches[stage]
  return (
    <>
      <Column label="Workbench" onBlur={(e) => !e.currentTarget.contains(e.relatedTarget) && void doc.save()}>
        <Workbench light={light} variant={variant} at={at} change={doc.change} {...rest} />
      </Column>
      <Column label="Charts" className={stage === 'heat' ? `${css.charts} ${css.withPath}` : css.charts}>
        <StagePane stage={stage} light={light} variant={index} at={at} pane={pane} chosen={rest.chosen} onPane={onPane} onGo={onGo} onChoose={rest.onChoose} change={doc.change} tryOut={doc.tryOut} />
        <Course stage={stage} alone={!paneOpen(stage, pane, variant, rest.chosen)} onTree={rest.onTree} onStage={onGo} onPane={onPane} />
      </Column>
    </>
  )
})
