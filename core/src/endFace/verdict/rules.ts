/** What a zone allows of scratches, by width in µm: none, any, or any number up to a width and none wider. */
export type ScratchRule = 'none' | 'any' | { widest: number }

/**
 * What a zone allows of defects, by size in µm: any, or any number under `free`, at most `atMost` from there to `counted`,
 * none above it. Where both are equal, none of that size or more.
 */
export type DefectRule = 'any' | { free: number; counted: number; atMost: number }

export interface ZoneRule {
  zone: 'A' | 'B' | 'C' | 'D'
  name: string
  /** Diameters, µm. */
  from: number
  to: number
  scratches: ScratchRule
  defects: DefectRule
}

/** Limits of one class of connector. */
export interface EndFaceRule {
  id: ConnectorClass
  name: string
  edition: string
  /** Editions that came after it; empty where it is the last one known here. */
  superseded: string
  zones: readonly ZoneRule[]
}

/** Classes of connectors by what their ends look like. */
export const CONNECTOR_CLASSES = ['single-mode PC', 'multimode PC', 'APC', 'multi-fiber'] as const
export type ConnectorClass = (typeof CONNECTOR_CLASSES)[number]

/** How a class is called. */
export const CLASS_WORDS: Record<ConnectorClass, string> = {
  'single-mode PC': 'single-mode PC or UPC, return loss 45 dB or more',
  'multimode PC': 'multimode PC',
  APC: 'APC (8°)',
  'multi-fiber': 'multi-fiber',
}

const NONE: DefectRule = { free: 0, counted: 0, atMost: 0 }
const EDITION = 'IEC 61300-3-35:2009, from memory'
const SUPERSEDED = 'editions of 2015 and 2022'

/** A table for each class that has one here; a class without one has no rule, and is never judged by another's. */
export const END_FACE_RULES: readonly EndFaceRule[] = [
  {
    id: 'single-mode PC',
    name: CLASS_WORDS['single-mode PC'],
    edition: EDITION,
    superseded: SUPERSEDED,
    zones: [
      { zone: 'A', name: 'core', from: 0, to: 25, scratches: 'none', defects: NONE },
      {
        zone: 'B',
        name: 'cladding',
        from: 25,
        to: 120,
        scratches: { widest: 3 },
        defects: { free: 2, counted: 5, atMost: 5 },
      },
      { zone: 'C', name: 'adhesive', from: 120, to: 130, scratches: 'any', defects: 'any' },
      {
        zone: 'D',
        name: 'contact',
        from: 130,
        to: 250,
        scratches: 'any',
        defects: { free: 10, counted: 10, atMost: 0 },
      },
    ],
  },
  {
    id: 'multimode PC',
    name: CLASS_WORDS['multimode PC'],
    edition: EDITION,
    superseded: SUPERSEDED,
    zones: [
      {
        zone: 'A',
        name: 'core',
        from: 0,
        to: 65,
        scratches: { widest: 3 },
        defects: { free: 0, counted: 5, atMost: 4 },
      },
      {
        zone: 'B',
        name: 'cladding',
        from: 65,
        to: 120,
        scratches: { widest: 5 },
        defects: { free: 2, counted: 5, atMost: 5 },
      },
      { zone: 'C', name: 'adhesive', from: 120, to: 130, scratches: 'any', defects: 'any' },
      {
        zone: 'D',
        name: 'contact',
        from: 130,
        to: 250,
        scratches: 'any',
        defects: { free: 20, counted: 20, atMost: 0 },
      },
    ],
  },
]

/** The table of a class; null where none is here. */
export function endFaceRule(id: ConnectorClass): EndFaceRule | null {
  return END_FACE_RULES.find((rule) => rule.id === id) ?? null
}
