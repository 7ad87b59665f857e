import { describe, expect, it } from 'vitest'
import { CodedError } from '../../errors/index.ts'
import { afterLooks, END_FACE_RULES, gradeEndFace, type ConnectorClass, type Feature } from '../index.ts'

const defect = (size: number, inner: number): Feature => ({
  kind: 'defect',
  size,
  inner,
  outer: inner + size,
  x: inner + size / 2,
  y: 0,
  ends: null,
  contrast: -0.5,
  cut: false,
})
/** A scratch of 40 µm that passes the center at this distance. */
const scratch = (width: number, distance: number): Feature => ({
  kind: 'scratch',
  size: width,
  inner: Math.max(0, distance - width / 2),
  outer: Math.hypot(distance, 20),
  x: 0,
  y: distance,
  ends: [-20, distance, 20, distance],
  contrast: -0.5,
  cut: false,
})
const many = (count: number, size: number, inner: number) => Array.from({ length: count }, () => defect(size, inner))
const SM: ConnectorClass = 'single-mode PC'
const MM: ConnectorClass = 'multimode PC'

// IEC 61300-3-35:2009, single-mode PC of the 45 dB class and multimode PC, from memory; figures of a sharp picture.
describe('limits of the table', () => {
  it.each<[string, ConnectorClass, Feature[], string]>([
    ['nothing at all', SM, [], 'pass'],
    ['a scratch over the core', SM, [scratch(0.5, 5)], 'fail'],
    ['a defect of any size on the core', SM, [defect(0.5, 3)], 'fail'],
    ['a defect that reaches into the core zone', SM, [defect(4, 12)], 'fail'],
    ['a scratch of 3 µm on the cladding', SM, [scratch(3, 30)], 'pass'],
    ['ten of them', SM, Array.from({ length: 10 }, () => scratch(3, 30)), 'pass'],
    ['one a little wider', SM, [scratch(3.2, 30)], 'fail'],
    ['many defects under 2 µm', SM, many(40, 1.9, 30), 'pass'],
    ['five from 2 to 5 µm', SM, many(5, 5, 30), 'pass'],
    ['six of them', SM, many(6, 2.5, 30), 'fail'],
    ['one over 5 µm', SM, [defect(5.2, 30)], 'fail'],
    ['anything in the adhesive', SM, [defect(4, 60.5), scratch(1, 62)], 'pass'],
    ['just under 10 µm in the contact zone', SM, many(9, 9.9, 80), 'pass'],
    ['10 µm there', SM, [defect(10, 80)], 'fail'],
    ['any scratch there', SM, [scratch(30, 90)], 'pass'],
    ['beyond the contact zone', SM, [defect(30, 126)], 'pass'],
    ['multimode: a scratch of 3 µm over the core', MM, [scratch(3, 5)], 'pass'],
    ['multimode: one of 4 µm', MM, [scratch(4, 5)], 'fail'],
    ['multimode: one of 5 µm on the cladding', MM, [scratch(5, 36)], 'pass'],
    ['multimode: four defects of 5 µm on the core', MM, many(4, 5, 10), 'pass'],
    ['multimode: five, however small', MM, many(5, 0.5, 10), 'fail'],
    ['multimode: one over 5 µm', MM, [defect(5.2, 10)], 'fail'],
    ['multimode: 19 µm in the contact zone', MM, [defect(19, 80)], 'pass'],
    ['multimode: 20 µm there', MM, [defect(20, 80)], 'fail'],
  ])('%s', (_name, connector, features, verdict) => {
    expect(gradeEndFace(features, { blur: 0, scale: 0 }, connector).verdict).toBe(verdict)
  })

  it('says the zone, the figure and the limit', () => {
    expect(gradeEndFace([defect(7.2, 30)], { blur: 0.5, scale: 0 }, SM).reasons).toEqual([
      'zone B (cladding): a defect of 7.2 µm, at most 5 µm',
    ])
  })

  it.each<ConnectorClass>(['APC', 'multi-fiber'])('%s has no table, and is not judged by another’s', (connector) => {
    expect(gradeEndFace([defect(50, 0)], { blur: 1, scale: 0 }, connector)).toMatchObject({
      verdict: 'no rule',
      zones: [],
      marks: [],
    })
  })

  it('each table says its edition, and what superseded it', () => {
    for (const { edition, superseded } of END_FACE_RULES) {
      expect(edition).toMatch(/61300-3-35:2009/)
      expect(superseded).toMatch(/2015.*2022/)
    }
  })
})

describe('nearer to a limit than the blur is close', () => {
  it.each<[string, Feature[], string]>([
    ['5.5 µm on the cladding, at most 5', [defect(5.5, 30)], 'close'],
    ['4.5 µm, at most 5', [defect(4.5, 30)], 'close'],
    ['6.5 µm', [defect(6.5, 30)], 'fail'],
    ['3.5 µm', [defect(3.5, 30)], 'pass'],
    ['a speck on the core smaller than the blur', [defect(0.8, 3)], 'close'],
    ['six that may be under 2 µm', many(6, 2.4, 30), 'close'],
    ['at the border of the core zone', [defect(3, 12.8)], 'close'],
    ['over the limits on either side of a border', [defect(8, 12.6)], 'fail'],
    ['a scratch over the core that is narrower than the blur', [scratch(0.8, 5)], 'close'],
    ['one that is wider', [scratch(1.2, 5)], 'fail'],
    ['one that only just reaches the core zone', [scratch(1.2, 12.8)], 'close'],
    ['a scratch of 3.6 µm, at most 3', [scratch(3.6, 30)], 'close'],
    ['cut by the picture’s border', [{ ...defect(6, 100), cut: true }], 'close'],
  ])('%s', (_name, features, verdict) => {
    expect(gradeEndFace(features, { blur: 1, scale: 0 }, SM).verdict).toBe(verdict)
  })

  it('a contact zone that is not all in the picture is not passed', () => {
    const { verdict, reasons } = gradeEndFace([], { blur: 1, scale: 0 }, SM, { D: 0.6 })
    expect(verdict).toBe('close')
    expect(reasons).toEqual(['zone D (contact): only 60 % of it is in the picture'])
  })

  it('what a wrong scale may have made of a size, or of a place, is close', () => {
    // Two standard uncertainties of 1 % of 10 µm are 0.2 µm, of a zone’s border at 60 µm 1.2 µm.
    const grade = (size: number, r: number, scale: number) =>
      gradeEndFace([defect(size, r)], { blur: 0.1, scale }, SM).verdict
    expect([grade(10.25, 100, 0), grade(10.25, 100, 0.01), grade(10.15, 100, 0.01)]).toEqual(['fail', 'fail', 'close'])
    expect([grade(8, 61, 0), grade(8, 61, 0.01)]).toEqual(['pass', 'close'])
  })

  it('marks each feature by what it means alone', () => {
    expect(gradeEndFace([defect(9, 30), defect(5.5, 30), defect(1, 30)], { blur: 1, scale: 0 }, SM).marks).toEqual([
      'over',
      'close',
      'fine',
    ])
  })
})

describe('after looks', () => {
  const at = (x: number) => ({ kind: 'defect' as const, x, y: 0 })
  const fail = (...marked: ReturnType<typeof at>[]) => ({ verdict: 'fail' as const, marked })
  it.each<[string, Parameters<typeof afterLooks>[0], string, RegExp]>([
    ['clean', [{ verdict: 'pass', marked: [] }], 'connect', /connect it now/],
    ['dirty', [fail(at(10))], 'clean', /Clean it and look again/],
    ['dirt that moved', [fail(at(10)), fail(at(30))], 'clean', /look again\.$/],
    ['what stays once', [fail(at(10)), fail(at(11))], 'clean', /lies where it lay/],
    ['what stays twice is damage', [fail(at(10)), fail(at(11)), fail(at(10))], 'damage', /re-polish or replace/],
    ['four looks', [1, 20, 40, 60].map((x) => fail(at(x))), 'damage', /3 cleanings did not help/],
    ['close', [{ verdict: 'close', marked: [at(1)] }], 'look closer', /sharper focus/],
    ['no table', [{ verdict: 'no rule', marked: [] }], 'by its sheet', /maker’s sheet/],
  ])('%s', (_name, looks, next, words) => {
    const summary = afterLooks(looks, 'plug')
    expect(summary.next).toBe(next)
    expect(summary.words).toMatch(words)
    expect(summary.cleanings).toBe(looks.length - 1)
  })

  it('a port is not polished', () => {
    expect(
      afterLooks(
        [1, 20, 40, 60].map((x) => fail(at(x))),
        'port',
      ).words,
    ).toMatch(/replace the sleeve/)
    expect(() => afterLooks([], 'plug')).toThrow(CodedError)
  })
})
