import type { Stage } from '@cold-thread/contract'
import { api } from '../api/api.ts'
import type { StageProps } from '../features/callout/stageProps.ts'

import type { AppDispatch } from './store.ts'

type StageView = (props: StageProps) => React.ReactNode

/** Code of the callout page, and of each of its stages: read when it is opened. */
export const calloutCode = () =>
  import('../features/callout/CalloutPage.tsx').then(({ CalloutPage }) => ({ default: CalloutPage }))

export const stageCode: Record<Stage, () => Promise<{ default: StageView }>> = {
  locate: () => import('../features/locate/LocateStage.tsx').then(({ LocateStage }) => ({ default: LocateStage })),
  plan: () => import('../features/plan/PlanStage.tsx').then(({ PlanStage }) => ({ default: PlanStage })),
  join: () => import('../features/join/JoinStage.tsx').then(({ JoinStage }) => ({ default: JoinStage })),
  prove: () => import('../features/prove/ProveStage.tsx').then(({ ProveStage }) => ({ default: ProveStage })),
  close: () => import('../features/close/CloseStage.tsx').then(({ CloseStage }) => ({ default: CloseStage })),
}

/**
 * Begins to read what the first page will ask for, all at once: who is signed in, and of a callout its code, itself and
 * the plant. What can't be read is told by the page that needs it.
 */
export function readAhead(pathname: string, dispatch: AppDispatch): void {
  dispatch(api.endpoints.session.initiate())
  const [, id, stage] = /^\/callouts\/([0-9a-f-]{36})(?:\/([a-z]+))?$/.exec(pathname) ?? []
  if (id === undefined) return
  dispatch(api.endpoints.callout.initiate(id))
  dispatch(api.endpoints.plant.initiate())
  const codes = [calloutCode, ...(stage !== undefined && stage in stageCode ? [stageCode[stage as Stage]] : [])]
  for (const code of codes) code().catch(() => undefined)
}
