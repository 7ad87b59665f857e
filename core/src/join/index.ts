export { CLEAVE_GOOD, CLEAVE_LIMIT, judgeSplice, MOST_TRIES } from './judgeSplice.ts'
export type { SpliceAttempt, SpliceJudgement } from './judgeSplice.ts'
