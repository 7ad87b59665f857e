// What test runners printed and wrote, as counts and as times of files.
import { existsSync, readFileSync } from 'node:fs'
import { relative } from 'node:path'
import { stripVTControlCharacters } from 'node:util'

/** Passed and failed counts that a runner printed, or one for the step as a whole. */
export function countsOf({ status, output }) {
  const plain = stripVTControlCharacters(output)
  const vitest = /^\s*Tests\s+(.*)$/m.exec(plain)?.[1]
  const number = (text, word) => Number(new RegExp(`(\\d+) ${word}`).exec(text ?? '')?.[1] ?? 0)
  if (vitest)
    return { passed: number(vitest, 'passed'), failed: Math.max(number(vitest, 'failed'), status === 0 ? 0 : 1) }
  if (/^\s*\d+ (passed|failed)/m.test(plain))
    return { passed: number(plain, 'passed'), failed: Math.max(number(plain, 'failed'), status === 0 ? 0 : 1) }
  return { passed: status === 0 ? 1 : 0, failed: status === 0 ? 0 : 1 }
}

const read = (report) => (existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : {})

/** Test files of Vitest's JSON report with their seconds. */
export function unitFiles(report, root) {
  return (read(report).testResults ?? []).map(({ name, startTime, endTime }) => ({
    file: relative(root, name),
    time: (endTime - startTime) / 1000,
  }))
}

/** Journeys of Playwright's JSON report, by file, with their seconds. */
export function journeyFiles(report) {
  const times = new Map()
  const visit = ({ specs = [], suites = [] }) => {
    for (const { file, tests } of specs)
      for (const { results } of tests)
        for (const { duration } of results) times.set(file, (times.get(file) ?? 0) + duration / 1000)
    suites.forEach(visit)
  }
  ;(read(report).suites ?? []).forEach(visit)
  return [...times].map(([file, time]) => ({ file: `e2e/tests/${file}`, time }))
}

export function slowest(files, count) {
  return [...files].sort((a, b) => b.time - a.time).slice(0, count)
}
