import { fiberKind } from './fiberKind.ts'

/** A mode field may be off by so much of its nominal diameter: 9.2 µm ± 0.4 µm at 1310 nm (ITU-T G.652). */
const MODE_FIELD_TOLERANCE = 0.4 / 9.2
/** The same of a graded-index fiber's numerical aperture: 0.200 ± 0.015 (IEC 60793-2-10, from memory). */
const APERTURE_TOLERANCE = 0.015 / 0.2
/** Within a tolerance any figure is as likely as another: its standard deviation as a part of the tolerance. */
const UNIFORM = 1 / Math.sqrt(3)

/**
 * How far the loss of a joint of two strange fibers, read from one end, lies from its true loss, dB, one standard deviation.
 * A fiber catches scattered light in proportion to 1/w² (single-mode, w its mode field) or to the square of its numerical
 * aperture (multimode); a one-way reading holds half the difference of two fibers, 10·log10 of the ratio of w or of the aperture.
 * @param fiberType of the record
 */
export function oneWaySpread(fiberType: string): number {
  const tolerance = fiberKind(fiberType) === 'multimode' ? APERTURE_TOLERANCE : MODE_FIELD_TOLERANCE
  return (10 / Math.LN10) * tolerance * UNIFORM * Math.SQRT2
}
