import { describe, expect, it } from 'vitest'
import { drawTrace } from '../../test/straightTrace.ts'
import { analyzeTrace } from '../trace/index.ts'
import { analyzeDocument } from './analyzeDocument.ts'

/** A pulse of 51 m; the last connection at 8 km, the open end of the cord behind it. */
function endsAfter(cord: number) {
  const peaks = [
    { at: 8000, height: 6 },
    { at: 8000 + cord, height: 20 },
  ]
  const trace = drawTrace({ pulseWidth: 500e-9, peaks, end: 8052 + cord, points: 12_000 })
  return analyzeDocument('one.sor', analyzeTrace(trace)).events.slice(-2)
}

describe('the end that analyze tells', () => {
  it('begins at the last connection where the pulse leaves no fiber between it and the cord’s end', () => {
    const [before, end] = endsAfter(55)
    expect([before!.kind, end!.kind]).toEqual(['start', 'end'])
    expect(Math.abs(end!.distance - 8000)).toBeLessThan(15)
    expect(end!.reflectance).toBeLessThan(-30)
  })

  it('is the cord’s where fiber shows between them', () => {
    const [before, end] = endsAfter(400)
    expect([before!.kind, end!.kind]).toEqual(['reflective', 'end'])
    expect(Math.abs(before!.distance - 8000)).toBeLessThan(15)
    expect(Math.abs(end!.distance - 8400)).toBeLessThan(15)
  })
})
