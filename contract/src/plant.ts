import type { CableCorrection, PlantBundle } from '@cold-thread/core/plant'
import { z } from 'zod'
import { direction, id, instant, version } from './common.ts'

const text = z.string().min(1).max(200)
const metres = z.number().min(0).max(10_000_000)

const landmark = z.looseObject({ name: text, chainage: metres })
const geometry = z.looseObject({
  type: z.literal('LineString'),
  coordinates: z.array(z.array(z.number()).min(2).max(3)).min(2).max(200_000),
})
const route = z.looseObject({
  id: text,
  name: text,
  length: metres,
  landmarks: z.array(landmark).max(20_000),
  geometry: geometry.optional(),
})
const cable = z.looseObject({
  id: text,
  routeId: text,
  from: metres,
  to: metres,
  sheathFactor: z.number(),
  helixFactor: z.number(),
  construction: text,
  fiberCount: z.number().int().min(1).max(10_000),
  tubeSize: z.number().int().min(1).max(1000),
  colorOrder: text,
  fiberType: text,
  coreSize: z.number().positive().optional(),
  modeField: z.number().min(1e-6).max(20e-6).optional(),
  groupIndex: z
    .record(z.string().regex(/^\d{3,4}$/), z.number())
    .refine((index) => Object.keys(index).length > 0, 'at least one wavelength'),
  spans: z.array(z.looseObject({ from: metres, to: metres, environment: text })).optional(),
  outerDiameter: z.number().positive().max(0.2).optional(),
  armored: z.boolean().optional(),
  doubleJacket: z.boolean().optional(),
  strengthMember: z.boolean().optional(),
  metallic: z.boolean().optional(),
})
const slack = z.looseObject({ cable: text, side: z.enum(['before', 'after', 'through']), sheath: z.number() })
const node = z.looseObject({
  id: text,
  name: text,
  kind: z.enum(['panel', 'closure', 'handhole', 'pole']),
  routeId: text,
  chainage: metres,
  closureModel: z.string().max(200).optional(),
  slack: z.array(slack),
  trayFiber: z.array(z.looseObject({ cable: text, fiber: z.number() })).optional(),
})
const linkEnd = z.looseObject({ connector: text, polish: text })
const pathStep = z.union([
  z.looseObject({ cable: text, fiber: z.number().int() }),
  z.looseObject({ node: text, joint: z.enum(['splice', 'mechanical', 'connector']) }),
])
const link = z.looseObject({
  id: text,
  name: text,
  from: text,
  to: text,
  state: z.enum(['live', 'dark', 'unknown']),
  path: z.array(pathStep).min(1).max(5000),
  ends: z.looseObject({ from: linkEnd, to: linkEnd }).optional(),
  circuits: z.array(z.looseObject({ name: text, priority: z.number().int() })),
  launchCord: z.number().optional(),
  receiveCord: z.number().optional(),
})
const baseline = z.looseObject({
  linkId: text,
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  direction,
  wavelength: z.number().int(),
  launchCord: z.number(),
  receiveCord: z.number(),
})

/** The plant bundle `cold-thread/plant`, version 1. Unknown fields are kept. */
export const plantBundle: z.ZodType<PlantBundle> = z
  .looseObject({
    format: z.literal('cold-thread/plant'),
    version: z.literal(1),
    name: text,
    routes: z.array(route),
    cables: z.array(cable),
    nodes: z.array(node),
    links: z.array(link),
    baselines: z.array(baseline).optional(),
  })
  .meta({ id: 'PlantBundle' })

/** The plant as kept: null before the first import. */
export const plantRecord = z.object({ bundle: plantBundle.nullable(), version }).meta({ id: 'PlantRecord' })
export type PlantRecord = z.infer<typeof plantRecord>

export const plantWrite = z.object({ bundle: plantBundle, version }).meta({ id: 'PlantWrite' })

const cableChanges = cable
  .pick({
    fiberCount: true,
    tubeSize: true,
    construction: true,
    outerDiameter: true,
    armored: true,
    doubleJacket: true,
    strengthMember: true,
    metallic: true,
  })
  .partial()
  .strict() satisfies z.ZodType<CableCorrection>

const reason = z.string().trim().min(3, 'say why').max(1000)

/** A cable's record put right with its reason; without changes: what was found otherwise was looked at, the record stands. */
export const newCorrection = z.object({ cable: text, changes: cableChanges, reason, version })
export type NewCorrection = z.infer<typeof newCorrection>

/** Corrections of cables' records, newest first. */
export const corrections = z
  .array(
    z.object({
      id,
      cable: text,
      /** Each change with what was on record; empty where the record stands. */
      words: z.array(z.string()),
      reason: z.string(),
      at: instant,
      by: z.string(),
    }),
  )
  .meta({ id: 'Corrections' })
export type Corrections = z.infer<typeof corrections>

/** What run sheets found otherwise than the record has it, and nobody has looked at since. */
export const recordFindings = z
  .array(
    z.object({
      calloutId: id,
      title: z.string(),
      at: instant,
      by: z.string(),
      cable: text,
      words: z.array(z.string()),
      changes: cableChanges,
      reason: z.string(),
    }),
  )
  .meta({ id: 'RecordFindings' })
export type RecordFindings = z.infer<typeof recordFindings>
