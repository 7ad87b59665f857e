import { cruise } from 'dependency-cruiser'
import { ESLint } from 'eslint'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, describe, expect, it } from 'vitest'

const ROOT = fileURLToPath(new URL('..', import.meta.url))
const eslint = new ESLint({ cwd: ROOT })

/** Rules that a file with this text would break, were it there. */
async function broken(filePath: string, text: string): Promise<(string | null)[]> {
  const [result] = await eslint.lintText(text, { filePath: join(ROOT, filePath) })
  return result!.messages.map(({ ruleId }) => ruleId)
}

const ARROWS = '@typescript-eslint/no-restricted-imports'

describe('an offence that was planted is found:', () => {
  it.each([
    ['core knows of a workspace', 'core/src/plan/x.ts', "export { api } from '@cold-thread/contract'\n", ARROWS],
    ['the web knows of the server', 'web/src/ui/x.ts', "export { migrate } from '@cold-thread/server'\n", ARROWS],
    ['the server knows of the web', 'server/src/routes/x.ts', "export { App } from '@cold-thread/web'\n", ARROWS],
    ['a workspace by its path', 'web/src/ui/x.ts', "export { a } from '../../../core/src/units/index.ts'\n", ARROWS],
    ['the contract takes code of core', 'contract/src/x.ts', "export { a } from '@cold-thread/core/plan'\n", ARROWS],
    ['a stage knows of a later one', 'core/src/trace/x.ts', "export { a } from '../locate/index.ts'\n", ARROWS],
    ['also as a type', 'core/src/locate/x.ts', "export type { A } from '../plan/index.ts'\n", ARROWS],
    ['what judges knows of the stand-ins', 'core/src/prove/x.ts', "export { a } from '../sim/index.ts'\n", ARROWS],
    ['the stand-ins know of what judges', 'core/src/sim/x.ts', "export { a } from '../locate/index.ts'\n", ARROWS],
    ['core knows of Node', 'core/src/plan/x.ts', "export { readFile } from 'node:fs'\n", 'no-restricted-imports'],
    ['core knows of the page', 'core/src/plan/x.ts', 'export const a = document.title\n', 'no-restricted-globals'],
    ['core has a clock', 'core/src/plan/x.ts', 'export const a = Date.now()\n', 'no-restricted-properties'],
    ['core has chance', 'core/src/plan/x.ts', 'export const a = Math.random()\n', 'no-restricted-properties'],
    ['a built-in error', 'core/src/plan/x.ts', "throw new RangeError('no cable')\n", 'no-restricted-syntax'],
    ['one on the server', 'server/src/routes/x.ts', "throw new Error('no cable')\n", 'no-restricted-syntax'],
  ])('%s', async (_name, file, text, rule) => {
    expect(await broken(file, text)).toContain(rule)
  })

  it.each([
    ['a stage before it', 'core/src/prove/x.ts', "export { a } from '../trace/index.ts'\n"],
    ['a type of core in the contract', 'contract/src/x.ts', "export type { A } from '@cold-thread/core/plan'\n"],
    [
      'a coded error',
      'core/src/plan/x.ts',
      "import { CodedError } from '../errors/index.ts'\nthrow new CodedError('a', 'b')\n",
    ],
    ['tests and their stand-ins', 'core/src/prove/x.test.ts', "export { a } from '../sim/index.ts'\n"],
  ])('and none is where there is none: %s', async (_name, file, text) => {
    expect(await broken(file, text)).toEqual([])
  })
})

describe('a circle of imports', () => {
  const folder = mkdtempSync(join(tmpdir(), 'cold-thread-circle-'))
  afterAll(() => rmSync(folder, { recursive: true, force: true }))
  const config = createRequire(import.meta.url)('../.dependency-cruiser.cjs') as {
    forbidden: object[]
    options: object
  }
  const circlesOf = async (name: string, files: Record<string, string>) => {
    mkdirSync(join(folder, name))
    for (const [file, text] of Object.entries(files)) writeFileSync(join(folder, name, file), text)
    const { output } = await cruise([join(folder, name)], {
      ...config.options,
      ruleSet: { forbidden: config.forbidden },
      validate: true,
      outputType: 'json',
    })
    return (JSON.parse(output as string) as { summary: { violations: unknown[] } }).summary.violations.length
  }

  it('is found, also where it is made of types alone', async () => {
    const a = "import type { B } from './b.ts'\nexport interface A { b: B }\n"
    const b = "import type { A } from './a.ts'\nexport interface B { a: A | null }\n"
    expect(await circlesOf('types', { 'a.ts': a, 'b.ts': b })).toBeGreaterThan(0)
    expect(await circlesOf('none', { 'a.ts': a, 'b.ts': 'export type B = string\n' })).toBe(0)
  })
})
