import { CodedError } from '../../errors/index.ts'
import { INCH } from '../../units/inches.ts'
import { holds, type Condition, type SheetFacts } from '../sheet/facts.ts'

/** From the least to the most, m; equal where there is one figure. */
export interface Span {
  min: number
  max: number
}

/** A part of a length: another one, or metres. */
export type LengthTerm = { of: string } | { m: number | readonly [number, number] }

/** How long something is: the closure's own table first, then the sum of these terms. */
export interface LengthRule {
  id: string
  label: string
  /** Empty where there is no default: the closure's table, or the person, must say. */
  terms: readonly LengthTerm[]
  source: string
  /** Where it holds; the first rule of its name that holds is taken. */
  when?: Condition | undefined
}

/** A length as it holds here. */
export interface Length extends Span {
  label: string
  /** Where it comes from. */
  source: string
}

/** Who gave a length, where it was not a rule. */
export const OWN_TABLE = 'the closure’s own table'
export const BY_PERSON = 'given by the person'

/** What the closure's table, or a person where `by` says so, gives in place of a rule, m. */
export type GivenLengths = Readonly<Record<string, Span & { by?: typeof BY_PERSON }>>

const PRACTICE = 'common practice, no published source'
const mm = (least: number, most = least): LengthTerm => ({ m: [least / 1000, most / 1000] })
/** As the trade gives it, in inches: kept exact. */
const inch = (least: number, most = least): LengthTerm => ({ m: [least * INCH, most * INCH] })
const rule = (id: string, label: string, ...terms: LengthTerm[]): LengthRule => ({ id, label, terms, source: PRACTICE })

/** Lengths that procedures name. */
export const LENGTH_RULES: readonly LengthRule[] = [
  { ...rule('sheath', 'sheath taken off', { m: 2 }), when: { construction: ['micro-module'] } },
  rule('sheath', 'sheath taken off'),
  rule('basket-slack', 'fiber kept in the basket'),
  rule('tray-slack', 'fiber kept in the tray'),
  rule('allowance', 'allowance', inch(3, 5)),
  rule('mark', 'mark for the sheath', { of: 'sheath' }, { of: 'allowance' }),
  rule('ring-cut', 'first ring cut', inch(3, 5)),
  rule('short-of-mark', 'ripcords end short of the mark', mm(25)),
  rule('ripcord-left', 'ripcords left beyond the armor', mm(25)),
  rule('strength-member', 'strength member', inch(2, 2.25)),
  rule('test-cut', 'test cut of the slitter', mm(100)),
  rule('aramid', 'aramid', mm(170, 200)),
  rule('inner-jacket', 'inner jacket beyond the armor', inch(1, 1.5)),
  rule('inner-short', 'inner ripcords end short of the armor', mm(75)),
  rule('wrap', 'wrap folded back', mm(25, 50)),
  rule('bundle-end', 'cut off each bundle', inch(3, 5)),
  rule('tape-past', 'water-block tape past the sheath', inch(0, 10)),
  rule('ribbon-out', 'ribbon out of its holder', inch(1.5)),
  rule('module-jacket', 'outer jacket of the module’s cable', { m: 2.5 }),
  rule('module-inner', 'inner jacket left', { m: 1 }),
  rule('module-coating', 'coating off for the splice', mm(30)),
  rule('active-jacket', 'jacket of the active cable', inch(6)),
  rule('active-pull', 'one pull of the jacket', inch(3)),
  rule('felt', 'felt from the tube’s end', mm(25)),
  rule('tray-mark', 'transport tube inside the tray', mm(25)),
  rule('storing-radius', 'radius of stored fiber', mm(30)),
  // A third to half of the ferrule's diameter, 2.5 and 1.25 mm.
  { ...rule('bead', 'bead of adhesive', mm(2.5 / 3, 2.5 / 2)), when: { ferrule: ['SC'] } },
  { ...rule('bead', 'bead of adhesive', mm(1.25 / 3, 1.25 / 2)), when: { ferrule: ['LC'] } },
  rule('soft-jacket', 'jacket off', inch(2)),
  rule('soft-coating', 'coating left on', mm(12)),
  rule('soft-cleave-sc', 'cleave from the jacket, SC', mm(28)),
  rule('soft-cleave-lc', 'cleave from the jacket, LC', mm(24)),
  rule('tube-off', '900 µm tube off', inch(2)),
  rule('tube-cleave-sc', 'cleave from the tube, SC', mm(16)),
  rule('lc-buffer', 'buffer off', mm(40)),
  rule('lc-cleave', 'buffer’s end in the cleaver', mm(10.5)),
]

/** Stored fiber's least bend radius where the closure's sheet says no less, m (common practice, no published source). */
export const STORING_RADIUS = 0.03

/**
 * Least bend radius of a cable, m: ten diameters at rest, twenty under tension (TIA-568, and common practice).
 * @param diameter m, above 0
 */
export function bendRadius(diameter: number, tension: boolean): number {
  return diameter * (tension ? 20 : 10)
}

/** The rules that hold for a sheet. */
export function lengthRulesFor(facts: SheetFacts, rules: readonly LengthRule[] = LENGTH_RULES): LengthRule[] {
  return rules.filter(({ when }) => holds(when, facts))
}

/**
 * A length as it holds here: what the closure's table says, else the rule's sum; null where neither gives a figure.
 * @throws CodedError for a name that no rule has, or a rule that leans on itself
 */
export function lengthOf(
  id: string,
  given: GivenLengths,
  rules: readonly LengthRule[],
  within: readonly string[] = [],
): Length | null {
  const found = rules.find((candidate) => candidate.id === id)
  if (!found) throw new CodedError('not-found', `no length is called “${id}”`)
  if (within.includes(id)) throw new CodedError('circular', `the length “${id}” leans on itself`)
  const own = given[id]
  if (own) return { min: own.min, max: own.max, label: found.label, source: own.by ?? OWN_TABLE }
  if (found.terms.length === 0) return null
  let [min, max] = [0, 0]
  let source = found.source
  for (const term of found.terms) {
    const part: Span | null =
      'of' in term
        ? lengthOf(term.of, given, rules, [...within, id])
        : typeof term.m === 'number'
          ? { min: term.m, max: term.m }
          : { min: term.m[0], max: term.m[1] }
    if (part === null) return null
    if ('source' in part && part.source !== found.source) source = `${part.source as string}; ${found.source}`
    min += part.min
    max += part.max
  }
  return { min, max, label: found.label, source }
}
