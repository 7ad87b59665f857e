export * from './kinds.ts'
export * from './kit.ts'
export * from './mergeKit.ts'
