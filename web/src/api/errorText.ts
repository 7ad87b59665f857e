import { errorBody } from '@cold-thread/contract'

/** Somebody else saved it since it was read. */
export function isStale(error: unknown): boolean {
  const data = typeof error === 'object' && error !== null && 'data' in error ? error.data : null
  const parsed = errorBody.safeParse(data)
  return parsed.success && parsed.data.code === 'stale-edit'
}

/** One clear sentence from whatever a request failed with. */
export function errorText(error: unknown): string {
  if (typeof error === 'object' && error !== null) {
    const parsed = errorBody.safeParse('data' in error ? error.data : error)
    if (parsed.success) return parsed.data.message
    if ('status' in error && error.status === 'FETCH_ERROR')
      return 'The server does not answer. Nothing was lost; try again.'
    if ('message' in error && typeof error.message === 'string') return error.message
  }
  return 'Something went wrong. Try again.'
}
