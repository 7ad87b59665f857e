export * from './kinds.ts'
export * from './kit.ts'
export * from './mergeKit.ts'
export * from './use.ts'
