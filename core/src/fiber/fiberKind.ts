/** What a record's fiber type is: OM1 to OM5 (ISO/IEC 11801), A1 (IEC 60793-2-10) and ITU-T G.651 are multimode. */
export function fiberKind(type: string): 'single-mode' | 'multimode' {
  return /^(OM\d|A1|G\.651)/i.test(type.trim()) ? 'multimode' : 'single-mode'
}

/** Kind and core of a fiber: what cords must have in common with the link they test. */
export interface FiberCore {
  kind: 'single-mode' | 'multimode'
  /** Core diameter, µm; null where nothing tells it. */
  core: number | null
}

/** Core diameters by type, µm: ISO/IEC 11801 and IEC 60793-2-10 (from memory); single-mode fiber is told by its mode field. */
const CORES: readonly [RegExp, number][] = [
  [/^(OM1|A1b|A1-OM1)/i, 62.5],
  [/^(OM[2-5]|A1a|A1-OM[2-5]|G\.651)/i, 50],
]

/** @param coreSize of the record, µm */
export function coreOf({ fiberType, coreSize }: { fiberType: string; coreSize?: number | undefined }): FiberCore {
  const kind = fiberKind(fiberType)
  if (kind === 'single-mode') return { kind, core: coreSize ?? null }
  return { kind, core: coreSize ?? CORES.find(([type]) => type.test(fiberType.trim()))?.[1] ?? null }
}

/** What a cord is of, by what its record says that it fits; null where it does not say. */
export function coreOfCord(fits: readonly string[]): FiberCore | null {
  for (const fit of fits) {
    if (/^(OM\d|A1|G\.651)/i.test(fit)) return coreOf({ fiberType: fit })
    if (/^(OS\d|G\.65\d|single-?mode)/i.test(fit)) return { kind: 'single-mode', core: null }
    if (/^multimode/i.test(fit)) return { kind: 'multimode', core: null }
  }
  return null
}

/** Whether two fibers may be mated in a test: the same kind, and of multimode the same core, as far as either is told. */
export function coresMatch(a: FiberCore, b: FiberCore): boolean {
  if (a.kind !== b.kind) return false
  return a.kind === 'single-mode' || a.core === null || b.core === null || a.core === b.core
}

export function coreInWords({ kind, core }: FiberCore): string {
  return kind === 'multimode' && core !== null ? `multimode, core ${core} µm` : kind
}
