import type { Kit } from '@cold-thread/core/kit'
import { THRUSHMERE_KIT } from '@cold-thread/demo'
import { v7 as uuidv7 } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { saveKit } from './stores/kits.ts'
import { caller, openCallout, startTestServer, type TestServer } from './test/index.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer()
  await saveKit(THRUSHMERE_KIT, 0, 'test', new Date())
})
afterAll(() => server.close())

const call = caller(() => server, 'technician')

async function log(calloutId: string, entry: object, id = uuidv7()): Promise<string> {
  const observation = { entry, observedAt: new Date().toISOString(), supersedes: null }
  const { status } = await call('PUT', `/api/callouts/${calloutId}/observations/${id}`, observation)
  expect(status).toBe(200)
  return id
}

describe('matings of the kit’s test cords', () => {
  it('are counted at the reference and at each look at it, once, readings and all', async () => {
    const kit = async () => ((await call('GET', '/api/kit')).body as { kit: Kit }).kit
    const cord = (await kit()).items.find(({ kind }) => kind === 'test cord')!
    const used = async () => (await kit()).items.find(({ id }) => id === cord.id)!.wear!.used
    const before = await used()
    const calloutId = await openCallout(call)
    const referenceId = await log(calloutId, {
      kind: 'loss-reference',
      method: 'one-cord',
      wavelength: 1310,
      level: -10,
      source: null,
      meter: null,
      cords: `${cord.name}, some other`,
      referenceGrade: false,
      encircledFlux: null,
    })
    expect(await used()).toBe(before + 1)
    for (const link of ['visitor-wan', 'visitor-wan'])
      await log(calloutId, { kind: 'loss-reading', referenceId, link, way: 'ab', level: -18 })
    expect(await used()).toBe(before + 1)
    const look = { kind: 'reference-look', referenceId, level: -10.02 }
    const lookId = await log(calloutId, look)
    await log(calloutId, look, lookId)
    expect(await used()).toBe(before + 4)
  })
})

describe('the daily check', () => {
  it('of a source is known in other callouts, by who made it, and is not sent back to its own', async () => {
    const [first, second] = [await openCallout(call), await openCallout(call)]
    const check = { source: 's', meter: 'm', cord: 'LC 1', wavelength: 1310, kind: 'laser', level: -9.2, third: 0.2 }
    const id = await log(first, { kind: 'source-check', check })
    const elsewhere = async (callout: string) => (await call('GET', `/api/callouts/${callout}/source-checks`)).body
    expect(await elsewhere(second)).toMatchObject([{ ...check, id, by: 'technician' }])
    expect(await elsewhere(first)).toEqual([])
    expect((await call('GET', `/api/callouts/${uuidv7()}/source-checks`)).status).toBe(404)
  })
})
