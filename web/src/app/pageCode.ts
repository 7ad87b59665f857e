import type { Stage } from '@cold-thread/contract'
import { api } from '../api/api.ts'
import { fieldStore } from '../field/fieldStore.ts'
import { page } from './page.ts'
import { STAGE_VIEWS } from './stageViews.ts'
import type { AppDispatch } from './store.ts'

export const CalloutPage = page(async () => (await import('../features/callout/CalloutPage.tsx')).CalloutPage)

/** The first page is not drawn before what it shows is there, but no later than this, ms: then it says that it loads. */
const PATIENCE_MS = 400

/**
 * Begins to read what the first page will ask for, all at once: who is signed in, and of a callout its code, itself and
 * the plant. What can't be read is told by the page that needs it.
 * @returns when it is there, or has let itself be waited for long enough
 */
export async function readAhead(pathname: string, dispatch: AppDispatch): Promise<void> {
  // What is kept is read from the store in a moment: it takes its time to open.
  fieldStore.open().catch(() => undefined)
  const asked: PromiseLike<unknown>[] = [dispatch(api.endpoints.session.initiate())]
  const [, id, stage] = /^\/callouts\/([0-9a-f-]{36})(?:\/([a-z]+))?$/.exec(pathname) ?? []
  if (id !== undefined) {
    asked.push(dispatch(api.endpoints.callout.initiate(id)), dispatch(api.endpoints.plant.initiate()))
    const code = CalloutPage.readAhead()
    asked.push(code)
    // Its title stands before the stage does.
    if (stage !== undefined && stage in STAGE_VIEWS)
      code.then(() => STAGE_VIEWS[stage as Stage].readAhead()).catch(() => undefined)
  }
  const patience = new Promise((resolve) => setTimeout(resolve, PATIENCE_MS))
  await Promise.race([Promise.allSettled(asked), patience])
}
