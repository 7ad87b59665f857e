import { ROLES, type Role } from '@cold-thread/contract'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { HOST, ORIGIN, startTestServer, type TestServer } from './test/index.ts'

const ID = '0197b1a0-0000-7000-8000-000000000001'
const FIELD: Role[] = ['technician', 'lead']
const RECORDS: Role[] = ['lead', 'records keeper']
const ALL: Role[] = [...ROLES]

/** Who may call what: every route of the API but the ones that anybody may. */
const TABLE: [method: 'GET' | 'PUT' | 'PATCH' | 'DELETE' | 'POST', url: string, roles: Role[]][] = [
  ['GET', '/api/accounts', ALL],
  ['GET', '/api/address', ALL],
  ['PUT', `/api/accounts/${ID}`, ['lead']],
  ['GET', '/api/plant', ALL],
  ['PUT', '/api/plant', RECORDS],
  ['GET', '/api/kit', ALL],
  ['PUT', '/api/kit', FIELD],
  ['GET', '/api/step-times', ALL],
  ['GET', `/api/callouts/${ID}/plans`, ALL],
  ['PUT', `/api/callouts/${ID}/plans/${ID}`, FIELD],
  ['PUT', `/api/callouts/${ID}/plans/${ID}/approval`, ['lead']],
  ['GET', '/api/callouts', ALL],
  ['GET', `/api/callouts/${ID}`, ALL],
  ['PUT', `/api/callouts/${ID}`, FIELD],
  ['PATCH', `/api/callouts/${ID}`, FIELD],
  ['GET', `/api/callouts/${ID}/live`, ALL],
  ['GET', `/api/callouts/${ID}/observations`, ALL],
  ['PUT', `/api/callouts/${ID}/observations`, FIELD],
  ['PUT', `/api/callouts/${ID}/observations/${ID}`, FIELD],
  ['GET', `/api/callouts/${ID}/attachments`, ALL],
  ['PUT', `/api/callouts/${ID}/attachments/${ID}`, FIELD],
  ['GET', `/api/attachments/${ID}/file`, ALL],
  ['DELETE', `/api/attachments/${ID}`, FIELD],
  ['GET', `/api/callouts/${ID}/traces`, ALL],
  ['PUT', `/api/callouts/${ID}/traces/${ID}`, FIELD],
  ['GET', '/api/links/level-control/baselines', ALL],
  ['PUT', `/api/links/level-control/baselines/${ID}`, RECORDS],
  ['GET', `/api/callouts/${ID}/shots/${ID}`, FIELD],
  ['PUT', `/api/callouts/${ID}/shots/${ID}`, FIELD],
  ['GET', `/api/callouts/${ID}/survey`, ALL],
  ['PUT', `/api/callouts/${ID}/survey/${ID}`, FIELD],
  ['DELETE', `/api/callouts/${ID}/survey`, FIELD],
  ['GET', `/api/callouts/${ID}/cable-proof`, ALL],
  ['GET', `/api/callouts/${ID}/loss-baselines`, ALL],
  ['GET', `/api/callouts/${ID}/source-checks`, ALL],
  ['GET', `/api/callouts/${ID}/repaired.zip`, ALL],
  ['GET', `/api/traces/${ID}/file`, ALL],
  ['DELETE', `/api/traces/${ID}`, ['technician', 'lead', 'records keeper']],
  ['GET', `/api/callouts/${ID}/verdict`, ALL],
  ['GET', `/api/callouts/${ID}/sign-off`, ALL],
  ['PUT', `/api/callouts/${ID}/sign-off/${ID}`, ['lead']],
  ['GET', `/api/callouts/${ID}/readings.csv`, ALL],
  ['GET', `/api/callouts/${ID}/report.pdf`, ALL],
  ['GET', `/api/callouts/${ID}/as-built`, ALL],
  ['GET', `/api/callouts/${ID}/callout.zip`, ALL],
  ['POST', '/api/callouts', RECORDS],
]

describe('who may call a route', () => {
  let server: TestServer
  beforeAll(async () => {
    server = await startTestServer()
  })
  afterAll(() => server.close())

  const call = (method: 'GET' | 'PUT' | 'PATCH' | 'DELETE' | 'POST', url: string, cookie?: string, origin = ORIGIN) =>
    server.app.inject({ method, url, headers: { host: HOST, origin, ...(cookie ? { cookie } : {}) } })

  it.each(TABLE)('%s %s', async (method, url, roles) => {
    expect((await call(method, url)).statusCode).toBe(401)
    for (const role of ROLES) {
      const { statusCode } = await call(method, url, server.cookies[role])
      if (roles.includes(role)) expect([401, 403]).not.toContain(statusCode)
      else expect(statusCode).toBe(403)
    }
  })

  it('a write from another site is refused', async () => {
    const reply = await call('PUT', `/api/callouts/${ID}`, server.cookies.lead, 'http://elsewhere.test')
    expect(reply.json()).toMatchObject({ code: 'foreign-origin' })
  })

  it('sign-in attempts are limited', async () => {
    const attempt = () =>
      server.app.inject({
        method: 'POST',
        url: '/api/session',
        headers: { host: HOST, origin: ORIGIN },
        payload: { name: 'nobody', password: 'wrong' },
      })
    const statuses: number[] = []
    for (let i = 0; i < 7; i++) statuses.push((await attempt()).statusCode)
    expect(statuses.slice(0, 5)).toEqual([401, 401, 401, 401, 401])
    expect(statuses.at(-1)).toBe(429)
  })
})
