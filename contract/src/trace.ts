import type { TraceFacts } from '@cold-thread/core/report'
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
})
export type SimulatedShot = z.infer<typeof simulatedShot>
