import { DEMO_DAMAGES, THRUSHMERE, shootBothWays } from '@cold-thread/demo'
import type { PlantBundle } from '@cold-thread/core/plant'
import { readTraceFile } from '@cold-thread/core/trace'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { caller, openCallout, SAMPLE_PLAN, startTestServer, type TestServer } from './test/index.ts'
import { readReport } from './test/readReport.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer()
})
afterAll(() => server.close())

const LINK = 'visitor-wan'
const CHAINAGE = DEMO_DAMAGES.bend.at.chainage
/** The cable of the link at the place of the repair. */
const own = THRUSHMERE.links
  .find(({ id }) => id === LINK)!
  .path.flatMap((step) => ('cable' in step ? [step] : []))
  .find(({ cable }) => {
    const { from, to } = THRUSHMERE.cables.find(({ id }) => id === cable)!
    return CHAINAGE > from && CHAINAGE < to
  })!

const call = caller(() => server, 'lead')

const put = (url: string, entry: object) =>
  call('PUT', `${url}/observations/${uuidv7()}`, { entry, observedAt: '2026-03-01T02:00:00.000Z', supersedes: null })
const plantOf = async () => (await call('GET', '/api/plant')).body as { bundle: PlantBundle; version: number }
const baselines = async () =>
  (await call('GET', `/api/links/${LINK}/baselines`)).body as { id: string; sha256: string; addedBy: string }[]

/** @param again - which measurement of it: the very file that has become the baseline proves nothing */
async function upload(url: string, role: 'baseline' | 'present' | 'after', again = 0): Promise<void> {
  const taken = new Date('2026-03-01')
  for (const { fileName, direction, content } of shootBothWays(LINK, role, DEMO_DAMAGES.bend, taken, again)) {
    const query = `fileName=${fileName}&role=${role}&direction=${direction}&launchCord=500&receiveCord=500`
    expect((await call('PUT', `${url}/${uuidv7()}?${query}`, content)).status).toBe(200)
  }
}

describe('closing a callout', () => {
  let id = ''
  let before: Awaited<ReturnType<typeof plantOf>>
  let zip: Buffer
  const splice = {
    kind: 'splice',
    node: null,
    chainage: CHAINAGE,
    cable: own.cable,
    fiber: own.fiber,
    attempt: 1,
    estimate: 0.03,
    cleaveLeft: 0.4,
    cleaveRight: 0.3,
    outcome: 'accepted',
    remark: '',
  }

  it('signed provisionally at night; what comes after it shows as such', async () => {
    await upload(`/api/links/${LINK}/baselines`, 'baseline')
    id = await openCallout(call, LINK)
    const url = `/api/callouts/${id}`
    await put(url, splice)
    await upload(`${url}/traces`, 'present')
    await upload(`${url}/traces`, 'after')
    const shown = (await call('GET', `${url}/verdict`)).body
    expect(shown.proof.verdict).toBe('restored')
    const signed = { kind: 'provisional-sign-off', evidence: shown.evidence, verdict: 'restored', remark: 'at 3' }
    expect((await put(url, signed)).status).toBe(200)
    // A signature is over the evidence, not over itself.
    expect((await call('GET', `${url}/verdict`)).body.evidence).toBe(shown.evidence)
    await put(url, { kind: 'note', text: 'the cabinet’s door was left open' })
    expect((await call('GET', `${url}/verdict`)).body.evidence).not.toBe(shown.evidence)
    expect((await put(url, { ...signed, verdict: 'not-restored' })).status).toBe(400)
    expect((await put(url, { ...signed, evidence: 'short' })).status).toBe(400)
  })

  /** What the report says of where the fault lay and where work was done. */
  const placeInReport = async () =>
    /Place (.*?) Worked at (.*?) It was/.exec((await readReport(server, id)).text)!.slice(1) as [string, string]
  let place = ''

  it('the report says where the fault lay, by its traces, and where work was done', async () => {
    const [lay, worked] = await placeInReport()
    place = lay
    const chainage = Number(/chainage ([\d\s]+) m/.exec(lay)![1]!.replaceAll(/\s/g, ''))
    expect(Math.abs(chainage - CHAINAGE)).toBeLessThan(15)
    expect(lay).toMatch(/added loss .* dB at 1550 nm; likely /)
    expect(worked.replaceAll(/\s/g, ' ')).toContain(`of ${own.cable}`)
  })

  it('puts the closure into the record, with who and why, and the traces become the link’s baseline', async () => {
    const url = `/api/callouts/${id}`
    before = await plantOf()
    const proposed = (await call('GET', `${url}/as-built`)).body
    expect(proposed.changes).toEqual([
      {
        cable: own.cable,
        words: [
          `new closure at ${CHAINAGE} m`,
          expect.stringMatching(new RegExp(`^fiber ${own.fiber}, .*: spliced at ${CHAINAGE} m$`)),
        ],
      },
    ])
    expect(proposed.baselines).toHaveLength(4)
    const { evidence } = (await call('GET', `${url}/verdict`)).body
    const signature = `${url}/sign-off/${uuidv7()}`
    expect((await call('PUT', signature, { evidence, remark: '', cause: 'macrobend' })).status).toBe(200)
    // Sent once more it is the same: nothing is done twice.
    expect((await call('PUT', signature, { evidence, remark: '', cause: 'macrobend' })).status).toBe(200)
    const { bundle, version } = await plantOf()
    expect(version).toBe(before.version + 1)
    const node = bundle.nodes.at(-1)!
    expect(node).toMatchObject({ kind: 'closure', chainage: CHAINAGE })
    expect(bundle.links.find((link) => link.id === LINK)!.path).toContainEqual({ node: node.id, joint: 'splice' })
    const [correction] = (await call('GET', '/api/plant/corrections')).body
    expect(correction).toMatchObject({ cable: own.cable, by: 'lead', reason: 'as built, by callout “Link is down”' })
    const all = await baselines()
    expect(all).toHaveLength(8)
    expect(all.slice(4).every(({ addedBy }) => addedBy === 'lead')).toBe(true)
    expect((await call('GET', `${url}/as-built`)).body).toEqual(proposed)
    expect((await call('GET', url)).body).toMatchObject({ state: 'closed', cause: 'macrobend' })
  })

  it('the report tells the same place when the record has changed', async () => {
    expect((await placeInReport())[0]).toBe(place)
  })

  it('gives the traces after the repair as a set whose condition code is “as repaired” (SR-4731: RC)', async () => {
    const { status, body } = await call('GET', `/api/callouts/${id}/repaired.zip`)
    expect(status).toBe(200)
    const files = unzipSync(new Uint8Array(body as Buffer))
    const sent = shootBothWays(LINK, 'after', DEMO_DAMAGES.bend, new Date('2026-03-01'))
    expect(Object.keys(files).sort()).toEqual(sent.map(({ fileName }) => fileName).sort())
    for (const { fileName, content } of sent) {
      const { general, data, warnings } = readTraceFile(files[fileName]!)
      // The simulated OTDR writes no event table; nothing else is amiss, the checksum least of all.
      expect(general!.condition).toBe('RC')
      expect(warnings.map(({ code }) => code)).toEqual(['no-event-table'])
      expect(data).toEqual(readTraceFile(content).data)
    }
    const without = await openCallout(call, LINK)
    expect((await call('GET', `/api/callouts/${without}/repaired.zip`)).status).toBe(404)
  })

  it('the closed callout keeps the baseline that it was held against; the next one gets the new', async () => {
    const roles = async (callout: string) =>
      ((await call('GET', `/api/callouts/${callout}/traces`)).body as { role: string; id: string }[]).filter(
        ({ role }) => role === 'baseline',
      )
    const [old, all] = [await roles(id), await baselines()]
    expect(old.map((trace) => trace.id)).toEqual(all.slice(0, 4).map((trace) => trace.id))
    const next = await openCallout(call, LINK)
    await upload(`/api/callouts/${next}/traces`, 'after', 1)
    const { proof } = (await call('GET', `/api/callouts/${next}/verdict`)).body
    // Held against the new baseline and the new record, nothing is new any more.
    expect(proof.verdict).toBe('restored')
    expect(proof.events.some(({ status }: { status: string }) => status === 'new')).toBe(false)
    expect(proof.events.some(({ place }: { place: string }) => place.startsWith('Repair closure'))).toBe(true)
  })

  it('a section of new cable gets a record of its own where the plan has one and the link was joined at both its ends', async () => {
    const section = await openCallout(call, LINK)
    const url = `/api/callouts/${section}`
    for (const chainage of [CHAINAGE + 20, CHAINAGE + 60]) await put(url, { ...splice, chainage })
    await upload(`${url}/traces`, 'after')
    const words = async () => (await call('GET', `${url}/as-built`)).body.changes[0].words.join('; ') as string
    expect(await words()).not.toContain('new section')
    const content = { ...SAMPLE_PLAN, cable: own.cable, chainage: CHAINAGE + 40 }
    expect((await call('PUT', `${url}/plans/${uuidv7()}`, { content, version: 0 })).status).toBe(200)
    expect(await words()).toContain(`new section ${own.cable}-section-${CHAINAGE + 20} between`)
  })

  it('a loss by source and meter with which it was closed is what the next one is held against', async () => {
    const loss = async (callout: string, level: number) => {
      const referenceId = uuidv7()
      const reference = {
        kind: 'loss-reference',
        method: 'one-cord',
        wavelength: 1310,
        level: -10,
        source: null,
        meter: null,
        cords: '',
        referenceGrade: true,
        encircledFlux: null,
      }
      const entry = { entry: reference, observedAt: '2026-03-01T02:00:00.000Z', supersedes: null }
      await call('PUT', `/api/callouts/${callout}/observations/${referenceId}`, entry)
      await put(`/api/callouts/${callout}`, { kind: 'loss-reading', referenceId, link: LINK, way: 'ab', level })
    }
    const open = () => openCallout(call, LINK)
    const first = await open()
    await loss(first, -18)
    await upload(`/api/callouts/${first}/traces`, 'after', 2)
    const url = `/api/callouts/${first}`
    expect((await call('GET', `${url}/loss-baselines`)).body).toEqual([])
    const { evidence } = (await call('GET', `${url}/verdict`)).body
    const signed = await call('PUT', `${url}/sign-off/${uuidv7()}`, { evidence, remark: '' })
    expect(signed.status).toBe(200)
    const second = await open()
    expect((await call('GET', `/api/callouts/${second}/loss-baselines`)).body).toMatchObject([
      { link: LINK, way: 'ab', wavelength: 1310, method: 'one-cord', loss: 8 },
    ])
    await loss(second, -20.4)
    await upload(`/api/callouts/${second}/traces`, 'after', 3)
    const { proof } = (await call('GET', `/api/callouts/${second}/verdict`)).body
    expect(proof.verdict).toBe('not-restored')
    expect(proof.reasons.join()).toMatch(
      /2\.40 ± 0\.\d\d dB more than the baseline of 2026-03-01, 8\.00 dB by one-cord reference/,
    )
  })

  it('leaves as a ZIP that another, empty installation takes in and gives out again byte for byte', async () => {
    zip = (await call('GET', `/api/callouts/${id}/callout.zip`)).body as Buffer
    expect((await call('POST', '/api/callouts', zip)).body.code).toBe('already-there')
    const [report, log] = [
      (await call('GET', `/api/callouts/${id}/readings.csv`)).body.toString(),
      (await call('GET', `/api/callouts/${id}/observations`)).body,
    ]
    const built = (await call('GET', `/api/callouts/${id}/as-built`)).body
    await server.close()
    server = await startTestServer()
    await server.sequelize.getQueryInterface().bulkDelete('plants', {})
    const taken = await call('POST', '/api/callouts', zip, 'records keeper')
    expect([taken.status, taken.body.id, taken.body.state]).toEqual([200, id, 'closed'])
    expect(((await call('GET', `/api/callouts/${id}/callout.zip`)).body as Buffer).equals(zip)).toBe(true)
    expect((await call('GET', `/api/callouts/${id}/readings.csv`)).body.toString()).toBe(report)
    expect((await call('GET', `/api/callouts/${id}/observations`)).body).toEqual(log)
    expect((await call('GET', `/api/callouts/${id}/as-built`)).body).toEqual(built)
    expect(await baselines()).toHaveLength(8)
  })

  it('a ZIP that is damaged, of something else or of a link that is not here changes nothing', async () => {
    await server.close()
    server = await startTestServer()
    const files = unzipSync(zip)
    const changed = (change: Record<string, Uint8Array | undefined>) =>
      Buffer.from(
        zipSync(
          Object.fromEntries(
            Object.entries({ ...files, ...change }).flatMap(([name, file]) => (file ? [[name, file]] : [])),
          ),
        ),
      )
    const manifest = JSON.parse(strFromU8(files['manifest.json']!)) as object
    const refused: [Buffer, RegExp][] = [
      [Buffer.from('no zip'), /not a ZIP/],
      [changed({ 'manifest.json': strToU8('{}') }), /not a callout/],
      [changed({ 'manifest.json': strToU8('{') }), /not a callout/],
      [changed({ 'observations.jsonl': strToU8('') }), /observations\.jsonl. was changed/],
      [changed({ 'traces.jsonl': undefined }), /traces\.jsonl. is missing/],
      [changed({ 'manifest.json': strToU8(JSON.stringify({ ...manifest, schema: '0001' })) }), /schema 0001/],
      [changed({ 'manifest.json': strToU8(JSON.stringify({ ...manifest, link: 'nowhere' })) }), /no link “nowhere”/],
    ]
    for (const [bytes, why] of refused) {
      const { status, body } = await call('POST', '/api/callouts', bytes)
      expect([status, body.message]).toEqual([400, expect.stringMatching(why)])
    }
    expect((await call('GET', '/api/callouts')).body).toEqual([])
    expect((await call('POST', '/api/callouts', zip, 'viewer')).status).toBe(403)
  })
})
