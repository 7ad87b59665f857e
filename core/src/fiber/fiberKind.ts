/** What a record's fiber type is: OM1 to OM5 (ISO/IEC 11801), A1 (IEC 60793-2-10) and ITU-T G.651 are multimode. */
export function fiberKind(type: string): 'single-mode' | 'multimode' {
  return /^(OM\d|A1|G\.651)/i.test(type.trim()) ? 'multimode' : 'single-mode'
}
