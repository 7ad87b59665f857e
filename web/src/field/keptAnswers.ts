import type {
  BaseQueryApi,
  BaseQueryFn,
  FetchArgs,
  FetchBaseQueryError,
  FetchBaseQueryMeta,
} from '@reduxjs/toolkit/query'
import { dequal } from 'dequal'
import { answered, unanswered } from './fieldState.ts'
import type { FieldStore } from './fieldStore.ts'
import { serverSays } from './serverSays.ts'

type Base = BaseQueryFn<string | FetchArgs, unknown, FetchBaseQueryError, object, FetchBaseQueryMeta>

/** Answers that are worth keeping: what a callout is read from. A verdict is computed by the server, and asked anew. */
const KEPT =
  /^(session|plant|kit|open-book|step-times|closures\/[^/]+\/history|callouts|callouts\/[^/]+(\/(observations|traces|attachments|plans|survey|sign-off|loss-baselines|source-checks))?)$/

/** Whether the server itself answered: a guest network's login page or a dead gateway is no answer. */
function isUnanswered({ status }: FetchBaseQueryError): boolean {
  return status === 'FETCH_ERROR' || status === 'PARSING_ERROR' || status === 'TIMEOUT_ERROR' || Number(status) >= 500
}

/** Where the server has not answered by then, what is kept is shown; its answer still counts when it comes, ms. */
const PATIENCE_MS = 2500

/**
 * Keeps what is read, and gives it again where the server does not answer, or not in good time.
 * @param store where answers are kept; a store that fails (full, forbidden) never fails the request
 * @param onLate told of an answer that came after the kept one was given, and differs from it
 */
export function withKeptAnswers(
  base: Base,
  store: FieldStore,
  onLate: (path: string, api: BaseQueryApi) => void,
): Base {
  return async (request, api, extra) => {
    const path = typeof request === 'string' ? request : request.url
    const reading = typeof request === 'string' || (request.method ?? 'GET') === 'GET'
    const keeps = reading && KEPT.test(path)
    const asked = Promise.resolve(base(request, api, extra)).then(async (result) => {
      const headers = result.meta?.response?.headers
      const said = headers ? serverSays(headers, Date.now()) : { otherVersion: false, clockAhead: null }
      if (result.error === undefined || !isUnanswered(result.error)) api.dispatch(answered(said))
      if (result.error === undefined && keeps)
        await store.answers.put({ path, body: result.data, at: new Date().toISOString() }).catch(() => undefined)
      return result
    })
    const keptAnswer = () => store.answers.get(path).catch(() => undefined)
    if (keeps) {
      const late = new Promise<'late'>((resolve) => setTimeout(() => resolve('late'), PATIENCE_MS))
      const first = await Promise.race([asked, late])
      const kept = first === 'late' ? await keptAnswer() : undefined
      if (kept) {
        api.dispatch(unanswered(kept.at))
        void asked.then((result) => {
          if (result.error === undefined && !dequal(result.data, kept.body)) onLate(path, api)
        })
        return { data: kept.body }
      }
    }
    const result = await asked
    if (result.error === undefined || !isUnanswered(result.error)) return result
    const kept = keeps ? await keptAnswer() : undefined
    api.dispatch(unanswered(kept?.at ?? null))
    return kept ? { data: kept.body } : result
  }
}
