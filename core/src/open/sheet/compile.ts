import { ruleMillimetres } from '../../units/inches.ts'
import { CAUTIONS } from '../procedures/cautions.ts'
import type { ClosureModel } from '../closure/closureModel.ts'
import { CLOSURE_WORDS, constructionWord, holds, type SheetFacts, type Work } from './facts.ts'
import { lengthOf, lengthRulesFor, type GivenLengths, type Length, type LengthRule } from '../drawings/lengths.ts'
import { lengthsIn, NAMED, spanInWords } from '../procedures/words.ts'
import {
  PARTS,
  stepId,
  type Part,
  type Procedure,
  type ProcedureStep,
  type StepField,
} from '../procedures/procedure.ts'

/** A step of a sheet: its procedure's, with what is named in it filled in. */
export interface SheetStep extends Omit<ProcedureStep, 'id' | 'when' | 'fields'> {
  /** `procedure.step` */
  id: string
  part: Part
  fields: readonly SheetField[]
}

/** A field with figures in place of names. */
export interface SheetField extends Omit<StepField, 'nominal' | 'tolerance'> {
  /** Expected least and most, in the field's unit; null where nothing is expected. */
  least: number | null
  most: number | null
}

/** What a sheet was made from. */
export interface SheetSource {
  id: string
  version: number
  name: string
  source: string
}

/** One ordered sheet for one piece of work, as it was when it was begun. */
export interface RunSheet {
  name: string
  facts: SheetFacts
  steps: readonly SheetStep[]
  /** Lengths that its texts name, by name. */
  lengths: Record<string, Length>
  procedures: readonly SheetSource[]
  /** Of the closure, with what a pressure test needs; null without a closure. */
  closure: Pick<ClosureModel, 'model' | 'kind' | 'pressure'> | null
}

/** Why there is no sheet: steps are never invented. */
export interface NoSheet {
  why: string
  /** Lengths that somebody must give first, as named. */
  lacks: { id: string; label: string }[]
}

export interface SheetInput {
  facts: SheetFacts
  procedures: readonly Procedure[]
  /** The closure's sheet; null where there is none. */
  model: ClosureModel | null
  /** Given by the person, m: they come before the closure's table. */
  given: GivenLengths
  lengthRules?: readonly LengthRule[]
}

/** Parts that a work can't be done without. */
const NEEDED: Record<Work, readonly Part[]> = {
  're-enter': ['open', 'joints', 'close'],
  'bring-in': ['identify', 'enter', 'joints', 'close'],
  prepare: ['identify', 'prepare'],
  connector: ['prepare', 'joints'],
  panel: ['open'],
}

/**
 * One ordered sheet for the job's own cable and closure, or the reason why there is none.
 * @throws CodedError where procedures name something that is not there: see {@link checkProcedures}
 */
export function compileSheet(input: SheetInput): RunSheet | NoSheet {
  const { facts, model, procedures } = input
  const fitting = procedures
    .filter((procedure) => holds(procedure.for, facts))
    // A module brings its own cable, with lengths of its own.
    .filter(({ part }) => part !== 'prepare' || facts.closure !== 'panel-module')
    .sort((a, b) => PARTS.indexOf(a.part) - PARTS.indexOf(b.part) || a.rank - b.rank)
  const needed = [...NEEDED[facts.work], ...(sheathComesOff(facts) ? (['prepare'] as const) : [])]
  const without = needed.find((part) => !fitting.some((procedure) => procedure.part === part))
  if (without !== undefined) return { why: whyNone(without, facts), lacks: [] }
  if (facts.work === 'bring-in' && facts.closure === 'gel-dome' && facts.diameter === null)
    return {
      why: 'The cable’s outer diameter is not on record: measure it. A thin cable goes in with tape and a bushing.',
      lacks: [],
    }

  const steps = fitting.flatMap((procedure) =>
    procedure.steps
      .filter(({ when }) => holds(when, facts))
      .map((step) => ({ procedure, step, id: stepId(procedure, step) })),
  )
  const there = new Set(steps.map(({ id }) => id))
  const rules = lengthRulesFor(facts, input.lengthRules)
  const radius = model?.storingRadius
  const given: GivenLengths = {
    ...(radius === null || radius === undefined ? {} : { 'storing-radius': { min: radius, max: radius } }),
    ...model?.lengths,
    ...input.given,
  }
  const lengths: Record<string, Length> = {}
  const lacks: NoSheet['lacks'] = []
  const words = wordsOf(facts)
  const need = (name: string) => {
    if (name in words || name in lengths) return
    const length = lengthOf(name, given, rules)
    if (length) lengths[name] = length
    else for (const id of lackingIn(name, given, rules)) if (!lacks.some((one) => one.id === id.id)) lacks.push(id)
  }
  for (const { step } of steps) {
    lengthsIn(step.do).forEach(need)
    for (const { nominal } of step.fields ?? [])
      if (typeof nominal === 'string' && !(nominal in numbersOf(facts))) need(nominal)
  }
  if (lacks.length > 0)
    return {
      why: `No length is on record for: ${lacks.map(({ label }) => label).join(', ')}. Take it from the closure’s sheet.`,
      lacks,
    }
  return {
    name: nameOf(facts),
    facts,
    steps: steps.map(({ procedure, step, id }): SheetStep => {
      const { when: _when, fields = [], ...rest } = step
      return {
        ...rest,
        id,
        part: procedure.part,
        do: step.do.replace(NAMED, (braces, name: string) => words[name] ?? braces),
        locks: (step.locks ?? []).filter((lock) => there.has(lock.step)),
        fields: fields.map((field) => toSheetField(field, lengths, facts)),
      }
    }),
    lengths,
    procedures: fitting.map(({ id, version, name, source }) => ({ id, version, name, source })),
    closure: model && facts.closure ? { model: model.model, kind: model.kind, pressure: model.pressure } : null,
  }
}

/** Whether there is a sheet. */
export function isSheet(outcome: RunSheet | NoSheet): outcome is RunSheet {
  return 'steps' in outcome
}

function sheathComesOff({ work, closure }: SheetFacts): boolean {
  return work === 'bring-in' && closure !== 'panel-module'
}

function whyNone(part: Part, facts: SheetFacts): string {
  const use = 'Use the maker’s sheet, or write the operator’s own procedure.'
  if (part === 'prepare' && facts.work !== 'connector') {
    const entry = facts.entry === 'mid-span' ? ', mid-span entry' : ''
    return `No procedure here for a cable of construction “${facts.construction}”${entry}. ${use}`
  }
  const closure = facts.closure === null ? (facts.closureModel ?? 'this place') : CLOSURE_WORDS[facts.closure]
  const what = { 're-enter': 're-entering', 'bring-in': 'bringing a cable into', panel: 'working at' } as const
  return `No procedure here for ${what[facts.work as keyof typeof what] ?? 'work at'} ${closure}. ${use}`
}

function nameOf(facts: SheetFacts): string {
  switch (facts.work) {
    case 're-enter':
      return `Open and close ${facts.place}`
    case 'bring-in':
      return `Bring ${facts.cable ?? 'a cable'} into ${facts.place}`
    case 'prepare':
      return `Prepare ${facts.cable ?? 'the cable'} at ${facts.place}`
    case 'connector':
      return `Connector at ${facts.place}`
    case 'panel':
      return `Work at ${facts.place}`
  }
}

/** Facts that are counts; null where nobody knows. */
function numbersOf(facts: SheetFacts): Record<string, number | null> {
  return {
    fibers: facts.fiberCount,
    groups: facts.groups,
    'group-fibers': facts.groupFibers,
    cables: facts.cables,
    ports: facts.ports,
  }
}

function wordsOf(facts: SheetFacts): Record<string, string> {
  const thin = { min: facts.bushingBelow, max: facts.bushingBelow }
  return {
    'bushing-below': spanInWords(thin, 'metric and inches'),
    ...Object.fromEntries(
      Object.entries(numbersOf(facts)).map(([name, value]) => [name, value === null ? 'not on record' : String(value)]),
    ),
    group: facts.groupWord,
    neighbours: facts.neighbours.length > 0 ? facts.neighbours.join(', ') : 'the other cables',
    cable: facts.cable ?? 'the cable',
    construction: constructionWord(facts.construction),
    place: facts.place,
    port: facts.port === null ? 'none is known to be free' : `port ${facts.port}`,
  }
}

/** Names that stand for facts rather than lengths. */
export const FACT_NAMES = [
  'fibers',
  'groups',
  'group-fibers',
  'group',
  'cables',
  'neighbours',
  'ports',
  'bushing-below',
  'cable',
  'construction',
  'place',
  'port',
] as const

function toSheetField(
  { nominal, tolerance = 0, ...field }: StepField,
  lengths: Record<string, Length>,
  facts: SheetFacts,
): SheetField {
  if (nominal === undefined) return { ...field, least: null, most: null }
  const counted = typeof nominal === 'number' ? nominal : numbersOf(facts)[nominal]
  if (counted === null) return { ...field, least: null, most: null }
  if (counted !== undefined) return { ...field, least: counted - tolerance, most: counted + tolerance }
  // An exact 50.8 mm is read off a rule, and judged, as 51.
  const read = field.unit === 'mm' ? ruleMillimetres : (metres: number) => metres
  const { min, max } = lengths[nominal as string]!
  return { ...field, least: read(min) - tolerance, most: read(max) + tolerance }
}

/** Which lengths behind a name nobody has given. */
function lackingIn(id: string, given: GivenLengths, rules: readonly LengthRule[]): NoSheet['lacks'] {
  const rule = rules.find((candidate) => candidate.id === id)!
  if (rule.terms.length === 0) return [{ id, label: rule.label }]
  return rule.terms.flatMap((term) =>
    'of' in term && lengthOf(term.of, given, rules) === null ? lackingIn(term.of, given, rules) : [],
  )
}

/** Cautions of a step with what the person says where life is at stake. */
export function cautionsOf(
  step: Pick<SheetStep, 'cautions' | 'acknowledge'>,
): { id: string; text: string; say: string | null }[] {
  return (step.cautions ?? []).map((id) => ({
    id,
    text: CAUTIONS[id].text,
    say: step.acknowledge === true ? CAUTIONS[id].say : null,
  }))
}
