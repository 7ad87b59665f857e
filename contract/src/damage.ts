import type { Damage } from '@cold-thread/core/sim'
import { z } from 'zod'

const place = z.union([
  z.strictObject({ chainage: z.number() }),
  z.strictObject({ node: z.string() }),
  z.strictObject({ fiber: z.number().min(0) }),
])

/** A fault for the simulator. */
export const damage = z
  .strictObject({
    at: place,
    breaks: z.boolean(),
    loss: z.union([z.number(), z.record(z.string(), z.number())]).optional(),
    reflectance: z.number().max(0).nullable().optional(),
    extent: z.number().min(0).max(5000).optional(),
  })
  .meta({ id: 'Damage' }) satisfies z.ZodType<Damage>

export const damageList = z.array(damage).max(50)
