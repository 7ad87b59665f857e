/** Power in dBm of `milliwatts` (> 0): 10·log10(P/1 mW). */
export function dbmFromMilliwatts(milliwatts: number): number {
  return 10 * Math.log10(milliwatts)
}

/** Power in milliwatts of a level in dBm. */
export function milliwattsFromDbm(dbm: number): number {
  return 10 ** (dbm / 10)
}

/** Loss in dB between a reference and a reading, both in dBm: positive is loss. */
export function lossFromPowers(referenceDbm: number, readingDbm: number): number {
  return referenceDbm - readingDbm
}

/**
 * OTDR display level: light crosses the fiber twice, the display shows one way,
 * so a received power ratio counts 5·log10 instead of 10·log10.
 */
export function displayLevel(powerRatio: number): number {
  return 5 * Math.log10(powerRatio)
}

/** Received power ratio behind a one-way display level in dB (inverse of {@link displayLevel}). */
export function powerFromDisplayLevel(levelDb: number): number {
  return Math.exp(levelDb * (Math.LN10 / 5))
}

/** A small part of power is this many dB on the one-way display: 5/ln 10. */
export const DB_PER_RELATIVE_POWER = 5 / Math.LN10
