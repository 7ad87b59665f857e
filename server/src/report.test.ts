import Papa from 'papaparse'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { caller, HOST, openCallout, startTestServer, type TestServer } from './test/index.ts'
import { readReport } from './test/readReport.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer()
})
afterAll(() => server.close())

const call = caller(() => server, 'technician')

async function log(calloutId: string, entry: object, id = uuidv7()): Promise<string> {
  const observation = { entry, observedAt: '2026-01-01T03:00:00.000Z', supersedes: null }
  const { status } = await call('PUT', `/api/callouts/${calloutId}/observations/${id}`, observation)
  expect(status).toBe(200)
  return id
}

const read = (calloutId: string, paper = '') => readReport(server, calloutId, paper)

describe('the report as a page', () => {
  it('opens where it is asked for, and is a file else', async () => {
    const calloutId = await openCallout(call)
    const kept = async (query: string) => {
      const url = `/api/callouts/${calloutId}/report.pdf${query}`
      const reply = await server.app.inject({
        method: 'GET',
        url,
        headers: { host: HOST, cookie: server.cookies.viewer },
      })
      return String(reply.headers['content-disposition']).split(';')[0]
    }
    expect(await kept('?as=page')).toBe('inline')
    expect(await kept('')).toBe('attachment')
  })
})

describe('the report of a callout', () => {
  it('says the verdict first, then every figure as it was entered, and who', async () => {
    const calloutId = await openCallout(call)
    await log(calloutId, { kind: 'note', text: 'Post driven through the duct, 3 µm of mud' })
    await log(calloutId, {
      kind: 'splice',
      node: null,
      chainage: 12_345,
      cable: 'TN-3',
      fiber: 7,
      attempt: 2,
      estimate: 0.07,
      cleaveLeft: 0.4,
      cleaveRight: null,
      outcome: 'accepted',
      remark: 'wind',
    })
    const reference = await log(calloutId, {
      kind: 'loss-reference',
      method: 'two-cord',
      wavelength: 1550,
      level: -10.25,
      source: null,
      meter: null,
      cords: 'LC 1 and LC 2',
      referenceGrade: false,
      encircledFlux: null,
    })
    await log(calloutId, { kind: 'loss-reading', referenceId: reference, link: 'visitor-wan', way: 'ab', level: -21.5 })
    await log(calloutId, { kind: 'reference-look', referenceId: reference, level: -10.3 })
    const power = { link: 'visitor-wan', way: 'ab', wavelength: 1310, before: -12, after: -12.6 }
    await log(calloutId, { kind: 'received-power', power })
    const channels = Array.from({ length: 12 }, (_, i) => ({ at: 12 - i, loss: i === 6 ? 2.25 : 0.4, returnLoss: 41 }))
    const cord = { end: 'first', fiber: 'single-mode', wavelength: 1310 }
    const referenceId = await log(calloutId, {
      kind: 'trunk-reference',
      reference: { ...cord, copied: false, channels: channels.map(() => ({ level: -12.1, returnLoss: 55 })) },
    })
    await log(calloutId, { kind: 'trunk-test', test: { ...cord, trunk: 'T 7', polarity: 'B', referenceId, channels } })
    const { text, pages, bytes } = await read(calloutId)
    expect(text).toContain('Trunk T 7, first end, 1310 nm, polarity B: not good')
    expect(text).toMatch(/7 6 2\.25 41\.0 over: 2\.25 ± 0\.20 dB, over 1\.50 dB/)
    expect(text).toContain('At Visitor centre, 1310 nm: -12.0 dBm before, -12.6 dBm after; no traces of both times')
    expect(text).toMatch(
      /12 of 12 channels, -12\.10 to -12\.10 dBm; return loss of the cord 55\.0 dB or more; not looked at/,
    )
    expect(pages[0]).toMatch(/Not restored trunk T 7.*channel 7 over.*no trace was taken after the repair/)
    // The font has no micro sign.
    expect(text).toContain('Post driven through the duct, 3 um of mud')
    expect(text).toMatch(/12 345 m TN-3 7 2 0\.07 0\.4°, – accepted: wind/)
    expect(text).toMatch(/11\.25 ± 0\.\d\d/)
    expect(text).toMatch(/Reference two-cord, 1550 nm, -10\.25 dBm.*Last look: -10\.30 dBm, held/)
    expect(text).toContain('TIA-568.3-D')
    expect(text).toContain('not signed')
    expect(text).toMatch(/Evidence, SHA-256: [0-9a-f]{64}/)
    expect(text).toMatch(/page 1 of \d/)
    // Fonts travel with it.
    expect(bytes.toString('latin1')).toMatch(/\/FontFile2/)
  })

  it('says that no loss test was made and no received power compared, where none was', async () => {
    const { text } = await read(await openCallout(call))
    expect(text).toContain('None was made.')
    expect(text).toContain('Not compared: nobody entered what the receivers saw')
  })

  it.each([
    ['', [595.28, 841.89]],
    ['?paper=Letter', [612, 792]],
  ])('is laid out for its paper%s', async (paper, size) => {
    const read_ = await read(await openCallout(call), paper)
    expect(read_.size.map((one) => Number(one.toFixed(2)))).toEqual(size)
  })

  it('no heading stands alone at the end of a page, however long what comes before it is', async () => {
    const calloutId = await openCallout(call)
    const heads = [
      'Received power',
      'Continuity',
      'How it was measured',
      'Limits: rule book “[^”]+”, version \\d+',
      'What Limit Source',
      'Signature',
    ]
    const alone = new RegExp(`(${heads.join('|')}) Link is down page \\d+ of \\d+$`)
    for (let notes = 0; notes < 20; notes++) {
      await log(calloutId, { kind: 'note', text: `note ${notes}` })
      const { pages } = await read(calloutId)
      for (const page of pages) expect(page, `${notes} notes`).not.toMatch(alone)
    }
  })

  it('of no callout, or on no paper there is, is refused', async () => {
    expect((await call('GET', `/api/callouts/${uuidv7()}/report.pdf`)).status).toBe(404)
    expect((await call('GET', `/api/callouts/${await openCallout(call)}/report.pdf?paper=B5`)).status).toBe(400)
  })
})

describe('a loss test in the log', () => {
  const REFERENCE = {
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
  const put = (calloutId: string, entry: object) =>
    call('PUT', `/api/callouts/${calloutId}/observations/${uuidv7()}`, {
      entry,
      observedAt: '2026-01-01T03:00:00.000Z',
      supersedes: null,
    })

  it('is taken into the verdict, and into what is signed', async () => {
    const calloutId = await openCallout(call)
    const verdict = async () =>
      (await call('GET', `/api/callouts/${calloutId}/verdict`)).body as {
        evidence: string
        proof: { verdict: string; reasons: string[] }
      }
    const before = await verdict()
    const reference = await log(calloutId, REFERENCE)
    await log(calloutId, { kind: 'loss-reading', referenceId: reference, link: 'visitor-wan', way: 'ab', level: -40 })
    const after = await verdict()
    expect(after.proof.verdict).toBe('not-restored')
    expect(after.proof.reasons[0]).toMatch(/loss test at 1310 nm from .*: 30\.00 dB/)
    expect(after.evidence).not.toBe(before.evidence)
    const csv = await server.app.inject({
      method: 'GET',
      url: `/api/callouts/${calloutId}/readings.csv`,
      headers: { host: HOST, cookie: server.cookies.technician },
    })
    expect(csv.body).toMatch(
      /1310,,"Basin to visitor centre, office network, from Basin control room",loss test,,,30,,/,
    )
    expect(csv.body).toMatch(/"budget, one-cord reference",over,,,,,\r\n$/)
  })

  it('the table of readings has trunks by channel and what receivers saw, each with its unit', async () => {
    const calloutId = await openCallout(call)
    const channels = Array.from({ length: 8 }, (_, i) => ({ at: 8 - i, loss: 0.4, returnLoss: 41.5 }))
    const trunk = { trunk: 'T 7', end: 'first', fiber: 'single-mode', wavelength: 1310, polarity: 'B', channels }
    await log(calloutId, { kind: 'trunk-test', test: trunk })
    const power = { link: 'visitor-wan', way: 'ab', wavelength: 1310, before: -12, after: -12.6 }
    await log(calloutId, { kind: 'received-power', power })
    const csv = (await call('GET', `/api/callouts/${calloutId}/readings.csv`)).body.toString()
    const { data } = Papa.parse<Record<string, string>>(csv, { header: true, skipEmptyLines: true })
    const ofTrunk = data.filter(({ kind }) => kind === 'trunk channel')
    expect(ofTrunk).toHaveLength(8)
    expect(ofTrunk[6]).toMatchObject({
      wavelength_nm: '1310',
      place: 'T 7, first end, channel 7, out at 2',
      loss_after_dB: '0.4',
      return_loss_dB: '41.5',
      limit_dB: '1.5',
      holds: 'within',
    })
    expect(data.filter(({ kind }) => kind === 'received power')).toMatchObject([
      {
        place: 'Basin to visitor centre, office network, at Visitor centre',
        power_before_dBm: '-12',
        power_after_dBm: '-12.6',
      },
    ])
  })

  it('a reading of no link, against no reference of this callout, or that is none is refused by name', async () => {
    const [calloutId, other] = [await openCallout(call), await openCallout(call)]
    const reference = await log(other, REFERENCE)
    const own = await log(calloutId, REFERENCE)
    const reading = { kind: 'loss-reading', referenceId: own, link: 'visitor-wan', way: 'ab', level: -20 }
    expect(await put(calloutId, { ...reading, link: 'nowhere' })).toMatchObject({
      status: 400,
      body: { place: 'entry.link' },
    })
    expect(await put(calloutId, { ...reading, referenceId: reference })).toMatchObject({
      status: 404,
      body: { place: 'entry.referenceId' },
    })
    const channels = Array.from({ length: 8 }, () => ({ at: null, loss: 0.4, returnLoss: null }))
    const end = { end: 'first', fiber: 'single-mode', wavelength: 1310 }
    const trunk = { ...end, trunk: 'T 7', polarity: 'B', channels, referenceId: own }
    expect(await put(calloutId, { kind: 'trunk-test', test: trunk })).toMatchObject({
      status: 404,
      body: { place: 'entry.test.referenceId', message: 'the callout has no such reference of a trunk tester' },
    })
    expect((await put(calloutId, { ...reading, level: 99 })).status).toBe(400)
    expect((await put(calloutId, { ...REFERENCE, wavelength: 15.5 })).status).toBe(400)
    expect((await put(calloutId, reading)).status).toBe(200)
  })
})
