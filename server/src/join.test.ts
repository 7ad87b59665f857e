import type { LogEntry } from '@cold-thread/contract'
import { NO_CONDITIONS } from '@cold-thread/core/join'
import type { Kit } from '@cold-thread/core/kit'
import { THRUSHMERE_KIT } from '@cold-thread/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { saveKit } from './stores/kits.ts'
import { caller, openCallout, startTestServer, type TestServer } from './test/index.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer()
  await saveKit(THRUSHMERE_KIT, 0, 'test', new Date())
})
afterAll(() => server.close())

const call = caller(() => server, 'technician')
const [splicer, cleaver] = ['splicer', 'cleaver'].map(
  (kind) => THRUSHMERE_KIT.items.find((item) => item.kind === kind)!.id,
)

async function log(calloutId: string, entry: object, id = uuidv7()) {
  const observation = { entry, observedAt: new Date().toISOString(), supersedes: null }
  return { id, ...(await call('PUT', `/api/callouts/${calloutId}/observations/${id}`, observation)) }
}
const SESSION: LogEntry = {
  kind: 'splice-session',
  node: 'lock-9',
  chainage: 8230,
  cable: 'TN-2',
  fibers: null,
  setup: {
    splicer: splicer!,
    cleaver: cleaver!,
    ribbon: false,
    mode: 'single-mode',
    heater: 60,
    sleeve: 60,
    conditions: NO_CONDITIONS,
  },
}
const splice = (sessionId: string, outcome: 'accepted' | 'redo' = 'accepted'): LogEntry => ({
  kind: 'splice',
  node: 'lock-9',
  chainage: 8230,
  cable: 'TN-2',
  fiber: 7,
  attempt: 1,
  estimate: 0.02,
  cleaveLeft: 0.3,
  cleaveRight: 0.2,
  outcome,
  remark: '',
  sessionId,
  splice: 'TN-1/7-TN-2/7',
})
const end = (sessionId: string, said = ['bin closed', 'mat taped']) => ({
  kind: 'session-end',
  sessionId,
  said,
  remark: '',
})
const calibration = (sessionId: string): LogEntry => ({
  kind: 'arc-calibration',
  sessionId,
  fiber: 'single-mode',
  outcome: 'accepted',
  conditions: NO_CONDITIONS,
})
const used = async () => {
  const { kit, version } = (await call('GET', '/api/kit')).body as { kit: Kit; version: number }
  const of = (id: string | undefined) => kit.items.find((item) => item.id === id)!.wear!.used
  return { splicer: of(splicer), cleaver: of(cleaver), version }
}
async function session(outcomes: readonly ('accepted' | 'redo')[]) {
  const calloutId = await openCallout(call)
  const { id } = await log(calloutId, SESSION)
  await log(calloutId, calibration(id))
  for (const outcome of outcomes) await log(calloutId, splice(id, outcome))
  return { calloutId, id }
}

describe('a splicing session', () => {
  it('at its end counts arcs and cleaves in the kit, once, however often it is sent', async () => {
    const before = await used()
    const { calloutId, id } = await session(['accepted', 'redo', 'accepted'])
    const endId = uuidv7()
    for (let i = 0; i < 2; i++) expect((await log(calloutId, end(id), endId)).status).toBe(200)
    // A second end, of somebody who did not know of the first.
    expect((await log(calloutId, end(id))).status).toBe(200)
    // Three splices and one calibration: an arc and two cleaves each.
    expect(await used()).toEqual({
      splicer: before.splicer + 4,
      cleaver: before.cleaver + 8,
      version: before.version + 1,
    })
  })

  it('is not ended while the shards are not seen to', async () => {
    const { calloutId, id } = await session([])
    expect(await log(calloutId, end(id, ['bin closed']))).toMatchObject({ status: 400 })
  })

  it('takes nothing of a session that another callout has, or nobody', async () => {
    const { id } = await session([])
    const other = await openCallout(call)
    for (const entry of [splice(id), calibration(id), end(id), splice(uuidv7())])
      expect(await log(other, entry)).toMatchObject({ status: 404, body: { place: 'entry.sessionId' } })
    // A splice by hand belongs to none.
    const { sessionId: _none, ...byHand } = splice(id) as LogEntry & { sessionId: string }
    expect((await log(other, byHand)).status).toBe(200)
  })

  it('a look at an end face is kept; one at a place that the link does not pass, or overruled without a reason, is not', async () => {
    const calloutId = await openCallout(call)
    const look: LogEntry = {
      kind: 'end-face',
      node: 'lock-9',
      side: 'plug',
      connector: 'single-mode PC',
      verdict: 'fail',
      reasons: ['zone B (cladding): a defect of 7.2 µm, at most 5 µm'],
      edition: 'an edition',
      scale: 0.4,
      blur: 0.9,
      features: [{ kind: 'defect', size: 7.2, x: 33, y: 0, mark: 'over' }],
      picture: null,
      overruled: null,
      simulated: false,
    }
    expect((await log(calloutId, look)).status).toBe(200)
    expect(await log(calloutId, { ...look, node: 'nowhere' })).toMatchObject({
      status: 400,
      body: { place: 'entry.node' },
    })
    const overruled = { verdict: 'pass' as const, reason: ' ' }
    expect(await log(calloutId, { ...look, overruled })).toMatchObject({ status: 400 })
    const { body } = await call('GET', `/api/callouts/${calloutId}/observations`)
    expect((body as { entry: LogEntry }[]).map(({ entry }) => entry)).toEqual([look])
  })

  it('of a place that the link does not pass is refused', async () => {
    const calloutId = await openCallout(call)
    expect(await log(calloutId, { ...SESSION, node: 'nowhere' })).toMatchObject({
      status: 400,
      body: { place: 'entry.node' },
    })
  })
})

describe('what is usual for a splicer', () => {
  it('comes from its sessions that ended, of all callouts, those that went badly left out', async () => {
    const usual = async (by = cleaver) =>
      (await call('GET', `/api/splicers/${splicer}/usual?cleaver=${by}`)).body as unknown[]
    const before = (await usual()).length
    const bad = await session(['redo', 'redo', 'redo', 'accepted'])
    await log(bad.calloutId, end(bad.id))
    expect(await usual()).toHaveLength(before)
    const good = await session(['accepted', 'accepted', 'accepted', 'redo'])
    expect(await usual()).toHaveLength(before)
    await log(good.calloutId, end(good.id))
    expect(await usual()).toHaveLength(before + 4)
    expect((await usual()).at(-1)).toEqual({
      estimate: 0.02,
      cleaveLeft: 0.3,
      cleaveRight: 0.2,
      offset: null,
      gap: null,
      proof: null,
      modeFields: null,
      session: good.id,
    })
    // Angles are the cleaver's.
    expect((await usual('another')).at(-1)).toMatchObject({ estimate: 0.02, cleaveLeft: null, cleaveRight: null })
    expect((await call('GET', '/api/splicers/nowhere/usual')).body).toEqual([])
  })
})
