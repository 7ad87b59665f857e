/** The stages that exist by now, in the order of the work. */
export const STAGES = ['locate', 'plan', 'open', 'join', 'prove', 'close'] as const
export type Stage = (typeof STAGES)[number]
