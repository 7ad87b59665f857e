import type {
  ClosureModel,
  ClosureState,
  Condition,
  Length,
  PressureTest,
  Procedure,
  ProcedureStep,
  RunSheet,
  SheetFacts,
  SheetStep,
  StepField,
  StepOutcome,
} from '@cold-thread/core/open'
import { z } from 'zod'
import { id, instant, version } from './common.ts'

const short = z.string().trim().min(1).max(200)
const words = z.string().trim().max(1000)
const metres = z.number().min(0).max(100)
const span = z
  .strictObject({ min: metres, max: metres })
  .refine(({ min, max }) => min <= max, 'the least is not above the most')

const work = z.enum(['re-enter', 'bring-in', 'prepare', 'connector', 'panel'])
const closureKind = z.enum(['gel-dome', 'wall-box', 'panel-module', 'live-panel'])
const entry = z.enum(['end', 'mid-span'])
const ground = z.enum(['indoor', 'dig', 'aerial', 'structure', 'chamber'])
const connector = z.enum(['soft-coated', 'tube-900', 'field-lc', 'epoxy', 'anaerobic', 'hot-melt'])
const ferrule = z.enum(['SC', 'LC'])
const sheathEnd = z.enum(['attachment', 'basket'])
const groundCable = z.enum(['before-wedge', 'after-wedge'])
const pigtails = z.enum(['single', 'ribbon'])
const part = z.enum(['site', 'identify', 'open', 'prepare', 'enter', 'joints', 'close'])
const exposure = z.enum(['closure open', 'fibers bare', 'cable cut', 'pressure in the closure', 'trays out'])
const caution = z.enum([
  'blades',
  'glass',
  'light',
  'dark',
  'traffic',
  'identity',
  'voltage',
  'power',
  'pressure',
  'road',
  'dig',
  'confined',
  'height',
  'arc',
  'hot',
  'epoxy',
])

const condition = z.strictObject({
  work: z.array(work).min(1).optional(),
  construction: z.array(short).min(1).optional(),
  closure: z.array(closureKind).min(1).optional(),
  closureOtherThan: z.array(closureKind).min(1).optional(),
  entry: z.array(entry).min(1).optional(),
  ground: z.array(ground).min(1).optional(),
  connector: z.array(connector).min(1).optional(),
  ferrule: z.array(ferrule).min(1).optional(),
  armored: z.boolean().optional(),
  grounded: z.boolean().optional(),
  doubleJacket: z.boolean().optional(),
  strengthMember: z.boolean().optional(),
  metallic: z.boolean().optional(),
  inService: z.boolean().optional(),
  live: z.boolean().optional(),
  liveNeighbours: z.boolean().optional(),
  thin: z.boolean().optional(),
  moreFibersThan: z.number().int().min(0).optional(),
  connectors: z.enum(['one', 'several']).optional(),
  pigtails: pigtails.optional(),
  sheathEnd: sheathEnd.optional(),
  groundCable: groundCable.optional(),
}) satisfies z.ZodType<Condition>

const unit = z.enum(['mm', 'm', '°C', 'kPa', 's', 'min', 'dBm', ''])
const fieldKind = z.enum(['number', 'count', 'text'])
const lock = z.strictObject({ step: short, why: z.string().trim().max(300) })
const ofStep = {
  do: z.string().trim().min(1).max(600),
  why: z.string().trim().max(300).optional(),
  cautions: z.array(caution).max(6).optional(),
  acknowledge: z.boolean().optional(),
  tools: z.array(short).max(12).optional(),
  parts: z.array(short).max(12).optional(),
  photo: z.boolean().optional(),
  hold: z.string().trim().max(300).optional(),
  locks: z.array(lock).max(20).optional(),
  closureState: z.enum(['found', 'left']).optional(),
  timer: z.union([z.number().positive().max(10_000), z.literal('by its sheet')]).optional(),
  watch: z.boolean().optional(),
  test: z.enum(['pressure', 'look']).optional(),
  wastes: short.optional(),
  exposes: z.array(exposure).max(5).optional(),
  covers: z.array(exposure).max(5).optional(),
}
/** Names of an operator's own: letters, digits and hyphens. */
const ownName = z.string().regex(/^[a-z0-9][a-z0-9-]{0,59}$/, 'small letters, digits and hyphens, 60 at most')

const stepField = z.strictObject({
  id: ownName,
  label: short,
  unit,
  kind: fieldKind,
  nominal: z.union([z.number(), short]).optional(),
  tolerance: z.number().min(0).optional(),
}) satisfies z.ZodType<StepField>

const procedureStep = z.strictObject({
  id: ownName,
  ...ofStep,
  fields: z.array(stepField).max(10).optional(),
  when: condition.optional(),
}) satisfies z.ZodType<ProcedureStep>

/** A procedure as an operator writes it: the whole of it is checked against the others when it is saved. */
export const procedure: z.ZodType<Procedure> = z.strictObject({
  id: ownName,
  version: z.number().int().min(1),
  name: short,
  part,
  rank: z.number().int().min(0).max(100),
  for: condition,
  source: short,
  steps: z.array(procedureStep).min(1).max(100),
})

const port = z.strictObject({
  port: z.number().int().min(1).max(48),
  habit: z.enum(['through', 'branch', 'drop']),
  least: metres.nullable(),
  most: metres.nullable(),
})

const pascal = z.number().min(0).max(1_000_000)

/** A closure's sheet, as the operator keeps it. */
export const closureModel = z.strictObject({
  model: short,
  kind: closureKind,
  ports: z.array(port).max(48),
  bushingBelow: metres.nullable(),
  trays: z
    .strictObject({
      count: z.number().int().min(1).max(100),
      splices: z.number().int().min(1).max(1000),
      groups: z.number().int().min(1).max(100),
    })
    .nullable(),
  lengths: z.record(ownName, span),
  storingRadius: metres.nullable(),
  pressure: z.strictObject({ test: pascal, minutes: z.number().min(1).max(1440), mayLose: pascal }).nullable(),
  source: short,
}) satisfies z.ZodType<ClosureModel>

/** What an operator keeps beside what ships: its closures' sheets, its own procedures. All versions are kept. */
export const openBook = z.strictObject({
  closures: z.array(closureModel).max(500),
  procedures: z.array(procedure).max(200),
})
export type OpenBook = z.infer<typeof openBook>

export const openBookRecord = z
  .object({ book: openBook, version, savedAt: instant.nullable(), savedBy: z.string().nullable() })
  .meta({ id: 'OpenBookRecord' })
export type OpenBookRecord = z.infer<typeof openBookRecord>

export const openBookWrite = z.object({ book: openBook, version })

const facts = z.strictObject({
  work,
  node: z.string().max(200).nullable(),
  place: short,
  cable: z.string().max(200).nullable(),
  construction: short,
  fiberCount: z.number().int().min(1).max(10_000),
  groups: z.number().int().min(1).max(1000),
  groupFibers: z.number().int().min(1).max(10_000).nullable(),
  groupWord: short,
  armored: z.boolean(),
  grounded: z.boolean(),
  doubleJacket: z.boolean(),
  strengthMember: z.boolean(),
  metallic: z.boolean(),
  diameter: z.number().positive().max(1).nullable(),
  entry,
  closure: closureKind.nullable(),
  closureModel: z.string().max(200).nullable(),
  port: z.number().int().min(1).max(48).nullable(),
  ports: z.number().int().min(0).max(48),
  bushingBelow: z.number().min(0).max(1),
  cables: z.number().int().min(0).max(48),
  inService: z.boolean(),
  live: z.boolean(),
  liveNeighbours: z.boolean(),
  neighbours: z.array(short).max(48),
  ground,
  schools: z.strictObject({ sheathEnd, groundCable }),
  connector: connector.nullable(),
  ferrule: ferrule.nullable(),
  connectors: z.number().int().min(1).max(10_000),
  pigtails,
}) satisfies z.ZodType<SheetFacts>

const length = z.strictObject({
  min: metres,
  max: metres,
  label: short,
  source: short,
}) satisfies z.ZodType<Length>

const sheetStep = z.strictObject({
  id: short,
  part,
  ...ofStep,
  fields: z
    .array(
      z.strictObject({
        id: short,
        label: short,
        unit,
        kind: fieldKind,
        least: z.number().nullable(),
        most: z.number().nullable(),
      }),
    )
    .max(10),
}) satisfies z.ZodType<SheetStep>

/** A sheet as it was begun: it keeps its own steps, whatever becomes of the book. */
const runSheet: z.ZodType<RunSheet> = z.strictObject({
  name: short,
  facts,
  steps: z.array(sheetStep).min(1).max(200),
  lengths: z.record(z.string().max(60), length),
  procedures: z.array(z.strictObject({ id: short, version: z.number().int(), name: short, source: short })).max(50),
  closure: closureModel.pick({ model: true, kind: true, pressure: true }).nullable(),
})

const kelvinRange = z.number().min(-60).max(80)
const pressureTest = z.strictObject({
  startGauge: z.number().min(-100_000).max(1_000_000),
  startTemperature: kelvinRange,
  endGauge: z.number().min(-100_000).max(1_000_000),
  endTemperature: kelvinRange,
  minutes: z.number().min(0).max(1440),
  ambient: z.number().min(50_000).max(120_000),
}) satisfies z.ZodType<PressureTest>

const stepOutcome = z.object({
  step: short,
  outcome: z.enum(['done', 'failed', 'skipped']),
  values: z.record(z.string().max(80), z.union([z.number(), z.string().max(500)])),
  said: z.array(z.string().max(40)).max(10),
  reason: words,
  photos: z.array(id).max(10),
  watch: z.strictObject({ added: z.number(), sigma: z.number().min(0), flagged: z.boolean() }).nullable(),
  pressure: pressureTest.nullable(),
  minutes: z.number().min(0).max(10_000).nullable(),
}) satisfies z.ZodType<StepOutcome>

const closureState: z.ZodType<ClosureState> = z.strictObject({
  ports: z
    .array(
      z.strictObject({
        port: z.number().int().min(1).max(48),
        cables: z.array(short).max(4),
        plug: z.boolean(),
      }),
    )
    .max(48),
  trays: z.array(z.strictObject({ tray: z.number().int().min(1).max(100), units: z.array(short).max(500) })).max(100),
  remark: words,
})

/** A run sheet begun: its id is the sheet's. */
export const sheetEntry = z.object({ kind: z.literal('sheet'), sheet: runSheet })
export type SheetEntry = z.infer<typeof sheetEntry>

/** A step of a sheet done, tried in vain, or left out. */
export const sheetStepEntry = stepOutcome.extend({ kind: z.literal('sheet-step'), sheetId: id })
export type SheetStepEntry = z.infer<typeof sheetStepEntry>

/** A lead's word that a held step may be done. */
export const sheetReleaseEntry = z.object({
  kind: z.literal('sheet-release'),
  sheetId: id,
  step: short,
  remark: words,
})

/** A shift handed over: to whom, with what was said; what was open then follows from the log. */
export const handOverEntry = z.object({
  kind: z.literal('hand-over'),
  sheetId: id,
  to: short,
  remark: words,
})
export type HandOverEntry = z.infer<typeof handOverEntry>

/** A closure as it was found, is meant to be, or was left. */
export const closureStateEntry = z.object({
  kind: z.literal('closure-state'),
  node: short,
  when: z.enum(['found', 'planned', 'left']),
  state: closureState,
})
export type ClosureStateEntry = z.infer<typeof closureStateEntry>

/** What was seen and done at a closure, over all callouts, newest first. */
export const closureHistory = z
  .array(
    z.object({
      calloutId: id,
      title: z.string(),
      at: instant,
      by: z.string(),
      what: z.discriminatedUnion('kind', [
        closureStateEntry,
        z.object({
          kind: z.literal('sheet'),
          name: z.string(),
          done: z.number().int(),
          all: z.number().int(),
          /** Where the record turned out wrong. */
          differences: z.array(z.string()),
        }),
      ]),
    }),
  )
  .meta({ id: 'ClosureHistory' })
export type ClosureHistory = z.infer<typeof closureHistory>
