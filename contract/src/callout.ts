import { z } from 'zod'
import { faultCause, id, instant, version } from './common.ts'

export const calloutState = z.enum(['open', 'proving', 'closed'])
export type CalloutState = z.infer<typeof calloutState>

const title = z.string().trim().min(3).max(200)
const alarm = z.string().trim().max(2000)

export const callout = z
  .object({
    id,
    linkId: z.string(),
    title: z.string(),
    alarm: z.string(),
    state: calloutState,
    openedAt: instant,
    openedBy: z.string(),
    assignedTo: z.string().nullable(),
    closedAt: instant.nullable(),
    /** The link carries a simulated fault: its traces may come from the simulated OTDR. */
    simulated: z.boolean(),
    /** Traces of the fault are there. */
    shot: z.boolean(),
    /** How far the newest version of the plan is; null without one. */
    plan: z.enum(['saved', 'approved']).nullable(),
    /** What it was, as the lead who closed it says; null while it is open or where nobody knows. */
    cause: faultCause.nullable(),
    version,
  })
  .meta({ id: 'Callout' })
export type Callout = z.infer<typeof callout>

/** What a new callout is made from. */
export const newCallout = z.object({
  linkId: z.string().min(1),
  title,
  alarm,
  /** Practice: puts a simulated fault into the link, drawn from this seed. */
  practiceSeed: z.number().int().nullable(),
})
export type NewCallout = z.infer<typeof newCallout>

/** A change to a callout, made on the version that was read. */
export const calloutEdit = z.object({
  version,
  title: title.optional(),
  alarm: alarm.optional(),
  assignedTo: z.string().nullable().optional(),
})
export type CalloutEdit = z.infer<typeof calloutEdit>
