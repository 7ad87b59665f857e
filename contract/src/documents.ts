import type { GradeDocument } from '@cold-thread/core/endFace'
import type { AdviceDocument } from '@cold-thread/core/join'
import type { AnalyzeDocument, CompareDocument, LocateDocument } from '@cold-thread/core/report'
import type { Proof, ProofCause } from '@cold-thread/core/prove'
import { z } from 'zod'
import { FAULT_CAUSES } from './common.ts'

const why = z.enum(['inside-dead-zone', 'below-noise', 'overlap', 'no-two-way'])
const bound = z.enum(['min', 'max'])
const warning = z.object({ code: z.string(), message: z.string() })
const optionalFigure = z.number().nullable()

/** Printed by `analyze`: m, ns, nm, dB, dB/km. */
export const analyzeDocument = z
  .strictObject({
    file: z.string(),
    trace: z.strictObject({
      wavelength: z.number(),
      pulseWidth: z.number(),
      spacing: z.number(),
      points: z.number().int(),
      groupIndex: z.number(),
      takenAt: z.iso.datetime(),
      averages: z.number(),
      range: z.number(),
      cableId: z.string(),
      fiberId: z.string(),
      locationA: z.string(),
      locationB: z.string(),
    }),
    warnings: z.array(warning),
    events: z.array(
      z.strictObject({
        distance: z.number(),
        distanceSigma: z.number(),
        kind: z.enum(['start', 'reflective', 'step', 'gain', 'end', 'ghost']),
        loss: optionalFigure,
        lossSigma: optionalFigure,
        reflectance: optionalFigure,
        saturated: z.boolean(),
        why: z.strictObject({ loss: why.optional(), reflectance: why.optional() }).optional(),
        bound: z.strictObject({ loss: bound.optional(), reflectance: bound.optional() }).optional(),
      }),
    ),
    sections: z.array(
      z.strictObject({ from: z.number(), to: z.number(), attenuation: z.number(), attenuationSigma: z.number() }),
    ),
    length: optionalFigure,
    loss: optionalFigure,
    orl: optionalFigure,
    noiseFloor: optionalFigure,
    why: z.strictObject({ length: why.optional(), loss: why.optional(), orl: why.optional() }).optional(),
    bound: z.strictObject({ orl: bound.optional() }).optional(),
  })
  .meta({ id: 'AnalyzeDocument' }) satisfies z.ZodType<AnalyzeDocument>

const zones = ['A', 'B', 'C', 'D'] as const

/** Printed by `grade` of one picture: µm, pixels where it says so. */
export const gradeDocument = z
  .strictObject({
    file: z.string(),
    verdict: z.enum(['pass', 'close', 'fail', 'no-rule']),
    reasons: z.array(z.string()),
    /** Pixels of the file. */
    fiber: z.strictObject({ x: z.number(), y: z.number(), radius: z.number() }),
    scale: z.number(),
    scaleSigma: z.number(),
    blur: z.number(),
    zonesInPicture: z.partialRecord(z.enum(zones), z.number()),
    findings: z.array(
      z.strictObject({
        kind: z.enum(['scratch', 'defect']),
        zone: z.enum(zones).nullable(),
        size: z.number(),
        x: z.number(),
        y: z.number(),
        mark: z.enum(['fine', 'close', 'over']).nullable(),
      }),
    ),
  })
  .meta({ id: 'GradeDocument' }) satisfies z.ZodType<GradeDocument>

/** Printed by `advise` after each splice of a session. */
export const adviceDocument = z
  .strictObject({
    after: z.int(),
    advice: z
      .strictObject({
        causes: z.array(z.enum(['grooves', 'blade', 'electrodes', 'mode fields', 'hand'])).readonly(),
        since: z.int(),
        because: z.array(z.string()),
      })
      .nullable(),
  })
  .meta({ id: 'AdviceDocument' }) satisfies z.ZodType<AdviceDocument>

/** A file that `analyze` refused. */
export const refusedDocument = z
  .strictObject({
    file: z.string(),
    error: z.strictObject({
      code: z.string(),
      message: z.string(),
      block: z.string().nullable(),
      byte: z.number().int().nullable(),
    }),
  })
  .meta({ id: 'RefusedDocument' })

const change = z.strictObject({
  distance: z.number(),
  distanceSigma: z.number(),
  kind: z.enum(['new', 'grown', 'shrunk', 'gone', 'moved', 'break', 'attenuation']),
  lossBefore: optionalFigure,
  lossAfter: optionalFigure,
  lossDelta: optionalFigure,
  lossDeltaSigma: optionalFigure,
  reflectanceBefore: optionalFigure,
  reflectanceAfter: optionalFigure,
})

/** Printed by `compare`: distances on the baseline's scale. */
export const compareDocument = z
  .strictObject({
    alignment: z.strictObject({ offset: z.number(), offsetSigma: z.number() }),
    changes: z.array(change),
    detectionLimit: z.array(z.strictObject({ from: z.number(), to: z.number(), loss: z.number() })),
    unchanged: z.number().int(),
    verdict: z.enum(['same', 'changed', 'broken']),
  })
  .meta({ id: 'CompareDocument' }) satisfies z.ZodType<CompareDocument>

const place = z.strictObject({
  node: z.string().optional(),
  cable: z.string().optional(),
  from: z.number(),
  to: z.number(),
  probability: z.number(),
})

/** Printed by `locate`. The expected gain of a test is in bits. */
export const locateDocument = z
  .strictObject({
    faults: z.array(
      z.strictObject({
        chainage: z.number(),
        interval95: z.tuple([z.number(), z.number()]),
        cable: z.string(),
        betweenNodes: z.tuple([z.string(), z.string()]),
        nearest: z.strictObject({ node: z.string(), offset: z.number() }),
        places: z.array(place),
        goodEnoughToDig: z.boolean(),
        causes: z.array(
          z.strictObject({
            cause: z.enum([...FAULT_CAUSES, 'cannot-tell']),
            probability: z.number(),
            because: z.array(z.string()),
          }),
        ),
        loss: z.record(z.string(), optionalFigure),
        opticalDistance: z.strictObject({ ab: optionalFigure, ba: optionalFigure }),
      }),
    ),
    ghosts: z.array(z.strictObject({ trace: z.string(), distance: z.number(), echoOf: z.array(z.string()) })),
    nextTests: z.array(
      z.strictObject({
        test: z.string(),
        minutes: z.number(),
        expectedGain: z.number(),
        precondition: z.string(),
        outageRisk: z.boolean(),
        why: z.string(),
      }),
    ),
    calibration: z.array(z.strictObject({ cable: z.string(), factor: z.number(), factorSigma: z.number() })),
    warnings: z.array(warning),
  })
  .meta({ id: 'LocateDocument' }) satisfies z.ZodType<LocateDocument>

const causes = [
  'poor-joint',
  'wrong-fiber',
  'fault-left',
  'second-fault',
  'closing-bend',
  'connector-worse',
] as const satisfies readonly ProofCause['cause'][]

/** Printed by `prove` and stored with a sign-off. */
export const proveDocument = z
  .strictObject({
    verdict: z.enum(['restored', 'restored-with-remarks', 'not-restored', 'cannot-tell']),
    added: optionalFigure,
    rules: z.strictObject({ name: z.string(), version: z.number().int() }),
    events: z.array(
      z.strictObject({
        wavelength: z.number(),
        chainage: z.number(),
        node: z.string().nullable(),
        place: z.string(),
        kind: z.enum(['splice', 'mechanical', 'connector', 'event']),
        joints: z.number().int().min(1),
        status: z.enum(['unchanged', 'changed', 'new', 'gone', 'open']),
        lossBefore: optionalFigure,
        lossAfter: optionalFigure,
        lossTwoWay: optionalFigure,
        lossSigma: optionalFigure,
        change: optionalFigure,
        changeSigma: optionalFigure,
        reflectanceBefore: optionalFigure,
        reflectanceAfter: optionalFigure,
        limit: z.number(),
        limitSource: z.string(),
        holds: z.enum(['yes', 'close', 'no', 'unknown']),
      }),
    ),
    total: z.record(
      z.string(),
      z.strictObject({
        before: optionalFigure,
        after: optionalFigure,
        afterSigma: optionalFigure,
        allowed: optionalFigure,
        allowedSigma: optionalFigure.optional(),
        budget: optionalFigure.optional(),
        without: z.array(z.string()).optional(),
        orlBefore: optionalFigure.optional(),
        orlAfter: optionalFigure.optional(),
      }),
    ),
    causes: z.array(
      z.strictObject({
        cause: z.enum(causes),
        place: z.string(),
        node: z.string().nullable(),
        chainage: z.number(),
        excess: optionalFigure,
        next: z.string(),
        minutes: z.number(),
        refutes: z.boolean(),
        reason: z.string(),
      }),
    ),
    reasons: z.array(z.string()),
    next: z.array(z.string()),
    warnings: z.array(warning),
  })
  .meta({ id: 'ProveDocument' }) satisfies z.ZodType<Proof>
