/**
 * Every error the server answers with: stable code, HTTP status, what it means.
 * Codes are never reused for another meaning.
 */
export const ERRORS = {
  'not-signed-in': { status: 401, message: 'Sign in first.' },
  'wrong-credentials': { status: 401, message: 'Name or password is wrong.' },
  'no-right': { status: 403, message: 'Your role may not do this.' },
  'foreign-origin': { status: 403, message: 'The request comes from another site.' },
  'not-found': { status: 404, message: 'There is nothing under this address.' },
  'invalid-request': { status: 400, message: 'The request does not fit its description.' },
  'too-many-attempts': { status: 429, message: 'Too many attempts: wait a minute.' },
  'half-sent': { status: 400, message: 'The file did not arrive whole: send it again.' },
  'too-large': { status: 413, message: 'The file is over the limit.' },
  'trace-refused': { status: 422, message: 'The trace file was refused.' },
  'plant-refused': { status: 422, message: 'The plant record contradicts itself.' },
  'kit-refused': { status: 422, message: 'The kit contradicts itself.' },
  'procedure-refused': { status: 422, message: 'The procedure could not be followed.' },
  'traces-differ': { status: 422, message: 'The traces are not of one fiber and wavelength.' },
  'cannot-compute': { status: 422, message: 'This can not be computed from what is there.' },
  'id-in-use': { status: 409, message: 'This id already stands for something else.' },
  'stale-edit': { status: 409, message: 'Somebody changed this since you read it.' },
  'already-there': { status: 409, message: 'This is here already.' },
  'name-taken': { status: 409, message: 'This name is taken.' },
  'already-set-up': { status: 409, message: 'The first account exists already.' },
  'callout-closed': { status: 409, message: 'The callout is signed off: it takes no more entries.' },
  'evidence-changed': { status: 409, message: 'The evidence changed since the verdict was shown.' },
  'plan-approved': { status: 409, message: 'This version of the plan is approved already.' },
  'plan-outdated': { status: 409, message: 'There is a newer version of the plan.' },
  'not-proved': { status: 409, message: 'Only a proved repair can be signed off.' },
  'database-down': { status: 503, message: 'The database does not answer; nothing was changed. Try again shortly.' },
  internal: { status: 500, message: 'Something went wrong on the server.' },
} as const

export type ErrorCode = keyof typeof ERRORS

export interface ErrorBody {
  code: ErrorCode
  message: string
  /** Where in the request, file or bundle. */
  place?: string | undefined
}

/**
 * What the server answered, if it is one of its errors; null for anything else, as a guest network's page.
 * By hand, beside the schema that the server describes it with: an app's first screen must not wait for a schema library.
 */
export function readError(answer: unknown): ErrorBody | null {
  if (typeof answer !== 'object' || answer === null || !('code' in answer) || !('message' in answer)) return null
  const { code, message } = answer
  const place = 'place' in answer ? answer.place : undefined
  if (typeof code !== 'string' || !Object.hasOwn(ERRORS, code) || typeof message !== 'string') return null
  if (place !== undefined && typeof place !== 'string') return null
  return { code: code as ErrorCode, message, ...(place === undefined ? {} : { place }) }
}
