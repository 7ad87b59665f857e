import { THRUSHMERE_KIT } from '@cold-thread/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { caller, openCallout, SAMPLE_PLAN, startTestServer, type TestServer } from './test/index.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer()
})
afterAll(() => server.close())

const call = caller(() => server, 'lead')

const newCallout = () => openCallout(call)

const content = SAMPLE_PLAN

describe('the kit', () => {
  it('is empty at first, kept with a version, and refuses a change made on an older one', async () => {
    expect((await call('GET', '/api/kit')).body).toMatchObject({ version: 0, kit: { people: [], items: [] } })
    const saved = await call('PUT', '/api/kit', { kit: { ...THRUSHMERE_KIT, note: 'kept' }, version: 0 }, 'technician')
    expect(saved.body.version).toBe(1)
    expect((await call('GET', '/api/kit')).body.kit).toMatchObject({ note: 'kept', people: THRUSHMERE_KIT.people })
    const stale = await call('PUT', '/api/kit', { kit: THRUSHMERE_KIT, version: 0 })
    expect(stale).toMatchObject({ status: 409, body: { code: 'stale-edit' } })
  })

  it.each([
    [
      'an id twice',
      { ...THRUSHMERE_KIT, items: [THRUSHMERE_KIT.items[0]!, THRUSHMERE_KIT.items[0]!] },
      422,
      'items[1].id',
    ],
    [
      'a skill that is none',
      { ...THRUSHMERE_KIT, people: [{ ...THRUSHMERE_KIT.people[0]!, skills: ['magic'] }] },
      400,
      'body.kit.people.0.skills.0',
    ],
    [
      'fewer than none of a thing',
      { ...THRUSHMERE_KIT, items: [{ ...THRUSHMERE_KIT.items[0]!, count: -1 }] },
      400,
      'body.kit.items.0.count',
    ],
    [
      'a time that is none',
      {
        ...THRUSHMERE_KIT,
        hours: { ...THRUSHMERE_KIT.hours, windows: [{ ...THRUSHMERE_KIT.hours.windows[0]!, from: '25:00' }] },
      },
      400,
      'body.kit.hours.windows.0.from',
    ],
  ])('with %s is refused by its place and changes nothing', async (_, kit, status, place) => {
    const { body: before } = await call('GET', '/api/kit')
    const refused = await call('PUT', '/api/kit', { kit, version: before.version })
    expect(refused).toMatchObject({ status, body: { place } })
    expect((await call('GET', '/api/kit')).body).toEqual(before)
  })
})

describe('a plan', () => {
  it('is kept in versions; sent again it is the same, made on an older one it is refused', async () => {
    const callout = await newCallout()
    const first = uuidv7()
    const put = (id: string, version: number, some = content) =>
      call('PUT', `/api/callouts/${callout}/plans/${id}`, { content: some, version }, 'technician')
    expect((await put(first, 0)).body).toMatchObject({ version: 1, approval: null, by: 'technician' })
    expect((await put(first, 0)).body.version).toBe(1)
    expect(await put(first, 0, { ...content, chainage: 1 })).toMatchObject({ status: 409, body: { code: 'id-in-use' } })
    expect(await put(uuidv7(), 0)).toMatchObject({ status: 409, body: { code: 'stale-edit', place: 'version' } })
    expect((await put(uuidv7(), 1)).body.version).toBe(2)
    const { body } = await call('GET', `/api/callouts/${callout}/plans`)
    expect(body.map((plan: { version: number }) => plan.version)).toEqual([2, 1])
    expect(body[1].content).toEqual(content)
  })

  it('two sent at the same moment: one wins, the other hears of it', async () => {
    const callout = await newCallout()
    const put = () => call('PUT', `/api/callouts/${callout}/plans/${uuidv7()}`, { content, version: 0 })
    const statuses = (await Promise.all([put(), put()])).map(({ status }) => status)
    expect(statuses.sort()).toEqual([200, 409])
  })

  it('of a cable that the plant has not, or without a repair, is refused by its place', async () => {
    const callout = await newCallout()
    const put = (some: object) =>
      call('PUT', `/api/callouts/${callout}/plans/${uuidv7()}`, { content: { ...content, ...some }, version: 0 })
    expect(await put({ cable: 'X' })).toMatchObject({ status: 400, body: { place: 'body.content.cable' } })
    expect(await put({ optionIds: [] })).toMatchObject({ status: 400, body: { place: 'body.content.optionIds' } })
    expect((await call('GET', `/api/callouts/${callout}/plans`)).body).toEqual([])
  })

  it('is approved by a lead, the newest version only, once', async () => {
    const callout = await newCallout()
    const [older, newer] = [uuidv7(), uuidv7()]
    await call('PUT', `/api/callouts/${callout}/plans/${older}`, { content, version: 0 })
    await call('PUT', `/api/callouts/${callout}/plans/${newer}`, { content, version: 1 })
    const approve = (id: string, remark = 'go', role: keyof TestServer['cookies'] = 'lead') =>
      call('PUT', `/api/callouts/${callout}/plans/${id}/approval`, { remark }, role)
    expect(await approve(newer, 'go', 'technician')).toMatchObject({ status: 403 })
    expect(await approve(older)).toMatchObject({ status: 409, body: { code: 'plan-outdated' } })
    expect((await call('GET', `/api/callouts/${callout}`)).body.plan).toBe('saved')
    expect((await approve(newer)).body.approval).toMatchObject({ by: 'lead', remark: 'go' })
    expect((await approve(newer)).status).toBe(200)
    expect(await approve(newer, 'otherwise')).toMatchObject({ status: 409, body: { code: 'plan-approved' } })
    expect(await approve(uuidv7())).toMatchObject({ status: 404 })
    expect((await call('GET', `/api/callouts/${callout}`)).body).toMatchObject({ plan: 'approved', shot: false })
  })
})

describe('what was done of a plan', () => {
  const log = (callout: string, entry: object, supersedes: string | null = null) => {
    const id = uuidv7()
    return call('PUT', `/api/callouts/${callout}/observations/${id}`, {
      entry,
      observedAt: '2026-03-01T02:00:00.000Z',
      supersedes,
    }).then(({ status, body }) => ({ id, status, body }))
  }
  const step = { kind: 'step', step: 'dig', line: 'dig@fault', name: 'dig', minutes: 50, planned: 86 }

  it('is gathered over all callouts, without what was withdrawn', async () => {
    const callout = await newCallout()
    await log(callout, step)
    const wrong = await log(callout, { ...step, minutes: 500 })
    await log(callout, { kind: 'withdrawn', reason: 'mistyped' }, wrong.id)
    const { body } = await call('GET', '/api/step-times', undefined, 'viewer')
    expect(body).toEqual([{ step: 'dig', minutes: 50, byRules: 86 }])
    // A plan that went by learned minutes says how far: against the rule book it is 40 min.
    await log(callout, { ...step, step: 'travel', minutes: 45, planned: 60, stretch: 1.5 })
    expect((await call('GET', '/api/step-times')).body).toContainEqual({ step: 'travel', minutes: 45, byRules: 40 })
  })

  it('packing and steps do not make a callout wait for its proof; a step that is none is refused', async () => {
    const callout = await newCallout()
    expect((await log(callout, { kind: 'packed', line: 'closure', substitute: null })).status).toBe(200)
    expect((await log(callout, step)).status).toBe(200)
    expect((await call('GET', `/api/callouts/${callout}`)).body.state).toBe('open')
    const refused = await log(callout, { ...step, step: 'dance' })
    expect(refused).toMatchObject({ status: 400, body: { code: 'invalid-request' } })
  })
})

it('a backup holds kits and plans', async () => {
  const { writeBackup } = await import('./backup.ts')
  const bytes = await writeBackup()
  const { unzipSync, strFromU8 } = await import('fflate')
  const files = unzipSync(bytes)
  expect(strFromU8(files['plans.jsonl']!).split('\n').length).toBeGreaterThan(3)
  expect(strFromU8(files['kits.jsonl']!)).toContain('Night technician')
})
