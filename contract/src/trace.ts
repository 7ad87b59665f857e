import type { TraceFacts } from '@cold-thread/core/report'
import type { CableProof, FiberTotal, Verdict } from '@cold-thread/core/prove'
import type { FiberReading } from '@cold-thread/core/survey'
import { z } from 'zod'
import { cordLength, direction, id, instant, wavelengthNm } from './common.ts'

/** What a trace is in the job: taken before, during or after the repair. */
export const traceRole = z.enum(['baseline', 'present', 'after'])
export type TraceRole = z.infer<typeof traceRole>

const facts = z.object({
  wavelength: z.number(),
  pulseWidth: z.number(),
  spacing: z.number(),
  points: z.number().int(),
  groupIndex: z.number(),
  takenAt: instant,
  averages: z.number(),
  range: z.number(),
  cableId: z.string(),
  fiberId: z.string(),
  locationA: z.string(),
  locationB: z.string(),
}) satisfies z.ZodType<TraceFacts>

/** A stored trace file: an observation, never edited. */
export const traceRecord = z
  .object({
    id,
    linkId: z.string(),
    /** null for a baseline that came with the plant. */
    calloutId: id.nullable(),
    role: traceRole,
    direction,
    launchCord: cordLength.nullable(),
    receiveCord: cordLength.nullable(),
    fileName: z.string(),
    bytes: z.number().int(),
    sha256: z.string(),
    simulated: z.boolean(),
    facts,
    warnings: z.array(z.object({ code: z.string(), message: z.string() })),
    addedAt: instant,
    addedBy: z.string(),
    /** Taken out of the evidence, by whom; the file is kept. */
    withdrawn: z.boolean(),
  })
  .meta({ id: 'Trace' })
export type TraceRecord = z.infer<typeof traceRecord>

/** What goes with an uploaded file; the body is the file itself. */
export const traceUpload = z.object({
  fileName: z.string().min(1).max(255),
  role: traceRole,
  direction,
  launchCord: z.coerce.number().min(0).max(5000).optional(),
  receiveCord: z.coerce.number().min(0).max(5000).optional(),
})
export type TraceUpload = z.infer<typeof traceUpload>

/** A shot of the simulated OTDR. */
export const simulatedShot = z.object({
  role: traceRole,
  direction,
  wavelength: wavelengthNm,
  /** ns */
  pulseWidth: z.number().min(5).max(20_000).optional(),
  /** Averaging time. */
  minutes: z.number().min(0.1).max(30).optional(),
  /** Averages at which a person stopped it: one of the stages that it shows. */
  stopAt: z.number().int().min(1).optional(),
})
export type SimulatedShot = z.infer<typeof simulatedShot>

/** The same shot asked for in an address, to be watched while it averages. */
export const watchedShot = simulatedShot.omit({ stopAt: true }).extend({
  wavelength: z.coerce.number().pipe(simulatedShot.shape.wavelength),
  pulseWidth: z.coerce.number().pipe(simulatedShot.shape.pulseWidth.unwrap()).optional(),
  minutes: z.coerce.number().pipe(simulatedShot.shape.minutes.unwrap()).optional(),
})
export type WatchedShot = Omit<SimulatedShot, 'stopAt'>

/** How a shot of the simulated OTDR comes about: its display at averages that double, in columns of equal width. */
export const shotStages = z
  .object({
    /** m on the display, first and last column */
    from: z.number(),
    to: z.number(),
    stages: z.array(
      z.object({
        averages: z.number(),
        minutes: z.number(),
        /** Lowest and highest level of each column, dB. */
        low: z.array(z.number()),
        high: z.array(z.number()),
        /** Smallest loss that would be seen before the link's far end, dB; null where nothing would. */
        smallestLoss: z.number().nullable(),
      }),
    ),
  })
  .meta({ id: 'ShotStages' })
export type ShotStages = z.infer<typeof shotStages>

/** Whether many fibers were shot with the fault there or after the repair. */
export const SURVEY_ROLES = ['present', 'after'] as const
export type SurveyRole = (typeof SURVEY_ROLES)[number]
export const surveyRole = z.enum(SURVEY_ROLES).default('present')

/** What goes with a file of a cable survey: the fiber is a number in the link's first cable, as seen from that end. */
export const surveyUpload = z.object({
  fileName: z.string().min(1).max(255),
  fiber: z.coerce.number().int().min(1).max(10_000),
  direction,
  role: surveyRole,
  launchCord: z.coerce.number().min(0).max(5000).optional(),
  receiveCord: z.coerce.number().min(0).max(5000).optional(),
})
export type SurveyUpload = z.input<typeof surveyUpload>

const fiberReading = z.object({
  fiber: z.number().int(),
  direction,
  wavelength: z.number(),
  compared: z.boolean(),
  seenTo: z.number(),
  pulseLength: z.number(),
  changes: z.array(
    z.object({
      measured: z.number(),
      sigma: z.number(),
      breaks: z.boolean(),
      loss: z.number().nullable(),
      lossSigma: z.number().nullable(),
      reflects: z.boolean(),
    }),
  ),
}) satisfies z.ZodType<FiberReading>

/** A stored file of a cable survey, and what it says of its fiber. */
export const surveyReading = z
  .object({ traceId: id, fileName: z.string(), addedAt: instant, addedBy: z.string(), reading: fiberReading })
  .meta({ id: 'SurveyReading' })
export type SurveyReading = z.infer<typeof surveyReading>

const fiberGroup = z.object({
  number: z.number().int(),
  word: z.enum(['tube', 'module', 'bundle']),
  color: z.string().nullable(),
  first: z.number().int(),
  last: z.number().int(),
})

const groundPair = z.tuple([z.number(), z.number()])

/** All fibers of a cable together. */
export const cableSurvey = z
  .object({
    cable: z.string(),
    groups: z.array(fiberGroup),
    fibers: z.array(
      z.object({
        fiber: z.number().int(),
        state: z.enum(['sound', 'lossy', 'broken']),
        compared: z.boolean(),
        litFrom: z.number().nullable(),
        litTo: z.number().nullable(),
        damages: z.array(z.object({ ground: z.number(), loss: z.number().nullable() })),
      }),
    ),
    places: z.array(
      z.object({
        fibers: z.array(z.number().int()),
        breaks: z.boolean(),
        loss: z.number().nullable(),
        chainage: z.number(),
        ground: z.number(),
        interval95: groundPair,
        places: z.array(
          z.object({
            node: z.string().optional(),
            cable: z.string().optional(),
            from: z.number(),
            to: z.number(),
            probability: z.number(),
          }),
        ),
        extent: groundPair,
        pattern: z.string(),
        whole: z.array(z.number().int()),
        partly: z.array(z.number().int()),
        meaning: z.string(),
        first: z.string(),
        withoutBaseline: z.number().int(),
      }),
    ),
    missing: z.array(z.number().int()),
  })
  .meta({ id: 'CableSurvey' })
export type CableSurveyRecord = z.infer<typeof cableSurvey>

const holds = z.enum(['yes', 'close', 'no', 'unknown']) satisfies z.ZodType<FiberTotal['holds']>
const figure = z.number().nullable()

const fiberTotal = z.object({
  wavelength: z.number(),
  before: figure,
  after: figure,
  afterSigma: figure,
  change: figure,
  allowed: figure,
  holds,
  worst: z
    .object({ place: z.string(), chainage: z.number(), was: figure, is: z.number(), allowed: z.number(), holds })
    .nullable(),
  standsOff: figure,
}) satisfies z.ZodType<FiberTotal>

const cableProof = z.object({
  cable: z.string(),
  groups: z.array(fiberGroup),
  fibers: z.array(
    z.object({
      fiber: z.number().int(),
      link: z.string().nullable(),
      verdict: z.enum([
        'restored',
        'restored-with-remarks',
        'not-restored',
        'cannot-tell',
      ]) satisfies z.ZodType<Verdict>,
      reasons: z.array(z.string()),
      next: z.array(z.string()),
      totals: z.array(fiberTotal),
    }),
  ),
  missing: z.array(z.number().int()),
}) satisfies z.ZodType<CableProof>

/** Every fiber of a cable after the repair, as far as the server has judged them. */
export const cableProofRecord = z
  .object({ done: z.number().int(), of: z.number().int(), proof: cableProof })
  .meta({ id: 'CableProof' })
export type CableProofRecord = z.infer<typeof cableProofRecord>
