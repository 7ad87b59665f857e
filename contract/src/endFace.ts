import type { ConnectorClass, EndFaceVerdict, FeatureMark } from '@cold-thread/core/endFace'
import { z } from 'zod'
import { id } from './common.ts'

const classes = ['single-mode PC', 'multimode PC', 'APC', 'multi-fiber'] as const satisfies readonly ConnectorClass[]
const verdicts = ['pass', 'close', 'fail', 'no rule'] as const satisfies readonly EndFaceVerdict[]
const marks = ['fine', 'close', 'over'] as const satisfies readonly FeatureMark[]
/** µm from the fiber's center. */
const place = z.number().min(-1000).max(1000)

/** One look at a connector's end face through a microscope, graded from its picture. */
export const endFaceEntry = z.object({
  kind: z.literal('end-face'),
  node: z.string().min(1).max(200),
  side: z.enum(['plug', 'port']),
  connector: z.enum(classes),
  verdict: z.enum(verdicts),
  reasons: z.array(z.string().max(300)).max(60),
  /** Of the table that it was graded by; null where there is none. */
  edition: z.string().max(200).nullable(),
  /** µm a pixel, and full width at half height of the blur, µm. */
  scale: z.number().positive().max(1),
  blur: z.number().min(0).max(20),
  features: z
    .array(
      z.strictObject({
        kind: z.enum(['scratch', 'defect']),
        /** Width of a scratch, circle round a defect, µm. */
        size: z.number().min(0).max(1000),
        x: place,
        y: place,
        mark: z.enum(marks).nullable(),
      }),
    )
    .max(500),
  /** The marked picture, kept with the callout's files. */
  picture: id.nullable(),
  /** A person's word against the rule's. */
  overruled: z
    .strictObject({ verdict: z.enum(['pass', 'fail']), reason: z.string().trim().min(3, 'say why').max(500) })
    .nullable(),
  simulated: z.boolean(),
})
export type EndFaceEntry = z.infer<typeof endFaceEntry>
