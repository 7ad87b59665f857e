import type { Stage } from '@cold-thread/contract'
import type { StageProps } from '../features/callout/stageProps.ts'
import { page, type Page } from './page.ts'

/** Each stage brings its own code. */
export const STAGE_VIEWS: Record<Stage, Page<StageProps>> = {
  locate: page(async () => (await import('../features/locate/LocateStage.tsx')).LocateStage),
  plan: page(async () => (await import('../features/plan/PlanStage.tsx')).PlanStage),
  open: page(async () => (await import('../features/open/OpenStage.tsx')).OpenStage),
  join: page(async () => (await import('../features/join/JoinStage.tsx')).JoinStage),
  prove: page(async () => (await import('../features/prove/ProveStage.tsx')).ProveStage),
  close: page(async () => (await import('../features/close/CloseStage.tsx')).CloseStage),
}
