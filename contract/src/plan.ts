import type { PlanEdit, Scenario, SiteFacts, Weights } from '@cold-thread/core/plan'
import { z } from 'zod'
import { id, instant, version } from './common.ts'
import { stepKind } from './observation.ts'

const minutes = z.number().min(0).max(100_000)
const metres = z.number().min(0).max(10_000)
const weight = z.number().min(0).max(10)

const site = z.strictObject({
  toBench: metres,
  preparation: metres,
  lost: metres,
  section: metres,
  traffic: z.boolean(),
  belowGround: z.boolean(),
}) satisfies z.ZodType<SiteFacts>

const scenario = z.strictObject({
  crews: z.union([z.literal(1), z.literal(2)]),
  splicers: z.number().int().min(1).max(12),
  ribbon: z.boolean(),
  haulFromBothEnds: z.boolean(),
}) satisfies z.ZodType<Scenario>

const weights = z.strictObject({
  firstCircuit: weight,
  allCircuits: weight,
  cost: weight,
  margin: weight,
  permanence: weight,
  intervention: weight,
}) satisfies z.ZodType<Weights>

const line = z.string().min(1).max(200)
const edit = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('before'), line, other: line }),
  z.strictObject({ kind: z.literal('pin'), line, minutes }),
]) satisfies z.ZodType<PlanEdit>

/** What a plan is made from; from it and the callout's evidence the order of work follows. */
export const planContent = z.strictObject({
  cable: z.string().min(1),
  chainage: z.number(),
  /** The repair, or a temporary one and the permanent one after it. */
  optionIds: z.array(z.string().min(1).max(60)).min(1).max(2),
  hit: z.array(z.number().int().min(1)).max(10_000).nullable(),
  site,
  scenario,
  weights,
  edits: z.array(edit).max(500),
  /** Minutes learned from steps done are used in place of the rule book's. */
  learnedRates: z.boolean(),
  window: z.strictObject({ name: z.string().max(200), start: instant, end: instant }).nullable(),
  rules: z.strictObject({ name: z.string(), version: z.number().int() }),
  /** What the plan said when it was saved. */
  summary: z.strictObject({
    name: z.string().max(400),
    finish50: minutes,
    finish90: minutes,
    firstCircuit: z.strictObject({ name: z.string(), p50: minutes, p90: minutes }).nullable(),
    /** The smallest margin of a link after the repair, dB. */
    margin: z.number().nullable(),
  }),
})
export type PlanContent = z.infer<typeof planContent>

/** A new version of the plan, made on the one that was read (0: none yet). */
export const newPlan = z.object({ content: planContent, version })
export type NewPlan = z.infer<typeof newPlan>

/** A lead's word that the plan is to be carried out. */
export const newApproval = z.object({ remark: z.string().trim().max(1000) })
export type NewApproval = z.infer<typeof newApproval>

export const plan = z
  .object({
    id,
    calloutId: id,
    version,
    content: planContent,
    at: instant,
    by: z.string(),
    approval: z.object({ by: z.string(), at: instant, remark: z.string() }).nullable(),
  })
  .meta({ id: 'Plan' })
export type Plan = z.infer<typeof plan>

/** Minutes of a step as it was done, with what the rule book has for the same; over all callouts. */
export const stepTime = z.object({ step: stepKind, minutes, byRules: minutes }).meta({ id: 'StepTime' })
export type StepTime = z.infer<typeof stepTime>
