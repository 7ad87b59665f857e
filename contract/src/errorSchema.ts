import { z } from 'zod'
import { id } from './common.ts'
import { ERRORS, type ErrorBody, type ErrorCode } from './errors.ts'

export const errorBody = z
  .object({
    code: z.enum(Object.keys(ERRORS) as [ErrorCode, ...ErrorCode[]]),
    message: z.string(),
    place: z.string().optional(),
  })
  .meta({ id: 'Error' }) satisfies z.ZodType<ErrorBody>

/** What came of entries that were sent together, in their order: each was taken or refused by itself. */
export const batchOutcome = z.array(z.object({ id, refused: errorBody.nullable() }))
