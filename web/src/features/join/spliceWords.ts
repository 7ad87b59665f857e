import type { SpliceEntry } from '@cold-thread/contract'

export const TONES = { accept: 'good', redo: 'close', stop: 'bad' } as const
export const WORDS = { accept: 'Accept', redo: 'Redo', stop: 'Stop and find out why' } as const
export const OUTCOMES = { accept: 'accepted', redo: 'redo', stop: 'stopped' } as const

/** What is felt in a gloved hand, ms: once for good, twice to do it again, long to stop. */
export const FELT: Record<SpliceEntry['outcome'], number[]> = { accepted: [80], redo: [80, 80, 80], stopped: [400] }
