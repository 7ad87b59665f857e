import { nominalWavelengths } from '../../units/wavelength.ts'
import type { Shot } from './shot.ts'

/**
 * Surveys of one link with their wavelengths by one name each: what one instrument calls 1549 nm and another 1551 nm is
 * measured, compared and told as 1550 nm.
 * @param surveys lists of shots, of any number
 */
export function withNominalWavelengths<T extends readonly (readonly Shot[])[]>(
  ...surveys: T
): { [K in keyof T]: Shot[] } {
  const names = nominalWavelengths(surveys.flat().map(({ analysis }) => analysis.trace.wavelength))
  return surveys.map((shots) => shots.map((shot) => named(shot, names))) as { [K in keyof T]: Shot[] }
}

function named(shot: Shot, names: ReadonlyMap<number, number>): Shot {
  const { trace } = shot.analysis
  const wavelength = names.get(trace.wavelength)!
  return wavelength === trace.wavelength
    ? shot
    : { ...shot, analysis: { ...shot.analysis, trace: { ...trace, wavelength } } }
}
