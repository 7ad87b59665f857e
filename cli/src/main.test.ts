import {
  adviceDocument,
  analyzeDocument,
  compareDocument,
  gradeDocument,
  locateDocument,
  proveDocument,
  refusedDocument,
} from '@cold-thread/contract'
import { DEMO_DAMAGES, THRUSHMERE, shootBothWays } from '@cold-thread/demo'
import { drawEndFace, practiceEndFace, splicingSession } from '@cold-thread/core/sim'
import { readTraceFile } from '@cold-thread/core/trace'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Papa from 'papaparse'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { main } from './main.ts'

const folder = mkdtempSync(join(tmpdir(), 'ct-cli-'))
const at = (name: string) => join(folder, name)
const trace = (role: string, direction: string, wavelength = 1550) =>
  at(`visitor-wan-${role}-${direction}-${wavelength}.sor`)

async function run(...args: string[]) {
  const documents: unknown[] = []
  const messages: string[] = []
  const push = (document: unknown) => documents.push(JSON.parse(JSON.stringify(document)))
  const status = await main(['node', 'cold-thread', ...args], {
    json: push,
    line: push,
    message: (text) => messages.push(text),
  })
  return { status, documents, messages }
}

beforeAll(() => {
  writeFileSync(at('plant.json'), JSON.stringify(THRUSHMERE))
  for (const role of ['baseline', 'present', 'after'] as const)
    for (const shot of shootBothWays('visitor-wan', role, DEMO_DAMAGES.splice, new Date('2026-03-01')))
      writeFileSync(at(shot.fileName), shot.content)
  writeFileSync(at('broken.sor'), readFileSync(trace('present', 'ab')).subarray(0, 3000))
})
afterAll(() => rmSync(folder, { recursive: true }))

const LINK = ['--plant', at('plant.json'), '--link', 'visitor-wan']
const BASELINE = ['--baseline', trace('baseline', 'ab'), '--baseline-b', trace('baseline', 'ba')]

describe('analyze', () => {
  it('prints the documented JSON', async () => {
    const { status, documents } = await run('analyze', trace('present', 'ab'), '--json')
    expect(status).toBe(0)
    const document = analyzeDocument.parse(documents[0])
    expect(document.trace).toMatchObject({ wavelength: 1550, locationA: 'Basin control room' })
    expect(document.events[0]!.kind).toBe('start')
    expect(document.events.at(-1)!.kind).toBe('end')
  })

  it('of several files reports the refused one in its place and goes on', async () => {
    const { status, documents } = await run('analyze', trace('present', 'ab'), at('broken.sor'), trace('present', 'ba'))
    expect(status).toBe(1)
    expect(documents).toHaveLength(3)
    expect(refusedDocument.parse(documents[1]).error).toMatchObject({ code: 'truncated', block: 'DataPts' })
    analyzeDocument.parse(documents[2])
  })

  it('a refused file is one clear line with block and byte', async () => {
    const { status, messages } = await run('analyze', at('broken.sor'))
    expect(status).toBe(1)
    expect(messages).toEqual([expect.stringMatching(/broken\.sor: .*block DataPts, byte \d+/)])
  })
})

describe('compare', () => {
  it('finds the demo’s 0.9 dB at Lock 9', async () => {
    const { documents } = await run('compare', trace('baseline', 'ab'), trace('present', 'ab'))
    const { verdict, changes } = compareDocument.parse(documents[0])
    expect(verdict).toBe('changed')
    expect(changes).toHaveLength(1)
    expect(changes[0]!.lossDelta!).toBeCloseTo(0.9, 1)
  })

  it('refuses two wavelengths', async () => {
    const { status, messages } = await run('compare', trace('baseline', 'ab', 1310), trace('present', 'ab'))
    expect([status, messages[0]]).toEqual([1, expect.stringMatching(/1310 nm.*1550 nm/)])
  })
})

describe('locate and prove', () => {
  it('locate puts the fault at the closure', async () => {
    const present = ['--present', trace('present', 'ab'), '--present-b', trace('present', 'ba')]
    const { documents } = await run('locate', ...LINK, ...BASELINE, ...present)
    const { faults } = locateDocument.parse(documents[0])
    expect(faults.map((fault) => fault.places[0]!.node)).toEqual(['lock-9'])
  })

  it('locate ranks causes with reasons and proposes the shot that is missing', async () => {
    const { documents } = await run('locate', ...LINK, ...BASELINE, '--present', trace('present', 'ab'))
    const { faults, nextTests } = locateDocument.parse(documents[0])
    expect(faults[0]!.opticalDistance.ba).toBeNull()
    expect(faults[0]!.causes.every(({ because }) => Array.isArray(because))).toBe(true)
    expect(nextTests.map(({ test }) => test)).toContain('shoot at 1310 nm as well')
  })

  it('traces of the wrong end are named as swapped', async () => {
    const codesOf = async (file: string) => {
      const { status, documents } = await run('locate', ...LINK, ...BASELINE, '--present', file)
      expect(status).toBe(0)
      return locateDocument.parse(documents[0]).warnings.map(({ code }) => code)
    }
    expect(await codesOf(trace('after', 'ba'))).toContain('direction-swapped')
    // The baseline's own file says nothing of the link now, whatever end it is said to be from.
    expect(await codesOf(trace('baseline', 'ba'))).toContain('same-file')
  })

  it('prove finds the repair restored, and the fault left not', async () => {
    const verdictOf = async (role: string) => {
      const { documents } = await run(
        'prove',
        ...LINK,
        ...BASELINE,
        '--after',
        trace(role, 'ab'),
        '--after-b',
        trace(role, 'ba'),
      )
      return proveDocument.parse(documents[0]).verdict
    }
    expect(await verdictOf('after')).toBe('restored')
    expect(await verdictOf('present')).toBe('not-restored')
  })

  it.each([
    ['an unknown link', ['--plant', at('plant.json'), '--link', 'x'], /no link "x"/],
    ['a plant that is no JSON', ['--plant', at('broken.sor'), '--link', 'x'], /not JSON/],
    ['a file that is not there', ['--plant', at('nowhere.json'), '--link', 'x'], /no such file/],
  ])('%s is refused in one line', async (_, args, line) => {
    const { status, messages } = await run('locate', ...args)
    expect([status, messages]).toEqual([1, [expect.stringMatching(line)]])
  })

  it('a record that contradicts itself names the field', async () => {
    const nodes = THRUSHMERE.nodes.map((node) => ({ ...node, routeId: 'x' }))
    writeFileSync(at('bad-plant.json'), JSON.stringify({ ...THRUSHMERE, nodes }))
    const { messages } = await run('locate', '--plant', at('bad-plant.json'), '--link', 'visitor-wan')
    expect(messages[0]).toMatch(/nodes\[0\]\.routeId: there is no route "x"/)
  })

  it('an unknown rule book is refused', async () => {
    const { status, messages } = await run('prove', ...LINK, '--after', trace('after', 'ab'), '--rules', 'house')
    expect([status, messages[0]]).toEqual([1, expect.stringMatching(/standard, tight/)])
  })
})

describe('simulate and convert', () => {
  it('simulate shoots both ends, with and without the damage, the same for the same seed', async () => {
    writeFileSync(at('damage.json'), JSON.stringify([DEMO_DAMAGES.splice]))
    const shoot = (out: string) =>
      run('simulate', ...LINK, '--damage', at('damage.json'), '--wavelength', '1550', '--seed', '5', '--out', at(out))
    const [{ documents }] = await Promise.all([shoot('one'), shoot('two')])
    const { files } = documents[0] as { files: { file: string; role: string; direction: string }[] }
    expect(files.map(({ role, direction }) => `${role} ${direction}`)).toEqual([
      'baseline ab',
      'baseline ba',
      'present ab',
      'present ba',
    ])
    const twin = files[0]!.file.replace('/one/', '/two/')
    expect(readFileSync(twin).equals(readFileSync(files[0]!.file))).toBe(true)
  })

  it('a loss that is spread over a stretch is placed within it', async () => {
    const wet = [{ at: { chainage: 12_000 }, breaks: false, loss: { '1550': 0.8 }, extent: 150 }]
    writeFileSync(at('wet.json'), JSON.stringify(wet))
    const options = ['--damage', at('wet.json'), '--wavelength', '1550', '--seed', '6', '--out', at('wet')]
    const { documents } = await run('simulate', ...LINK, ...options)
    const { files } = documents[0] as { files: { file: string; role: string; direction: string }[] }
    const of = (role: string, direction: string) =>
      files.find((one) => one.role === role && one.direction === direction)!.file
    const located = await run(
      'locate',
      ...LINK,
      ...['--baseline', of('baseline', 'ab'), '--baseline-b', of('baseline', 'ba')],
      ...['--present', of('present', 'ab'), '--present-b', of('present', 'ba')],
    )
    const { faults } = locateDocument.parse(located.documents[0])
    expect(faults).toHaveLength(1)
    expect(faults[0]!.loss['1550']!).toBeCloseTo(0.8, 1)
    expect(faults[0]!.chainage).toBeGreaterThan(11_950)
    expect(faults[0]!.chainage).toBeLessThan(12_200)
  })

  it('a damage that does not fit names its field', async () => {
    writeFileSync(at('odd.json'), JSON.stringify([{ at: { node: 'lock-9' } }]))
    const { status, messages } = await run('simulate', ...LINK, '--damage', at('odd.json'), '--out', at('odd'))
    expect([status, messages[0]]).toEqual([1, expect.stringMatching(/\[0\]\.breaks/)])
  })

  it('convert rewrites a trace without losing a field', async () => {
    await run('convert', trace('present', 'ab'), at('again.sor'))
    expect(readTraceFile(readFileSync(at('again.sor')))).toEqual(readTraceFile(readFileSync(trace('present', 'ab'))))
  })

  it('convert writes points as CSV with units in the header', async () => {
    await run('convert', trace('present', 'ab'), at('points.csv'))
    const rows = Papa.parse<string[]>(readFileSync(at('points.csv'), 'utf8').trim()).data
    expect(rows[0]).toEqual(['distance_m', 'level_dB'])
    expect(rows).toHaveLength(1 + readTraceFile(readFileSync(trace('present', 'ab'))).data.scales[0]!.values.length)
  })

  it('convert writes the plant as GeoJSON', async () => {
    await run('convert', at('plant.json'), at('plant.geojson'))
    expect(JSON.parse(readFileSync(at('plant.geojson'), 'utf8')).type).toBe('FeatureCollection')
  })

  it('a conversion that does not exist is refused', async () => {
    expect((await run('convert', at('plant.json'), at('plant.pdf'))).status).toBe(1)
  })
})

describe('grade', () => {
  const CLASS = ['--class', 'single-mode PC']
  const drawn = () => {
    const { width, height, data } = drawEndFace(practiceEndFace(3, 3, 'single-mode'), 5)
    return sharp(Buffer.from(data), { raw: { width, height, channels: 1 } })
  }
  const gradeOf = async (name: string) => {
    const { status, documents, messages } = await run('grade', at(name), ...CLASS)
    expect(messages).toEqual([])
    expect(status).toBe(0)
    return gradeDocument.parse(documents[0])
  }

  it('prints the documented JSON of a picture, whatever kind of file it comes in', async () => {
    await drawn().png().toFile(at('gray.png'))
    await drawn().toColourspace('srgb').tint({ r: 255, g: 250, b: 240 }).png().toFile(at('colour.png'))
    await drawn().toColourspace('grey16').png().toFile(at('deep.png'))
    // What a camera of 12 bits saves in 16: the upper four are never used.
    const twelve = drawn().toColourspace('grey16').raw({ depth: 'ushort' })
    const { data, info } = await twelve.toBuffer({ resolveWithObject: true })
    const levels = Uint16Array.from(
      new Uint16Array(data.buffer, data.byteOffset, data.length / 2),
      (level) => level >> 4,
    )
    const { width, height } = info
    await sharp(levels, { raw: { width, height, channels: 1 } })
      .toColourspace('grey16')
      .png()
      .toFile(at('twelve.png'))
    await drawn().rotate(90).withMetadata({ orientation: 8 }).tiff().toFile(at('turned.tiff'))
    const gray = await gradeOf('gray.png')
    expect(gray.verdict).toBe('pass')
    expect(gray.scale).toBeCloseTo(125 / 2 / gray.fiber.radius, 6)
    for (const name of ['deep.png', 'twelve.png', 'turned.tiff']) {
      const same = await gradeOf(name)
      expect(same.verdict, name).toBe('pass')
      expect(same.fiber.radius, name).toBeCloseTo(gray.fiber.radius, 0)
      expect(same.fiber.x, name).toBeCloseTo(gray.fiber.x, 0)
    }
    expect((await gradeOf('colour.png')).fiber.radius).toBeCloseTo(gray.fiber.radius, 0)
  })

  it('of several reports what is no picture, and what shows no fiber, in their places', async () => {
    await drawn().png().toFile(at('gray.png'))
    writeFileSync(at('text.png'), 'not a picture')
    await sharp({ create: { width: 640, height: 480, channels: 3, background: '#777' } })
      .png()
      .toFile(at('empty.png'))
    const { status, documents } = await run('grade', at('text.png'), at('gray.png'), at('empty.png'), ...CLASS)
    expect(status).toBe(1)
    expect(documents).toHaveLength(3)
    expect(documents[0]).toMatchObject({ file: at('text.png'), error: { code: 'not-a-picture' } })
    expect(gradeDocument.parse(documents[1]).verdict).toBe('pass')
    expect(documents[2]).toMatchObject({ error: { code: 'cannot-judge', message: expect.stringMatching(/empty/) } })
  })

  it('more pixels than any microscope makes are refused before they are read', async () => {
    await sharp({ create: { width: 8000, height: 6000, channels: 3, background: '#777' } })
      .jpeg()
      .toFile(at('huge.jpg'))
    const { status, messages } = await run('grade', at('huge.jpg'), ...CLASS)
    expect(status).toBe(1)
    expect(messages.join()).toMatch(/huge\.jpg: the picture has more than 40 million pixels/)
  })

  it('a class that nobody knows is wrong usage', async () => {
    expect((await run('grade', at('gray.png'), '--class', 'square')).status).toBe(2)
  })
})

describe('advise', () => {
  const plan = { aligner: 'core', causes: ['worn blade'], begin: 4, fibers: 1, earlierSessions: 4 } as const
  const write = (name: string, content: object) => writeFileSync(at(name), JSON.stringify(content))

  it('prints the documented JSON after each splice', async () => {
    write('session.json', { aligner: 'core', ...splicingSession(77, plan) })
    const { status, documents } = await run('advise', at('session.json'))
    expect(status).toBe(0)
    const lines = documents.map((document) => adviceDocument.parse(document))
    expect(lines.map(({ after }) => after)).toEqual(Array.from({ length: 24 }, (_, i) => i + 1))
    expect(lines[1]!.advice).toBeNull()
    expect(lines.at(-1)!.advice?.causes).toEqual(['blade'])
    expect(lines.at(-1)!.advice!.because.join()).toMatch(/cleave angles/)
  })

  it('a session without splices, or with a field that is none, is refused by its name', async () => {
    write('empty.json', { aligner: 'core', reference: [], attempts: [] })
    expect((await run('advise', at('empty.json'))).messages.join()).toMatch(/attempts: a session of no splice/)
    const { reference, attempts } = splicingSession(77, plan)
    write('odd.json', { aligner: 'core', reference, attempts: [{ ...attempts[0], gap: 'fine' }] })
    const { status, messages } = await run('advise', at('odd.json'))
    expect(status).toBe(1)
    expect(messages.join()).toMatch(/odd\.json: attempts\[0\]\.gap/)
  })
})

describe('wrong usage', () => {
  it.each([[['locate']], [['analyse']], [['simulate', ...LINK, '--out', at('x'), '--seed', 'five']]])(
    '%j ends with 2',
    async (args) => {
      expect((await run(...args)).status).toBe(2)
    },
  )
})
