import { CodedError } from '@cold-thread/core/errors'
import type { Attachment, TraceRecord } from '@cold-thread/contract'
import { api } from '../api/api.ts'
import type { AppDispatch } from '../app/store.ts'
import { fieldStore } from './fieldStore.ts'
import { attachmentFile, fileOf } from './files.ts'

/**
 * Everything a callout is worked with, read and kept on this device; told how far it is, 0 to 1.
 * @throws Error where it can't be read, or not all of it be kept
 */
export async function takeAlong(
  calloutId: string,
  dispatch: AppDispatch,
  onProgress: (part: number) => void = () => undefined,
): Promise<void> {
  const { endpoints } = api
  const read = [
    endpoints.session.initiate(undefined, ONCE),
    endpoints.plant.initiate(undefined, ONCE),
    endpoints.kit.initiate(undefined, ONCE),
    endpoints.openBook.initiate(undefined, ONCE),
    endpoints.callouts.initiate(undefined, ONCE),
    endpoints.stepTimes.initiate(undefined, ONCE),
    endpoints.callout.initiate(calloutId, ONCE),
    endpoints.observations.initiate(calloutId, ONCE),
    endpoints.plans.initiate(calloutId, ONCE),
    endpoints.survey.initiate(calloutId, ONCE),
    endpoints.signOff.initiate(calloutId, ONCE),
    endpoints.lossBaselines.initiate(calloutId, ONCE),
    endpoints.sourceChecks.initiate(calloutId, ONCE),
  ]
  const traces = (await dispatch(endpoints.traces.initiate(calloutId, ONCE)).unwrap()) as TraceRecord[]
  const standing = traces.filter(({ withdrawn }) => !withdrawn)
  const attachments = (await dispatch(endpoints.attachments.initiate(calloutId, ONCE)).unwrap()) as Attachment[]
  const shown = attachments.filter(({ withdrawn }) => !withdrawn)
  const all = read.length + standing.length + shown.length
  let done = 0
  const told = () => onProgress(++done / all)
  for (const one of read) {
    await (dispatch(one as never) as unknown as { unwrap(): Promise<unknown> }).unwrap()
    told()
  }
  for (const trace of standing) {
    await fileOf(trace)
    told()
  }
  for (const one of shown) {
    await attachmentFile(one)
    told()
  }
  await requireKept(calloutId, [...standing, ...shown])
  const answers = await fieldStore.answers.toArray()
  const text = answers
    .filter(({ path }) => !path.startsWith('callouts/') || path.startsWith(`callouts/${calloutId}`))
    .reduce((sum, { body }) => sum + JSON.stringify(body ?? null).length, 0)
  const bytes = text + [...standing, ...shown].reduce((sum, file) => sum + file.bytes, 0)
  await fieldStore.taken.put({ calloutId, at: new Date().toISOString(), bytes })
  // Asked for once there is something to lose; a browser may still say no.
  await navigator.storage?.persist?.().catch(() => false)
}

/** @throws Error where this device kept less than it was given: a callout that is half there must not count as taken along */
async function requireKept(calloutId: string, files: readonly { sha256: string }[]): Promise<void> {
  const own = [
    '',
    '/observations',
    '/plans',
    '/survey',
    '/sign-off',
    '/loss-baselines',
    '/source-checks',
    '/traces',
    '/attachments',
  ]
  const paths = [
    'session',
    'plant',
    'kit',
    'open-book',
    'callouts',
    'step-times',
    ...own.map((part) => `callouts/${calloutId}${part}`),
  ]
  const hashes = [...new Set(files.map(({ sha256 }) => sha256))]
  const kept =
    (await fieldStore.answers.where('path').anyOf(paths).count()) +
    (await fieldStore.files.where('sha256').anyOf(hashes).count())
  const all = paths.length + hashes.length
  if (kept < all)
    throw new CodedError(
      'store-full',
      `This device kept ${kept} parts of ${all}: its store is full. Make room, under “On this device” in the outbox, and take it along anew.`,
    )
}

const ONCE = { subscribe: false, forceRefetch: true } as const
