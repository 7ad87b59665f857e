import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, expect, it } from 'vitest'
import { countsOf, journeyFiles, slowest, unitFiles } from './lib/testReports.mjs'

const folder = mkdtempSync(join(tmpdir(), 'cold-thread-reports-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const written = (name: string, report: object) => {
  writeFileSync(join(folder, name), JSON.stringify(report))
  return join(folder, name)
}

it.each([
  ['      Tests  2 failed | 380 passed (382)', 1, { passed: 380, failed: 2 }],
  ['      Tests  382 passed (382)', 0, { passed: 382, failed: 0 }],
  // A run that ended badly has failed, whatever it counted.
  ['      Tests  382 passed (382)', 1, { passed: 382, failed: 1 }],
  ['  1 failed\n  30 passed (5.1m)', 1, { passed: 30, failed: 1 }],
  ['nothing that counts', 0, { passed: 1, failed: 0 }],
  ['nothing that counts', 2, { passed: 0, failed: 1 }],
])('“%s” with status %i', (output, status, counts) => {
  expect(countsOf({ status, output })).toEqual(counts)
})

it('the slowest files of both runners are named, journeys of one file together', () => {
  const unit = written('unit.json', {
    testResults: [
      { name: '/root/core/a.test.ts', startTime: 1000, endTime: 8000 },
      { name: '/root/web/b.test.ts', startTime: 1000, endTime: 1500 },
    ],
  })
  const journey = (duration: number) => ({ file: 'plan.spec.ts', tests: [{ results: [{ duration }] }] })
  const journeys = written('journeys.json', {
    suites: [{ specs: [journey(2000)], suites: [{ specs: [journey(9000)] }] }],
  })
  expect(slowest([...unitFiles(unit, '/root'), ...journeyFiles(journeys)], 2)).toEqual([
    { file: 'e2e/tests/plan.spec.ts', time: 11 },
    { file: 'core/a.test.ts', time: 7 },
  ])
})

it('a report that was not written is no file', () => {
  expect(unitFiles(join(folder, 'none.json'), '/root')).toEqual([])
})
