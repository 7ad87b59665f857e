/** Typical values by wavelength, for when a record or a file does not say. Written from memory; datasheets differ. */
interface TypicalFiber {
  /** Backscatter of a 1 ns pulse relative to the launched power, dB. Datasheets differ by 2 to 3 dB. */
  backscatter: number
  /** Attenuation, dB/km. */
  attenuation: number
}

const TYPICAL: Record<number, TypicalFiber> = {
  850: { backscatter: -68, attenuation: 3.0 },
  1300: { backscatter: -76, attenuation: 1.0 },
  1310: { backscatter: -77, attenuation: 0.34 },
  1490: { backscatter: -80.5, attenuation: 0.23 },
  1550: { backscatter: -82, attenuation: 0.2 },
  1625: { backscatter: -83, attenuation: 0.22 },
  1650: { backscatter: -83.5, attenuation: 0.24 },
}

/** Typical figures of the nearest listed wavelength (nm). */
export function typicalFiber(wavelengthNm: number): TypicalFiber {
  let nearest = 1550
  for (const key of Object.keys(TYPICAL)) {
    const listed = Number(key)
    if (Math.abs(listed - wavelengthNm) < Math.abs(nearest - wavelengthNm)) nearest = listed
  }
  return TYPICAL[nearest]!
}

/**
 * Reflectance of an event from the height of its peak.
 * R = B + 10·log10((10^(H/5) − 1)·W), W in ns (IEC 61746-1; Derickson).
 * @param backscatterDb B, backscatter coefficient of a 1 ns pulse, dB (negative)
 * @param peakHeightDb H, one-way display height of the peak above the backscatter just before it, dB (> 0)
 * @param pulseWidth s
 * @returns dB, negative
 */
export function reflectanceFromPeak(backscatterDb: number, peakHeightDb: number, pulseWidth: number): number {
  return backscatterDb + 10 * Math.log10((10 ** (peakHeightDb / 5) - 1) * pulseWidth * 1e9)
}

/** Height in dB on the display of a peak of the given reflectance (inverse of {@link reflectanceFromPeak}). */
export function peakFromReflectance(backscatterDb: number, reflectanceDb: number, pulseWidth: number): number {
  return 5 * Math.log10(1 + 10 ** ((reflectanceDb - backscatterDb) / 10) / (pulseWidth * 1e9))
}
