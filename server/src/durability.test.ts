import { expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { HOST, ORIGIN, startTestServer } from './test/index.ts'

interface Instance {
  readonly pid: number
  restart(): Promise<void>
  stop(): Promise<void>
}

it('the database killed in mid-run costs clear errors, no acknowledged entry, and nothing once it is back', async () => {
  const scripts = (await import(new URL('../../scripts/lib/mariadb.mjs', import.meta.url).href)) as {
    temporaryMariadb(options: { fast: boolean; onDeath(): void }): Promise<Instance>
    databaseEnv(instance: object): Record<string, string>
  }
  let tellDeath = () => {}
  const death = new Promise<void>((resolve) => (tellDeath = resolve))
  const instance = await scripts.temporaryMariadb({ fast: false, onDeath: tellDeath })
  const server = await startTestServer(scripts.databaseEnv(instance))
  try {
    const headers = { host: HOST, origin: ORIGIN, cookie: server.cookies.lead }
    const callout = uuidv7()
    const put = (url: string, payload: object) => server.app.inject({ method: 'PUT', url, headers, payload })
    await put(`/api/callouts/${callout}`, {
      linkId: 'visitor-wan',
      title: 'Link is down',
      alarm: '',
      practiceSeed: null,
    })
    const log = (id: string) =>
      put(`/api/callouts/${callout}/observations/${id}`, {
        entry: { kind: 'note', text: `entry ${id}` },
        observedAt: '2026-03-01T02:00:00.000Z',
        supersedes: null,
      })

    // 1. Entries go in from four writers; the database is killed under them.
    const acknowledged: string[] = []
    const refused = new Set<string>()
    const lost: string[] = []
    const write = async () => {
      for (let i = 0; i < 60; i++) {
        const id = uuidv7()
        const reply = await log(id)
        if (reply.statusCode === 200) acknowledged.push(id)
        else {
          refused.add(`${reply.statusCode} ${reply.json().code}`)
          lost.push(id)
          return
        }
      }
    }
    const writers = [write(), write(), write(), write()]
    while (acknowledged.length < 20) await new Promise((resolve) => setTimeout(resolve, 5))
    process.kill(instance.pid, 'SIGKILL')
    await Promise.all(writers)
    expect([...refused]).toEqual(['503 database-down'])
    await death

    // 2. It comes back; what was acknowledged is there, what was refused can be sent again under its id.
    await instance.restart()
    for (const id of lost) expect((await log(id)).statusCode).toBe(200)
    const reply = await server.app.inject({ method: 'GET', url: `/api/callouts/${callout}/observations`, headers })
    const kept = new Set((reply.json() as { id: string }[]).map((entry) => entry.id))
    expect(acknowledged.filter((id) => !kept.has(id))).toEqual([])
    expect(kept.size).toBe(acknowledged.length + lost.length)
  } finally {
    await server.close()
    await instance.stop()
  }
})
