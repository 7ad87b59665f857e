import type { BaseQueryFn, FetchArgs, FetchBaseQueryError, FetchBaseQueryMeta } from '@reduxjs/toolkit/query'
import { answered, unanswered } from './fieldState.ts'
import type { FieldStore } from './fieldStore.ts'
import { serverSays } from './serverSays.ts'

type Base = BaseQueryFn<string | FetchArgs, unknown, FetchBaseQueryError, object, FetchBaseQueryMeta>

/** Answers that are worth keeping: what a callout is read from. A verdict is computed by the server, and asked anew. */
const KEPT =
  /^(session|plant|kit|step-times|callouts|callouts\/[^/]+(\/(observations|traces|attachments|plans|survey|sign-off))?)$/

/** Whether the server itself answered: a guest network's login page or a dead gateway is no answer. */
function isUnanswered({ status }: FetchBaseQueryError): boolean {
  return status === 'FETCH_ERROR' || status === 'PARSING_ERROR' || status === 'TIMEOUT_ERROR' || Number(status) >= 500
}

/**
 * Keeps what is read, and gives it again where the server does not answer.
 * @param store where answers are kept; a store that fails (full, forbidden) never fails the request
 */
export function withKeptAnswers(base: Base, store: FieldStore): Base {
  return async (request, api, extra) => {
    const result = await base(request, api, extra)
    const path = typeof request === 'string' ? request : request.url
    const reading = typeof request === 'string' || (request.method ?? 'GET') === 'GET'
    const headers = result.meta?.response?.headers
    const said = headers ? serverSays(headers, Date.now()) : { otherVersion: false, clockAhead: null }
    if (result.error === undefined) {
      api.dispatch(answered(said))
      if (reading && KEPT.test(path))
        await store.answers.put({ path, body: result.data, at: new Date().toISOString() }).catch(() => undefined)
      return result
    }
    if (!isUnanswered(result.error)) {
      api.dispatch(answered(said))
      return result
    }
    const kept = reading ? await store.answers.get(path).catch(() => undefined) : undefined
    api.dispatch(unanswered(kept?.at ?? null))
    return kept ? { data: kept.body } : result
  }
}
