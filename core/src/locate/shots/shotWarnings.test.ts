import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { drawTrace } from '../../../test/straightTrace.ts'
import { shootTwoCables } from '../../../test/shootTwoCables.ts'
import { shootLink } from '../../sim/index.ts'
import { analyzeTrace, decodeTrace } from '../../trace/index.ts'
import { locateFaults, type Shot } from '../index.ts'

const plant = twoCablePlant()

function shoot(settings: Parameters<typeof shootLink>[3]['settings'], direction: 'ab' | 'ba' = 'ab'): Shot {
  const bytes = shootLink(
    plant,
    'l',
    { seed: 9 },
    {
      direction,
      wavelength: 1550,
      cords: { launch: 500, receive: 500 },
      takenAt: '2026-01-01T00:00:00Z',
      condition: 'CC',
      seed: 77,
      ...(settings ? { settings } : {}),
    },
  )
  return { name: 'shot.sor', direction, launch: 500, receive: 500, analysis: analyzeTrace(decodeTrace(bytes)) }
}
const warned = (present: Shot[]) =>
  locateFaults({ plant, linkId: 'l', baseline: shootTwoCables([], 1), present }).warnings

describe('how a present trace was taken', () => {
  it('well gives no warning of it', () => {
    const codes = warned([shoot({})]).map((warning) => warning.code)
    for (const code of [
      'direction-swapped',
      'direction-unchecked',
      'index-setting',
      'front-saturated',
      'pulse-too-long',
      'no-end',
    ])
      expect(codes).not.toContain(code)
  })

  it('a swapped direction label is found by its mirror', () => {
    const swapped = { ...shoot({}, 'ba'), direction: 'ab' as const }
    const warning = warned([swapped]).find(({ code }) => code === 'direction-swapped')
    expect(warning?.message).toMatch(/^shot\.sor: .*other end/)
  })

  it('a label is not taken for swapped where another wavelength of the same go fits its own end', () => {
    const at1310 = (shot: Shot): Shot => {
      const { analysis } = shot
      return { ...shot, analysis: { ...analysis, trace: { ...analysis.trace, wavelength: 1310 } } }
    }
    const baseline = shootTwoCables([], 1)
    const swapped = { ...shoot({}, 'ba'), direction: 'ab' as const }
    const codes = (present: Shot[]) =>
      locateFaults({ plant, linkId: 'l', baseline: [...baseline, ...baseline.map(at1310)], present }).warnings.map(
        ({ code }) => code,
      )
    expect(codes([swapped, at1310(shoot({}))])).not.toContain('direction-swapped')
    expect(codes([swapped, at1310(swapped)])).toContain('direction-swapped')
  })

  it('labels that are swapped put the fault where the right ones do, and say so', () => {
    const baseline = shootTwoCables([], 1)
    const present = shootTwoCables([{ at: { chainage: 2300 }, breaks: false, loss: 0.8 }], 11)
    const crossed = present.map((shot) => ({ ...shot, direction: shot.direction === 'ab' ? 'ba' : 'ab' }) as const)
    const right = locateFaults({ plant, linkId: 'l', baseline, present })
    const mended = locateFaults({ plant, linkId: 'l', baseline, present: crossed })
    expect(mended.faults.map((fault) => fault.chainage)).toEqual(right.faults.map((fault) => fault.chainage))
    expect(mended.present.map((shot) => shot.direction)).toEqual(['ab', 'ba'])
    expect(mended.warnings.map(({ code }) => code).filter((code) => code !== 'no-event-table')).toEqual([
      'direction-swapped',
      'direction-swapped',
    ])
  })

  it('a label that nothing in the trace can tell right from wrong is named', () => {
    const [ab, ba] = shootTwoCables([{ at: { chainage: 300 }, breaks: true, loss: 0 }], 5)
    const unchecked = (present: Shot[]) =>
      warned(present)
        .filter(({ code }) => code === 'direction-unchecked')
        .map(({ message }) => message)
    // The first joint of this link lies beyond 300 m: seen from a, the trace shows none of them.
    expect(unchecked([ab!])).toEqual([expect.stringContaining(`${ab!.name}: no joint`)])
    // Seen from b all joints show, and where one label is right the other one is.
    expect(unchecked([ba!])).toEqual([])
    expect(unchecked([ab!, ba!])).toEqual([])
    const baseline = shootTwoCables([], 1).slice(0, 1)
    const { warnings } = locateFaults({ plant, linkId: 'l', baseline, present: [ab!, ba!] })
    expect(warnings.map(({ code }) => code)).toContain('direction-unchecked')
  })

  it('an index that is not the cable’s is named with what it does at 10 km: 0.01 is 68 m', () => {
    const warning = warned([shoot({ groupIndex: 1.4582 })]).find(({ code }) => code === 'index-setting')
    const metres = Number(/is (\d+) m off/.exec(warning!.message)![1])
    expect(metres).toBeGreaterThan(64)
    expect(metres).toBeLessThan(72)
  })

  it('a wrong index moves no place: places are computed from time', () => {
    const at = (groupIndex: number) => {
      const present = [shootBreak(groupIndex)]
      return locateFaults({ plant, linkId: 'l', baseline: shootTwoCables([], 1), present }).faults[0]!.chainage
    }
    expect(Math.abs(at(1.4482) - at(1.4682))).toBeLessThan(3)
  })

  it('a range too short is said', () => {
    expect(warned([shoot({ range: 2500 })]).map(({ code }) => code)).toContain('no-end')
  })

  it('a pulse far longer than the baseline’s is said, with what it hides', () => {
    const warning = warned([shoot({ pulseWidth: 300e-9, spacing: 1 })]).find(({ code }) => code === 'pulse-too-long')
    expect(warning!.message).toMatch(/within 31 m of another event is hidden/)
  })

  // ITU-T G.652 (G.652.D): at most 0.3 dB/km at 1550 nm.
  it('a section that loses more than its fiber may is said with both figures', () => {
    const drawn = (attenuation: number): Shot => {
      const trace = drawTrace({
        points: 8000,
        attenuation,
        noise: 0.005,
        peaks: [{ at: 500, height: 5 }],
        end: 3600,
      })
      return { name: 'wet.sor', direction: 'ab', launch: 500, receive: 0, analysis: analyzeTrace(trace) }
    }
    const codes = (attenuation: number) =>
      locateFaults({ plant, linkId: 'l', baseline: [], present: [drawn(attenuation)] }).warnings.filter(
        ({ code }) => code === 'attenuation-high',
      )
    expect(codes(0.29e-3)).toEqual([])
    const [warning] = codes(0.42e-3)
    expect(warning?.message).toMatch(
      /^wet\.sor: from \d+ to \d+ m of fiber it loses 0\.42 dB\/km at 1550 nm, more than the 0\.3/,
    )
  })
})

function shootBreak(groupIndex: number): Shot {
  const bytes = shootLink(
    plant,
    'l',
    { seed: 9 },
    {
      direction: 'ab',
      wavelength: 1550,
      cords: { launch: 500, receive: 500 },
      takenAt: '2026-01-01T00:00:00Z',
      condition: 'CC',
      seed: 5,
      damages: [{ at: { chainage: 1700 }, breaks: true, reflectance: -20 }],
      settings: { groupIndex },
    },
  )
  return { name: 'break.sor', direction: 'ab', launch: 500, receive: 500, analysis: analyzeTrace(decodeTrace(bytes)) }
}
