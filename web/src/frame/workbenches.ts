import type { Stage } from '../document/tree'
import { DriverWorkbench } from '../driver/DriverWorkbench'
import { EmittersWorkbench } from '../emitters/EmittersWorkbench'
import { HeatWorkbench } from '../heat/HeatWorkbench'
import { LightWorkbench } from '../light/LightWorkbench'
import { OverviewWorkbench } from '../overview/OverviewWorkbench'
import { SourceWorkbench } from '../source/SourceWorkbench'
import type { WorkbenchProps } from '../workbench/fields'

export const workbenches: Record<Stage, (work: WorkbenchProps) => React.ReactNode> = { overview: OverviewWorkbench, source: SourceWorkbench, driver: DriverWorkbench, emitters: EmittersWorkbench, light: LightWorkbench, heat: HeatWorkbench }
