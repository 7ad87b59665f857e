import type {
  LossBaseline,
  ReceivedPower,
  ReferenceMethod,
  MadeCheck,
  SourceCheck,
  TrunkReference,
  TrunkTest,
} from '@cold-thread/core/prove'
import { z } from 'zod'
import { id, instant } from './common.ts'

const dBm = z.number().min(-90).max(35)
const name = z.string().max(200)
const METHODS = ['one-cord', 'two-cord', 'three-cord'] as const satisfies readonly ReferenceMethod[]

/** A reference that was set for a loss test: its id is the reference's. */
export const lossReferenceEntry = z.strictObject({
  kind: z.literal('loss-reference'),
  method: z.enum(METHODS),
  /** nm */
  wavelength: z.number().int().min(600).max(1700),
  level: dBm,
  /** Kit ids or names; null where nobody said. */
  source: name.nullable(),
  meter: name.nullable(),
  cords: name,
  referenceGrade: z.boolean(),
  /** Null for single-mode. */
  encircledFlux: z.boolean().nullable(),
  /** For how long the source had been on, min; null where nobody said. */
  sourceOn: z.number().min(0).max(100_000).nullable().optional(),
})
export type LossReferenceEntry = z.infer<typeof lossReferenceEntry>

/** Source, cord and meter checked at the start of a day's testing. */
const sourceCheck = z.strictObject({
  source: name.nullable(),
  meter: name.nullable(),
  cord: name,
  wavelength: z.number().int().min(600).max(1700),
  kind: z.enum(['laser', 'LED']),
  /** Meters show “low” for no light. */
  level: z.union([dBm, z.literal('low')]),
  /** Loss of adapter and third cord, dB; null while it was not read. */
  third: z.number().min(-5).max(60).nullable(),
  thirdCord: name.optional(),
  sleeve: name.optional(),
}) satisfies z.ZodType<SourceCheck>
export const sourceCheckEntry = z.strictObject({ kind: z.literal('source-check'), check: sourceCheck })

/** A check that was made in another callout. */
export const madeCheck = z
  .object({ ...sourceCheck.shape, id, by: z.string(), at: instant })
  .meta({ id: 'MadeCheck' }) satisfies z.ZodType<MadeCheck>

/** A later look at a reference: the same cords, the same level if nothing moved. */
export const referenceLookEntry = z.strictObject({
  kind: z.literal('reference-look'),
  referenceId: id,
  level: dBm,
})

/** What a receiver saw before the fault and sees after the repair. */
export const receivedPowerEntry = z.strictObject({
  kind: z.literal('received-power'),
  power: z.strictObject({
    link: z.string().min(1).max(200),
    way: z.enum(['ab', 'ba']),
    wavelength: z.number().int().min(600).max(1700),
    before: dBm,
    after: dBm,
  }) satisfies z.ZodType<ReceivedPower>,
})

/** What a multi-fiber tester saw through its reference cord alone, set at this end or copied from the other one's. */
export const trunkReferenceEntry = z.strictObject({
  kind: z.literal('trunk-reference'),
  reference: z.strictObject({
    end: z.enum(['first', 'second']),
    fiber: z.enum(['single-mode', 'multimode']),
    wavelength: z.number().int().min(600).max(1700),
    copied: z.boolean(),
    channels: z
      .array(z.strictObject({ level: dBm.nullable(), returnLoss: z.number().min(0).max(90).nullable() }))
      .min(2)
      .max(24),
  }) satisfies z.ZodType<TrunkReference>,
})

/** A multi-fiber trunk read channel by channel from one of its ends. */
export const trunkTestEntry = z.strictObject({
  kind: z.literal('trunk-test'),
  test: z.strictObject({
    trunk: z.string().trim().min(1).max(200),
    end: z.enum(['first', 'second']),
    fiber: z.enum(['single-mode', 'multimode']),
    wavelength: z.number().int().min(600).max(1700),
    polarity: z.enum(['A', 'B', 'C']),
    referenceId: id.optional(),
    channels: z
      .array(
        z.strictObject({
          at: z.number().int().min(0).max(24).nullable(),
          loss: z.number().min(-5).max(60).nullable(),
          returnLoss: z.number().min(0).max(90).nullable(),
        }),
      )
      .min(2)
      .max(24),
  }) satisfies z.ZodType<TrunkTest>,
})

/** Light sent into a link's fiber, and the link at whose port it came out; null where it came out nowhere. */
export const continuityEntry = z.object({
  kind: z.literal('continuity'),
  link: z.string().min(1).max(200),
  way: z.enum(['ab', 'ba']),
  arrivesAt: z.string().min(1).max(200).nullable(),
})

/** A loss with which an earlier callout of a link was closed. */
export const lossBaseline = z
  .object({
    link: z.string(),
    way: z.enum(['ab', 'ba']),
    wavelength: z.number(),
    method: z.enum(METHODS),
    loss: z.number(),
    sigma: z.number(),
    at: instant,
  })
  .meta({ id: 'LossBaseline' }) satisfies z.ZodType<LossBaseline>

/** A cable or cord by itself, read single-ended with its first end at the launch cord, then turned round. */
export const turnedReadingEntry = z.strictObject({
  kind: z.literal('turned-reading'),
  referenceId: id,
  what: z.string().trim().min(1).max(200),
  first: dBm,
  turned: dBm,
})
export type TurnedReadingEntry = z.infer<typeof turnedReadingEntry>

/** A level read at the far end of a link. */
export const lossReadingEntry = z.strictObject({
  kind: z.literal('loss-reading'),
  referenceId: id,
  link: z.string().min(1).max(200),
  way: z.enum(['ab', 'ba']),
  level: dBm,
})
export type LossReadingEntry = z.infer<typeof lossReadingEntry>
