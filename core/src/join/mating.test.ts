import { expect, it } from 'vitest'
import { matingConflict } from './index.ts'

const end = (connector: string, polish: string) => ({ connector, polish })

// Never APC with PC or UPC; ferrules of 2.5 and 1.25 mm: common practice, no published source.
it.each([
  ['SC', 'APC', 'SC', 'UPC', /must never be mated/],
  ['LC', 'PC', 'LC', 'APC', /must never be mated/],
  ['SC', 'UPC', 'LC', 'UPC', /2.5 mm and 1.25 mm/],
  ['MPO', 'PC', 'SC', 'PC', /rectangular and 2.5 mm/],
] as const)('%s/%s and %s/%s conflict', (a, b, c, d, why) => {
  expect(matingConflict(end(a, b), end(c, d))).toMatch(why)
  expect(matingConflict(end(c, d), end(a, b))).not.toBeNull()
})

it.each([
  ['SC', 'UPC', 'SC', 'PC'],
  ['SC', 'APC', 'FC', 'APC'],
  ['LC', 'UPC', 'LC', 'UPC'],
] as const)('%s/%s and %s/%s may be mated', (a, b, c, d) => {
  expect(matingConflict(end(a, b), end(c, d))).toBeNull()
})
