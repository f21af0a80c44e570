import Box from '@mui/material/Box'
import { memo } from 'react'
import type { Light } from '../api/client'
import type { Stage } from '../document/tree'
import type { LightStore } from '../document/store'
import type { WorkbenchProps } from '../workbench/fields'
import { Course } from './Course'
import { paneOpen, StagePane } from './StagePane'
import { workbenches } from './workbenches'

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
      <Box component="section" tabIndex={0} aria-label="Workbench" onBlur={(e) => !e.currentTarget.contains(e.relatedTarget) && void doc.save()}>
        <Workbench light={light} variant={variant} at={at} change={doc.change} {...rest} />
      </Box>
      <Box tabIndex={0} role="region" aria-label="Charts" sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: stage === 'heat' ? 'minmax(0, 1fr) 250px' : 'minmax(0, 1fr)' }, alignContent: 'start', containerType: { xs: 'inline-size', md: 'size' } }}>
        <StagePane stage={stage} light={light} variant={index} at={at} pane={pane} chosen={rest.chosen} onPane={onPane} onGo={onGo} onChoose={rest.onChoose} change={doc.change} tryOut={doc.tryOut} />
        <Course stage={stage} alone={!paneOpen(stage, pane, variant, rest.chosen)} onTree={rest.onTree} onStage={onGo} onPane={onPane} />
      </Box>
    </>
  )
})
