import { expect, it } from 'vitest'
import { INCH } from '../../units/inches.ts'
import { LENGTH_RULES, lengthOf } from '../drawings/lengths.ts'
import { FACT_NAMES } from '../sheet/compile.ts'
import { PROCEDURES } from './index.ts'
import type { Procedure, ProcedureStep } from './procedure.ts'
import { lengthsIn, NAMED, spanInWords } from './words.ts'

/** A figure that a step names, in words, with where it comes from. */
interface Figure {
  step: string
  figure: string
  source: string
}

/** Figures as they stand in a step's words: `12 µm`, `10 to 20 s`, `90 %`. */
const IN_WORDS = /\d+:\d+|\d+(?:[.,]\d+)?(?: to \d+(?:[.,]\d+)?)?(?: (?:mm|µm|m|s|min|%|×|°C|kPa))?/g

/** Counts that are compared with what a record has. */
const COUNTED = new Set(['fibers', 'groups', 'group-fibers', 'cables', 'ports', 'bushing-below'])

function figuresOf({ source, for: where }: Procedure, step: ProcedureStep): Figure[] {
  const at = (figure: string, from = source) => ({ step: step.id, figure, source: from })
  const words = `${step.do} ${step.why ?? ''}`
  const nominal = (step.fields ?? []).flatMap((field) => (field.nominal === undefined ? [] : [field]))
  const names = new Set([
    ...lengthsIn(words),
    ...nominal.flatMap((field) => (typeof field.nominal === 'string' ? [field.nominal] : [])),
  ])
  return [
    ...(words.replace(NAMED, '').match(IN_WORDS) ?? []).map((figure) => at(figure)),
    ...nominal.flatMap(({ label, nominal: middle, tolerance = 0, unit }) =>
      typeof middle === 'number'
        ? [at(`${label}: ${[...new Set([middle - tolerance, middle + tolerance])].join(' to ')} ${unit}`.trim())]
        : [],
    ),
    ...(typeof step.timer === 'number' ? [at(`timer of ${Math.round(step.timer * 60)} s`)] : []),
    ...[...names].flatMap((name) => {
      if (COUNTED.has(name)) return [at(name, 'the record of cable or closure')]
      return isFact(name) ? [] : lengthFigures(at, name, where.construction)
    }),
  ]
}

const isFact = (name: string) => (FACT_NAMES as readonly string[]).includes(name)

/** A length as its rules give it for these constructions, one line for each rule of that name. */
function lengthFigures(
  at: (figure: string, from: string) => Figure,
  name: string,
  constructions: readonly string[] | undefined,
): Figure[] {
  const rules = LENGTH_RULES.filter(
    ({ when }) => !when?.construction || when.construction.some((one) => constructions?.includes(one)),
  )
  const own = rules.filter(({ id }) => id === name)
  // The first rule of a name that holds for a construction is the one.
  const said = own.some(({ when }) => when?.construction) ? own.slice(0, 1) : own
  return said.map((rule) => {
    const length = lengthOf(name, {}, [rule, ...rules])
    return length === null
      ? at(rule.label, 'the closure’s own table, or the person')
      : at(`${rule.label} ${spanInWords(length, 'metric and inches')}`, rule.source)
  })
}

it('every figure of every sheet has its source; docs/figures.md lists them', async () => {
  const lines = [
    '# Figures of the sheets',
    '',
    'Made from the procedures by their test: what a step says, and where it comes from.',
  ]
  let count = 0
  for (const procedure of PROCEDURES) {
    const figures = procedure.steps.flatMap((step) => figuresOf(procedure, step))
    count += figures.length
    for (const { step, figure, source } of figures)
      expect(source, `${procedure.id}.${step}: ${figure}`).toMatch(/practice|TIA|IEC|ITU|record|table/)
    if (figures.length === 0) continue
    lines.push('', `## ${procedure.name}`, '', '| step | figure | source |', '| --- | --- | --- |')
    for (const { step, figure, source } of figures) lines.push(`| ${step} | ${figure} | ${source} |`)
  }
  expect(count).toBeGreaterThan(60)
  await expect(`${lines.join('\n')}\n`).toMatchFileSnapshot('../../../../docs/figures.md')
})

// What the trade gives in inches (common practice), by the exact inch of the agreement of 1959.
it.each<[string, number, number]>([
  ['strength-member', 2, 2.25],
  ['allowance', 3, 5],
  ['ring-cut', 3, 5],
  ['bundle-end', 3, 5],
  ['inner-jacket', 1, 1.5],
  ['ribbon-out', 1.5, 1.5],
  ['active-jacket', 6, 6],
  ['active-pull', 3, 3],
  ['soft-jacket', 2, 2],
  ['tube-off', 2, 2],
])('%s is kept exact, %f to %f in', (name, least, most) => {
  const { min, max } = lengthOf(name, {}, LENGTH_RULES)!
  expect(min / INCH).toBeCloseTo(least, 12)
  expect(max / INCH).toBeCloseTo(most, 12)
})
