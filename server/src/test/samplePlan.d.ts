import type { PlanContent } from '@cold-thread/contract'
/** A plan with a temporary repair and a section of new cable after it. */
export declare const SAMPLE_PLAN: PlanContent
