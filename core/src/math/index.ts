export { seededRandom, seedFrom } from './random.ts'
export type { Random } from './random.ts'
