import { describe, expect, it } from 'vitest'
import { CodedError } from '../../errors/index.ts'
import { bendRadius, lengthOf, LENGTH_RULES, STORING_RADIUS } from './lengths.ts'
import { prepareEnd, slackIn, type Preparation } from './preparation.ts'
import { CHECK_BAR, layOutTemplate, PAPERS } from './template.ts'
import { testFacts } from '../../../test/openFacts.ts'

describe('bend radius', () => {
  it('ten diameters at rest, twenty under tension (TIA-568)', () => {
    expect(bendRadius(0.015, false)).toBeCloseTo(0.15, 12)
    expect(bendRadius(0.015, true)).toBeCloseTo(0.3, 12)
  })

  it('fiber is stored at 30 mm, the radius of 100 turns in ITU-T G.652, far from one turn at 10 or 7.5 mm of G.657 (from memory)', () => {
    expect(STORING_RADIUS).toBe(0.03)
    for (const tested of [0.01, 0.0075]) expect(STORING_RADIUS).toBeGreaterThan(2 * tested)
  })
})

describe('rules of lengths', () => {
  it('a rule that leans on itself, or on one that is not there, is named', () => {
    const rules = [
      { id: 'a', label: 'a', terms: [{ of: 'b' }], source: '' },
      { id: 'b', label: 'b', terms: [{ of: 'a' }], source: '' },
    ]
    expect(() => lengthOf('a', {}, rules)).toThrow(/leans on itself/)
    expect(() => lengthOf('c', {}, rules)).toThrow(/no length is called “c”/)
  })

  it('each has a source', () => {
    for (const rule of LENGTH_RULES) expect(rule.source).not.toBe('')
  })
})

describe('a prepared end, m from the cable’s free end', () => {
  const at = (preparation: unknown, name: string) => {
    const { layers, marks } = preparation as Preparation
    const span = layers.find((one) => one.name === name)?.endsAt ?? marks.find((one) => one.name === name)?.at
    return span && [span.min, span.max].map((value) => Number(value.toFixed(4)))
  }
  const sheath = { sheath: { min: 2, max: 2 } }

  it('rollable ribbon, armored: mark 2 m and 3 to 5 in more, worked by hand in inches of 25.4 mm', () => {
    const facts = testFacts({
      construction: 'rollable-ribbon',
      armored: true,
      grounded: true,
      doubleJacket: true,
      strengthMember: false,
    })
    const end = prepareEnd(facts, sheath)
    expect(at(end, 'outer sheath')).toEqual([2.0762, 2.127])
    expect(at(end, 'outer ripcords')).toEqual([2.0512, 2.102])
    expect(at(end, 'inner jacket')).toEqual([2.0381, 2.1016])
    expect(at(end, 'bundles')).toEqual([0.0762, 0.127])
    expect(at(end, 'first ring cut')).toEqual([0.0762, 0.127])
    // What is free in the end: the mark without what is cut off the bundles.
    expect((end as Preparation).free.min).toBeCloseTo(1.9492, 9)
    expect((end as Preparation).free.max).toBeCloseTo(2.0508, 9)
  })

  it('loose tube: member 2 to 2 1/4 in beyond the sheath', () => {
    expect(at(prepareEnd(testFacts(), sheath), 'strength member')).toEqual([1.9428, 1.9492])
    expect(at(prepareEnd(testFacts(), sheath), 'armor')).toBeUndefined()
  })

  it('micro-module: 2 m by default, aramid 170 to 200 mm beyond the sheath', () => {
    const end = prepareEnd(testFacts({ construction: 'micro-module' }), {})
    expect(at(end, 'sheath with its two rods')).toEqual([2, 2])
    expect(at(end, 'aramid')).toEqual([1.8, 1.83])
  })

  it('asks for what is not known, and has nothing for what is not described', () => {
    expect(prepareEnd(testFacts(), {})).toEqual({ lacks: ['sheath'] })
    expect(prepareEnd(testFacts({ construction: 'tight-buffered' }), sheath)).toBeNull()
    expect(prepareEnd(testFacts({ construction: 'micro-module', entry: 'mid-span' }), sheath)).toBeNull()
  })

  it('tells whether basket and tray get what the closure keeps', () => {
    const free = { min: 1.85, max: 1.95 }
    const keeps = { 'basket-slack': { min: 1, max: 1.2 }, 'tray-slack': { min: 0.8, max: 1 } }
    expect(slackIn({ free }, keeps).spare).toBeCloseTo(0.05, 9)
    expect(slackIn({ free: { min: 1.5, max: 1.5 } }, keeps).spare).toBeCloseTo(-0.3, 9)
    expect(slackIn({ free }, {}).kept).toEqual([])
  })

  it('says the radii of the cable where its diameter is known', () => {
    const { bends } = prepareEnd(testFacts({ diameter: 0.012 }), sheath) as Preparation
    expect(bends.map(({ radius }) => Number(radius.toFixed(4)))).toEqual([0.12, 0.24, 0.03])
    expect((prepareEnd(testFacts({ diameter: null }), sheath) as Preparation).bends).toHaveLength(1)
  })
})

describe('template in true size', () => {
  const strip = (...at: number[]) => ({ name: 'strip', marks: at.map((one) => ({ at: one, label: `mark ${one}` })) })

  it('is landscape paper with a check bar of 100 mm on each page (A4: ISO 216; letter: 8½ × 11 in)', () => {
    expect(PAPERS.A4).toEqual({ width: 210, height: 297 })
    expect(PAPERS.Letter.width).toBeCloseTo(8.5 * 25.4, 9)
    expect(PAPERS.Letter.height).toBeCloseTo(11 * 25.4, 9)
    for (const paper of ['A4', 'Letter'] as const)
      for (const page of layOutTemplate(strip(28, 2000), paper)) {
        expect([page.width, page.height]).toEqual([PAPERS[paper].height, PAPERS[paper].width])
        const bar = page.lines.filter(({ x1, x2, y1, y2 }) => y1 === y2 && Math.abs(x2 - x1 - CHECK_BAR) < 1e-9)
        expect(bar).toHaveLength(1)
      }
  })

  it('goes over as many pages as it takes, each mark once, at its distance', () => {
    const pages = layOutTemplate(strip(28, 273, 600, 2000), 'A4')
    expect(pages).toHaveLength(8)
    const labels = pages.flatMap(({ texts, from }, page) =>
      texts.flatMap(({ text }) => (text.startsWith('mark') ? [[text, page, from]] : [])),
    )
    expect(labels.map(([text]) => text)).toEqual([
      'mark 28: 28 mm',
      'mark 273: 273 mm',
      'mark 600: 600 mm',
      'mark 2000: 2000 mm',
    ])
    const marked = pages.flatMap(({ lines, from }) =>
      lines.filter(({ x1, x2, weight }) => x1 === x2 && weight === 'thick').map(({ x1 }) => x1 + from),
    )
    for (const at of [28, 273, 600, 2000]) expect(marked.some((x) => Math.abs(x - 12 - at) < 1e-9)).toBe(true)
  })

  it('keeps everything on the paper', () => {
    for (const page of layOutTemplate(strip(0, 10, 20, 1500, 5000), 'Letter'))
      for (const { x1, x2, y1, y2 } of page.lines) {
        for (const x of [x1, x2]) expect(x >= 10 && x <= page.width - 10).toBe(true)
        for (const y of [y1, y2]) expect(y >= 10 && y <= page.height - 10).toBe(true)
      }
  })

  it.each([[[]], [[-1]], [[NaN]], [[5001]]])('refuses marks %j', (at) => {
    expect(() => layOutTemplate(strip(...at), 'A4')).toThrow(CodedError)
  })
})
