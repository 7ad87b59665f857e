import type { AsBuiltChanges } from '@cold-thread/contract'
import { DEMO_DAMAGES, THRUSHMERE, shootBothWays } from '@cold-thread/demo'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { caller, openCallout, UNTIL_JUDGED, startTestServer, type TestServer } from './test/index.ts'

const LINK = 'visitor-wan'
const own = THRUSHMERE.links.find(({ id }) => id === LINK)!
const fiberOf = (link: typeof own) => link.path.flatMap((step) => ('cable' in step ? [step.fiber] : []))[0]!
/** Another link between the same ends. */
const other = THRUSHMERE.links.find(({ id, from, to }) => id !== LINK && from === own.from && to === own.to)!
const DAY = new Date('2026-03-01')

describe('other links of a cable that was repaired', () => {
  let server: TestServer
  let id = ''
  let url = ''
  beforeAll(async () => {
    server = await startTestServer()
  })
  afterAll(() => server.close())
  const call = caller(() => server, 'lead')
  const cords = 'launchCord=500&receiveCord=500'
  const survey = async (role: 'present' | 'after', shots: ReturnType<typeof shootBothWays>) => {
    for (const { fileName, direction, content } of shots) {
      const query = `fileName=${fileName}&fiber=${fiberOf(other)}&direction=${direction}&role=${role}&${cords}`
      expect((await call('PUT', `${url}/survey/${uuidv7()}?${query}`, content)).status).toBe(200)
    }
  }
  const baselinesOf = async (link: string) =>
    (await call('GET', `/api/links/${link}/baselines`)).body as { sha256: string; addedBy: string; fileName: string }[]
  const built = async () => (await call('GET', `${url}/as-built`)).body as AsBuiltChanges
  const after = shootBothWays(other.id, 'after', DEMO_DAMAGES.bend, DAY)

  it('get their traces after the repair as baselines once they are judged as restored', async () => {
    for (const link of [LINK, other.id])
      for (const { fileName, direction, content } of shootBothWays(link, 'baseline', DEMO_DAMAGES.bend, DAY)) {
        const query = `fileName=${fileName}&role=baseline&direction=${direction}&${cords}`
        const path = `/api/links/${link}/baselines/${uuidv7()}?${query}`
        expect((await call('PUT', path, content)).status).toBe(200)
      }
    id = await openCallout(call, LINK)
    url = `/api/callouts/${id}`
    for (const { fileName, direction, content } of shootBothWays(LINK, 'after', DEMO_DAMAGES.bend, DAY))
      await call(
        'PUT',
        `${url}/traces/${uuidv7()}?fileName=${fileName}&role=after&direction=${direction}&${cords}`,
        content,
      )
    await survey('after', after)
    // Not judged yet, nothing of theirs is taken over.
    expect((await built()).others).toEqual([])
    await vi.waitFor(async () => {
      const { done, of } = (await call('GET', `${url}/cable-proof`)).body as { done: number; of: number }
      expect(done).toBe(of)
    }, UNTIL_JUDGED)
    const names = after.map(({ fileName }) => fileName)
    const [told] = (await built()).others
    expect(told!.link).toBe(other.name)
    expect([...told!.baselines].sort()).toEqual([...names].sort())
    const { evidence } = (await call('GET', `${url}/verdict`)).body
    const signed = await call('PUT', `${url}/sign-off/${uuidv7()}`, { evidence, remark: '', cause: null })
    expect(signed.status).toBe(200)
    const baselines = await baselinesOf(other.id)
    expect(baselines).toHaveLength(names.length * 2)
    const fresh = baselines.slice(names.length)
    expect(fresh.map(({ fileName }) => fileName).sort()).toEqual([...names].sort())
    expect(fresh.every(({ addedBy }) => addedBy === 'lead')).toBe(true)
    const written = await built()
    expect(written.others.map(({ link }) => link)).toEqual([other.name])
    expect([...written.others[0]!.baselines].sort()).toEqual([...names].sort())
  })

  it('leave with the callout: their baselines, old and new, and what was taken out of a survey stays out', async () => {
    const open = await openCallout(call, LINK)
    const closed = id
    ;[id, url] = [open, `/api/callouts/${open}`]
    await survey('present', after)
    expect((await call('DELETE', `${url}/survey?role=present`)).status).toBe(200)
    expect((await call('GET', `${url}/survey`)).body).toBeNull()
    const zips = await Promise.all(
      [closed, open].map(async (one) => (await call('GET', `/api/callouts/${one}/callout.zip`)).body as Buffer),
    )
    const before = await baselinesOf(other.id)
    await server.close()
    server = await startTestServer()
    for (const zip of zips) expect((await call('POST', '/api/callouts', zip, 'records keeper')).status).toBe(200)
    expect(await baselinesOf(other.id)).toEqual(before)
    expect((await call('GET', `${url}/survey`)).body).toBeNull()
    const again = (await call('GET', `/api/callouts/${closed}/callout.zip`)).body as Buffer
    expect(again.equals(zips[0]!)).toBe(true)
  })
})
