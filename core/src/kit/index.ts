export * from './kinds.ts'
export * from './kit.ts'
