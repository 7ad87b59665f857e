// npm test: everything from a fresh machine, then all checks; closes with "N passed, N failed".
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { build, checkDisk, checkNode, installChromium, installMariadb, installPackages, ROOT } from './lib/setup.mjs'
import { report, watch } from './lib/step.mjs'
import { countsOf, journeyFiles, slowest, unitFiles } from './lib/testReports.mjs'

const RESULTS = join(ROOT, 'test-results')
const UNIT_REPORT = join(RESULTS, 'unit.json')
const JOURNEY_REPORT = join(RESULTS, 'journeys.json')
/** So many of the slowest test files are named. */
const NAMED = 10

/**
 * The same additions every time: how fast the machine is just now, beside which the times of the parts are read.
 * @returns s; about 1 on the machine that the budgets were set on
 */
function referenceLoop() {
  const since = performance.now()
  let state = 1
  for (let i = 0; i < 400_000_000; i++) state = (Math.imul(state, 1_664_525) + 1_013_904_223) | 0
  return state === 0 ? 0 : seconds(since)
}

/** Seconds that a part may take on two processors that do nothing else: a part that grows past them is named. */
const BUDGETS = {
  installing: 45,
  'type check': 45,
  lint: 45,
  formatting: 45,
  build: 30,
  'unit and server tests': 215,
  'browser journeys': 300,
}

const seconds = (since) => (performance.now() - since) / 1000

async function main() {
  const begun = performance.now()
  const took = []
  const reference = referenceLoop()
  checkNode()
  checkDisk()
  installMariadb()
  installChromium()
  installPackages()
  took.push(['installing', seconds(begun)])
  mkdirSync(RESULTS, { recursive: true })

  const bin = (name) => join(ROOT, 'node_modules', '.bin', name)
  const env = { CI: process.env.CI ?? '1' }
  let passed = 0
  let failed = 0
  /** One part; its output is shown as it comes where nothing runs beside it. */
  const run = async (name, command, args, shown = false) => {
    const since = performance.now()
    const result = await watch(command, args, { cwd: ROOT, env, shown })
    took.push([name, seconds(since)])
    if (!shown) process.stdout.write(`\n── ${name} ──\n${result.output}`)
    const counts = countsOf(result)
    if (counts.failed > 0) console.error(`✗ ${name} failed`)
    passed += counts.passed
    failed += counts.failed
  }
  const alone = (name, command, args) => {
    console.log(`\n── ${name} ──`)
    return run(name, command, args, true)
  }

  // Two processors: what needs one of them stands beside its like, what needs both runs alone.
  const single = [
    () => run('lint', 'npm', ['run', 'lint', '--loglevel=error']),
    () => run('type check', 'npm', ['run', 'typecheck', '--loglevel=error']),
    () => run('formatting', 'npm', ['run', 'format:check', '--loglevel=error']),
    async () => {
      const since = performance.now()
      build()
      took.push(['build', seconds(since)])
    },
  ]
  const takeNext = async () => {
    for (let next = single.shift(); next; next = single.shift()) await next()
  }
  await Promise.all([takeNext(), takeNext()])
  await alone('unit and server tests', bin('vitest'), [
    'run',
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${UNIT_REPORT}`,
  ])
  await alone('browser journeys', bin('playwright'), ['test', '-c', 'e2e/playwright.config.ts'])

  console.log('\n── times ──')
  console.log(
    `A fixed loop took ${reference.toFixed(2)} s before the parts, and takes ${referenceLoop().toFixed(2)} s now.`,
  )
  for (const [name, time] of took) {
    const budget = BUDGETS[name]
    const over = time > budget ? `   over its budget of ${budget} s` : ''
    console.log(`${time.toFixed(0).padStart(5)} s  ${name}${over}`)
  }
  console.log(`${seconds(begun).toFixed(0).padStart(5)} s  in all`)
  console.log(`\nThe ${NAMED} slowest files:`)
  for (const { file, time } of slowest([...unitFiles(UNIT_REPORT, ROOT), ...journeyFiles(JOURNEY_REPORT)], NAMED))
    console.log(`${time.toFixed(0).padStart(5)} s  ${file}`)
  console.log(`\n${passed} passed, ${failed} failed`)
  process.exit(failed > 0 ? 1 : 0)
}

main().catch((error) => {
  const status = report(error)
  console.log('\n0 passed, 1 failed')
  process.exit(status)
})
