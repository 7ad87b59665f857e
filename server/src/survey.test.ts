import { THRUSHMERE, SURVEY, surveyFiles } from '@cold-thread/demo'
import { cableSurvey } from '@cold-thread/contract'
import { v7 as uuidv7 } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { caller, startTestServer, type TestServer } from './test/index.ts'

describe('a cable survey', () => {
  let server: TestServer
  const calloutId = uuidv7()
  const files = surveyFiles(new Date('2026-03-01T05:10:00Z')).filter(({ fiber }) => fiber > 22 && fiber < 39)

  const call = caller(() => server, 'technician')
  const send = (fiber: number, content: Uint8Array, id = uuidv7()) =>
    call(
      'PUT',
      `/api/callouts/${calloutId}/survey/${id}?fileName=F${fiber}.sor&fiber=${fiber}&direction=ab&launchCord=500&receiveCord=500`,
      Buffer.from(content),
    )

  beforeAll(async () => {
    server = await startTestServer()
    await call('PUT', `/api/callouts/${calloutId}`, {
      linkId: SURVEY.linkId,
      title: 'One tube',
      alarm: '',
      practiceSeed: null,
    })
  })
  afterAll(() => server.close())

  it('is nothing before its first file', async () => {
    expect((await call('GET', `/api/callouts/${calloutId}/survey`)).body).toBeNull()
  })

  it('tells which tube is hit, where, and by how much', async () => {
    const replies = await Promise.all(files.map(({ fiber, content }) => send(fiber, content)))
    expect(replies.map((reply) => reply.status)).toEqual(files.map(() => 200))
    const survey = cableSurvey.parse((await call('GET', `/api/callouts/${calloutId}/survey`)).body)
    expect(survey.places).toHaveLength(1)
    const place = survey.places[0]!
    expect(place.fibers.toSorted((a, b) => a - b)).toEqual([25, 26, 27, 28, 29, 30, 31, 32, 33, 34, 35, 36])
    expect(place).toMatchObject({ pattern: 'one-group', whole: [SURVEY.tube], partly: [], breaks: true })
    expect(place.chainage).toBe(THRUSHMERE.nodes.find((node) => node.id === SURVEY.node)!.chainage)
    expect(survey.fibers.filter((fiber) => fiber.state === 'broken').map(({ fiber }) => fiber)).toEqual(SURVEY.broken)
    expect(survey.fibers.filter((fiber) => fiber.state === 'sound')).toHaveLength(4)
    expect(survey.missing).toHaveLength(128)
  })

  it('does not mix with the traces of the callout’s own link', async () => {
    const traces = (await call('GET', `/api/callouts/${calloutId}/traces`)).body
    expect(traces).toEqual([])
  })

  it('refuses what is no trace and a fiber that the cable has not, and keeps what it had', async () => {
    const broken = await send(3, new Uint8Array([1, 2, 3]))
    expect(broken.status).toBe(422)
    expect(broken.body).toMatchObject({ code: expect.any(String) as string })
    const beyond = await send(145, files[0]!.content)
    expect(beyond.body).toMatchObject({ code: 'invalid-request', message: 'cable TN-4 has 144 fibers, none 145' })
    const survey = cableSurvey.parse((await call('GET', `/api/callouts/${calloutId}/survey`)).body)
    expect(survey.fibers).toHaveLength(files.length)
  })

  it('sent twice is one; shot again, the later trace counts', async () => {
    const id = uuidv7()
    const { content } = files.find(({ fiber }) => fiber === 23)!
    for (const _ of [1, 2]) expect((await send(30, content, id)).status).toBe(200)
    const survey = cableSurvey.parse((await call('GET', `/api/callouts/${calloutId}/survey`)).body)
    expect(survey.fibers.find(({ fiber }) => fiber === 30)).toMatchObject({ state: 'sound' })
    expect(survey.fibers).toHaveLength(files.length)
  })

  it('can be taken out of the evidence as a whole', async () => {
    expect((await call('DELETE', `/api/callouts/${calloutId}/survey`)).status).toBe(200)
    expect((await call('GET', `/api/callouts/${calloutId}/survey`)).body).toBeNull()
  })
})
