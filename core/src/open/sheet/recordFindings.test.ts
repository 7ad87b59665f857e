import { expect, it } from 'vitest'
import type { Cable } from '../../plant/types.ts'
import { compileSheet, isSheet } from './compile.ts'
import type { SheetFacts } from './facts.ts'
import { PROCEDURES } from '../procedures/index.ts'
import { emptyOutcome, type Progress } from './progress.ts'
import { recordFinding } from './recordFindings.ts'
import { TEST_DOME, testCable, testFacts } from '../../../test/openFacts.ts'

const CABLE = testCable('c1', 0, 1000, { outerDiameter: 0.0145 })

/** A sheet on which so many tubes, and fibers in the first, were counted; null: not yet. */
function found(tubes: number | null, inOne: number | null, cable: Cable = CABLE, facts: Partial<SheetFacts> = {}) {
  const sheet = compileSheet({ facts: testFacts(facts), procedures: PROCEDURES, model: TEST_DOME, given: {} })
  if (!isSheet(sheet)) throw new Error(sheet.why)
  const count = { 'loose-tube.count': ['groups', tubes], 'joints.count': ['group-fibers', inOne] } as const
  const steps = sheet.steps.map((step): Progress['steps'][number] => {
    const [field, value] = count[step.id as keyof typeof count] ?? ['', null]
    if (value === null) return { step, state: 'open', by: null, others: [], released: null, obstacles: [] }
    const entry = { ...emptyOutcome(step.id), values: { [field]: value }, reason: 'the print says so' }
    const by = { by: 'a', at: '2026-01-01T00:00:00.000Z', entry, id: step.id }
    return { step, state: 'done', by, others: [], released: null, obstacles: [] }
  })
  return recordFinding(sheet, { steps, next: null, done: 0, complete: false, exposed: [] }, cable)
}

// Sums by hand: tubes times fibers to one.
it.each<[string, number | null, number | null, object | null]>([
  ['as on record', 4, 12, null],
  ['nothing counted yet', null, null, null],
  ['a tube less', 3, 12, { fiberCount: 36 }],
  ['a tube less, fibers not counted yet', 3, null, { fiberCount: 36 }],
  ['a tube more', 5, 12, { fiberCount: 60 }],
])('%s', (_name, tubes, inOne, changes) => {
  const finding = found(tubes, inOne)
  if (changes === null) expect(finding).toBeNull()
  else {
    expect(finding!.words.length).toBe(Object.keys(changes).length)
    expect(finding).toMatchObject({ cable: 'c1', changes, reason: 'the print says so' })
  }
})

it('a tube with fewer fibers is told, and gives no fiber another number: one may be missing from that tube alone', () => {
  expect(found(4, 11)).toMatchObject({
    changes: {},
    words: ['fibers in the first tube: 11, on record 12'],
    reason: 'the print says so',
  })
  expect(found(3, 11)).toMatchObject({
    changes: { fiberCount: 36 },
    words: ['fibers: 36, on record 48', 'fibers in the first tube: 11, on record 12'],
  })
})

it('is no finding any more once the record was put right', () => {
  expect(found(3, 12, { ...CABLE, fiberCount: 36 })).toBeNull()
})

it('what was measured where the record has nothing is a finding, without a reason of its own', () => {
  const { outerDiameter: _none, ...bare } = CABLE
  const finding = found(4, 12, bare, { armored: true, metallic: true })
  expect(finding).toMatchObject({
    changes: { outerDiameter: 0.0145, armored: true },
    words: ['outer diameter: 14.5 mm, not on record', 'armor: yes, not on record'],
    reason: '',
  })
})
