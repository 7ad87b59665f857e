import type { Stage } from '@cold-thread/contract'
import type { StageProps } from '../features/callout/stageProps.ts'

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

/** Begins to read the code of a callout's page while its data is still on its way. */
export function readAhead(pathname: string): void {
  const stage = /^\/callouts\/[0-9a-f-]{36}(?:\/([a-z]+))?$/.exec(pathname)
  if (!stage) return
  const codes = [
    calloutCode,
    ...(stage[1] !== undefined && stage[1] in stageCode ? [stageCode[stage[1] as Stage]] : []),
  ]
  // What can't be read is told by the page that needs it.
  for (const code of codes) code().catch(() => undefined)
}
