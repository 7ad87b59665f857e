import { endFaceRule, type ConnectorClass, type DefectRule, type ZoneRule } from './rules.ts'
import type { Feature } from '../types.ts'

export const END_FACE_VERDICTS = ['pass', 'close', 'fail', 'no rule'] as const
export type EndFaceVerdict = (typeof END_FACE_VERDICTS)[number]

export interface ZoneGrade {
  zone: ZoneRule['zone']
  name: string
  verdict: 'pass' | 'close' | 'fail'
  /** Empty where it passes. */
  reasons: string[]
}

/** What a feature by itself means to the verdict; many that are fine may be too many together. */
export type FeatureMark = 'fine' | 'close' | 'over'

export interface EndFaceGrade {
  verdict: EndFaceVerdict
  reasons: string[]
  zones: ZoneGrade[]
  /** One for each feature; empty without a rule. */
  marks: FeatureMark[]
}

/** A feature as it may count in a zone: sure to be there or not, and from the least to the most size it may have, µm. */
interface Counted {
  feature: Feature
  sure: boolean
  least: number
  most: number
}

/** What sizes and places are uncertain by. */
export interface Doubt {
  /** Full width at half height of what a point is blurred to, µm. */
  blur: number
  /** One standard uncertainty of the scale, as part of it. */
  scale: number
}

/** What is read as so many µm may be so much more or less: by the blur, and by two standard uncertainties of the scale. */
function marginOf(value: number, { blur, scale }: Doubt): number {
  return Math.hypot(blur, 2 * scale * value)
}

/** So much of the contact zone must be in the picture (judgement). */
const SHOWN = 0.95

/**
 * Holds what is on an end face against the table of its class. What is nearer to a limit, or to a zone's border, than the
 * picture's blur and its scale let tell is close.
 * @param shown how much of each zone the picture shows, 0 to 1
 */
export function gradeEndFace(
  features: readonly Feature[],
  doubt: Doubt,
  id: ConnectorClass,
  shown: Partial<Record<ZoneRule['zone'], number>> = {},
): EndFaceGrade {
  const rule = endFaceRule(id)
  if (!rule)
    return {
      verdict: 'no rule',
      reasons: [`no table is here for this class of connector: ${id}`],
      zones: [],
      marks: [],
    }
  const places = features.map((feature) => {
    const possible = rule.zones.flatMap((zone) => {
      const counted = inZone(feature, zone, doubt)
      return counted ? [{ zone, counted }] : []
    })
    // On a border between two zones, and over the limits of both: it does not matter which it is in.
    const anyway = possible.every(({ zone, counted }) => isSurelyOver(counted, zone, doubt.blur))
    return possible.map(({ zone, counted }) => ({ zone, counted: anyway ? { ...counted, sure: true } : counted }))
  })
  const zones = rule.zones.map((zone): ZoneGrade => {
    const counted = places.flatMap((possible) => possible.filter((one) => one.zone === zone).map((one) => one.counted))
    const of = (kind: Feature['kind']) => counted.filter(({ feature }) => feature.kind === kind)
    const scratches = scratchesIn(of('scratch'), zone, doubt.blur)
    const defects = defectsIn(of('defect'), zone)
    const part = shown[zone.zone] ?? 1
    const hidden =
      part < SHOWN && (zone.scratches !== 'any' || zone.defects !== 'any')
        ? [{ verdict: 'close' as const, reason: `only ${Math.round(100 * part)} % of it is in the picture` }]
        : []
    const found = [...scratches, ...defects, ...hidden]
    const verdict = worst(found.map((one) => one.verdict))
    return {
      zone: zone.zone,
      name: zone.name,
      verdict,
      reasons: found.filter((one) => one.verdict === verdict).map(({ reason }) => reason),
    }
  })
  const verdict = worst(zones.map((zone) => zone.verdict))
  return {
    verdict,
    zones,
    marks: places.map(markOf(doubt.blur)),
    reasons: zones
      .filter((zone) => zone.verdict === verdict && verdict !== 'pass')
      .flatMap(({ zone, name, reasons }) => reasons.map((reason) => `zone ${zone} (${name}): ${reason}`)),
  }
}

interface Finding {
  verdict: 'close' | 'fail'
  reason: string
}

function worst(verdicts: readonly ZoneGrade['verdict'][]): ZoneGrade['verdict'] {
  return verdicts.includes('fail') ? 'fail' : verdicts.includes('close') ? 'close' : 'pass'
}

/** What reaches over a border counts in the inner zone; where the blur can't tell, it may count in either. */
function inZone(feature: Feature, zone: ZoneRule, doubt: Doubt): Counted | null {
  const [from, to] = [zone.from / 2, zone.to / 2]
  const { inner, outer } = feature
  // A scratch is judged in every zone that it runs through, a defect in the innermost that it touches.
  const beyond = feature.kind === 'scratch' ? outer : inner
  const [atFrom, atTo, ofSize] = [from, to, feature.size].map((value) => marginOf(value, doubt)) as [
    number,
    number,
    number,
  ]
  if (inner - atTo >= to || beyond + atFrom < from) return null
  // A scratch is in a zone with its middle line, a defect as soon as it touches it.
  const middle = feature.kind === 'scratch' ? inner + feature.size / 2 : inner
  return {
    feature,
    sure: middle + atTo < to && (from === 0 || beyond - atFrom >= from),
    least: Math.max(0, feature.size - ofSize),
    most: feature.cut ? Infinity : feature.size + ofSize,
  }
}

const markOf =
  (blur: number) =>
  (possible: readonly { zone: ZoneRule; counted: Counted }[]): FeatureMark => {
    if (possible.some(({ zone, counted }) => counted.sure && isSurelyOver(counted, zone, blur))) return 'over'
    return possible.some(({ zone, counted }) => mayBeOver(counted, zone)) ? 'close' : 'fine'
  }

function mayBeOver({ feature, most }: Counted, zone: ZoneRule): boolean {
  if (feature.kind === 'defect') return zone.defects !== 'any' && isOver(most, zone.defects)
  return zone.scratches === 'none' || (zone.scratches !== 'any' && most > zone.scratches.widest)
}

/** Over a zone's limit however the blur turns it. */
function isSurelyOver({ feature, least }: Counted, zone: ZoneRule, blur: number): boolean {
  if (feature.kind === 'defect') return zone.defects !== 'any' && isOver(least, zone.defects)
  if (zone.scratches === 'any') return false
  // One that is no wider than the blur may be a streak on the lens; one that reaches in no farther may not be in it.
  if (zone.scratches === 'none') return least > 0 && lengthWithin(feature, zone.from / 2, zone.to / 2) >= blur
  return least > zone.scratches.widest
}

const um = (value: number) => `${value.toFixed(1)} µm`

function scratchesIn(scratches: readonly Counted[], zone: ZoneRule, blur: number): Finding[] {
  const { scratches: rule } = zone
  if (rule === 'any') return []
  return scratches.flatMap((one): Finding[] => {
    const words = `a scratch ${um(one.feature.size)} wide`
    const reason = rule === 'none' ? `${words}, none is allowed` : `${words}, at most ${rule.widest} µm`
    if (one.sure && isSurelyOver(one, zone, blur)) return [{ verdict: 'fail', reason }]
    return mayBeOver(one, zone) ? [{ verdict: 'close', reason }] : []
  })
}

/** How long a scratch is between two distances from the center, µm. */
function lengthWithin({ ends }: Feature, from: number, to: number): number {
  if (!ends) return 0
  const [x1, y1, x2, y2] = ends
  const steps = 400
  const length = Math.hypot(x2 - x1, y2 - y1)
  let inside = 0
  for (let i = 0; i < steps; i++) {
    const t = (i + 0.5) / steps
    const r = Math.hypot(x1 + t * (x2 - x1), y1 + t * (y2 - y1))
    if (r >= from && r <= to) inside++
  }
  return (length * inside) / steps
}

function defectsIn(defects: readonly Counted[], { defects: rule }: ZoneRule): Finding[] {
  if (rule === 'any') return []
  const out: Finding[] = []
  for (const { feature, sure, least, most } of defects) {
    const none = rule.counted === 0
    const reason = none
      ? `a defect of ${um(feature.size)}, none is allowed`
      : `a defect of ${um(feature.size)}, ${isFree(rule) ? `none of ${rule.counted} µm or more` : `at most ${rule.counted} µm`}`
    if (sure && isOver(least, rule)) out.push({ verdict: 'fail', reason })
    else if (isOver(most, rule)) out.push({ verdict: 'close', reason })
  }
  if (isFree(rule)) return out
  const between = (size: number) => size >= rule.free
  const surely = defects.filter(({ sure, least }) => sure && between(least)).length
  const perhaps = defects.filter(({ most }) => between(most)).length
  const counted = (count: number) => `${count} defects of ${rule.free} µm or more, at most ${rule.atMost} are allowed`
  if (surely > rule.atMost) out.push({ verdict: 'fail', reason: counted(surely) })
  else if (perhaps > rule.atMost) out.push({ verdict: 'close', reason: `perhaps ${counted(perhaps)}` })
  return out
}

/** A rule without a count in between: what is under the limit is free. */
function isFree(rule: Exclude<DefectRule, 'any'>): boolean {
  return rule.free === rule.counted
}

function isOver(size: number, rule: Exclude<DefectRule, 'any'>): boolean {
  return isFree(rule) && rule.counted > 0 ? size >= rule.counted : size > rule.counted
}
