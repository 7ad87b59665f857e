// npm test: everything from a fresh machine, then all checks; closes with "N passed, N failed".
import { join } from 'node:path'
import { stripVTControlCharacters } from 'node:util'
import { checkDisk, checkNode, installChromium, installMariadb, installPackages, build, ROOT } from './lib/setup.mjs'
import { report, watch } from './lib/step.mjs'

/** Passed and failed counts that a runner printed, or one for the step as a whole. */
function countsOf({ status, output }) {
  const plain = stripVTControlCharacters(output)
  const vitest = /^\s*Tests\s+(.*)$/m.exec(plain)?.[1]
  const number = (text, word) => Number(new RegExp(`(\\d+) ${word}`).exec(text ?? '')?.[1] ?? 0)
  if (vitest)
    return { passed: number(vitest, 'passed'), failed: Math.max(number(vitest, 'failed'), status === 0 ? 0 : 1) }
  if (/^\s*\d+ (passed|failed)/m.test(plain))
    return { passed: number(plain, 'passed'), failed: Math.max(number(plain, 'failed'), status === 0 ? 0 : 1) }
  return { passed: status === 0 ? 1 : 0, failed: status === 0 ? 0 : 1 }
}

async function main() {
  checkNode()
  checkDisk()
  installMariadb()
  installChromium()
  installPackages()
  const bin = (name) => join(ROOT, 'node_modules', '.bin', name)
  const env = { CI: process.env.CI ?? '1' }
  // What needs one processor stands beside its like; what needs all of them runs alone.
  const stages = [
    [['type check', bin('tsc'), ['-b']]],
    [
      ['lint', 'npm', ['run', 'lint', '--loglevel=error']],
      ['formatting', 'npm', ['run', 'format:check', '--loglevel=error']],
    ],
    [['unit and server tests', bin('vitest'), ['run']]],
    [['browser journeys', bin('playwright'), ['test', '-c', 'e2e/playwright.config.ts']]],
  ]
  let passed = 0
  let failed = 0
  for (const stage of stages) {
    console.log(`\n── ${stage.map(([name]) => name).join(', ')} ──`)
    if (stage[0][0] === 'browser journeys') build()
    const begun = Date.now()
    const alone = stage.length === 1
    const ended = await Promise.all(
      stage.map(async ([name, command, args]) => {
        const result = await watch(command, args, { cwd: ROOT, env, shown: alone })
        if (!alone) process.stdout.write(result.output)
        return [name, countsOf(result)]
      }),
    )
    for (const [name, counts] of ended) {
      if (counts.failed > 0) console.error(`✗ ${name} failed`)
      passed += counts.passed
      failed += counts.failed
    }
    console.log(`${((Date.now() - begun) / 1000).toFixed(0)} s`)
  }
  console.log(`\n${passed} passed, ${failed} failed`)
  process.exit(failed > 0 ? 1 : 0)
}

main().catch((error) => {
  const status = report(error)
  console.log('\n0 passed, 1 failed')
  process.exit(status)
})
