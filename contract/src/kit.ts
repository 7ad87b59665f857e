import type { Kit, Skill } from '@cold-thread/core/kit'
import { z } from 'zod'
import { version } from './common.ts'

const text = z.string().trim().min(1).max(200)
const skill = z.enum([
  'splicing',
  'testing',
  'cabling',
  'digging',
  'traffic control',
  'confined space',
  'climbing',
]) satisfies z.ZodType<Skill>
const person = z.looseObject({ id: text, name: text, skills: z.array(skill).max(20), crew: text })
const item = z.looseObject({
  id: text,
  kind: text,
  name: z.string().trim().max(200),
  count: z.number().min(0).max(1_000_000),
  place: z.string().trim().max(200),
  fits: z.array(text).max(50),
  fibers: z.number().int().min(1).max(10_000).nullable(),
  wear: z.looseObject({ used: z.number().min(0), due: z.number().positive(), unit: text }).nullable(),
  calibratedUntil: z.iso.date().nullable(),
})
const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'a time of day as HH:mm')
const recurring = {
  id: text,
  zone: text,
  weekdays: z.array(z.number().int().min(1).max(7)).min(1).max(7),
  from: clock,
  to: clock,
}
const hours = z.looseObject({
  windows: z.array(z.looseObject({ ...recurring, name: text, traffic: z.enum(['light', 'busy']) })).max(100),
  shifts: z.array(z.looseObject({ ...recurring, crew: text })).max(200),
  restHours: z.number().min(0).max(72).nullable(),
})

/** People, things and hours: `cold-thread/kit`, version 1. Unknown fields are kept. */
export const kit: z.ZodType<Kit> = z
  .looseObject({
    format: z.literal('cold-thread/kit'),
    version: z.literal(1),
    people: z.array(person).max(500),
    items: z.array(item).max(5000),
    hours,
  })
  .meta({ id: 'Kit' })

/** The kit as kept: empty before anything was entered. */
export const kitRecord = z.object({ kit, version }).meta({ id: 'KitRecord' })
export type KitRecord = { kit: Kit; version: number }
