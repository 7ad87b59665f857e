import { readError } from '@cold-thread/contract'

const dataOf = (error: object) => ('data' in error ? error.data : error)

/** Somebody else saved it since it was read. */
export function isStale(error: unknown): boolean {
  return typeof error === 'object' && error !== null && readError(dataOf(error))?.code === 'stale-edit'
}

/** One clear sentence from whatever a request failed with. */
export function errorText(error: unknown): string {
  if (typeof error === 'object' && error !== null) {
    const said = readError(dataOf(error))
    if (said) return said.message
    if ('status' in error && error.status === 'FETCH_ERROR')
      return 'The server does not answer. Nothing was lost; try again.'
    if ('message' in error && typeof error.message === 'string') return error.message
  }
  return 'Something went wrong. Try again.'
}
