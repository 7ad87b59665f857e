import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { request as httpsRequest } from 'node:https'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { buildApp, type AppOptions } from './app.ts'
import type { App } from './routes/schema.ts'
import { HOST, PASSWORD, startTestServer, type TestServer } from './test/index.ts'

const SCRIPT = fileURLToPath(new URL('../../scripts/certificate.mjs', import.meta.url))
let server: TestServer
let folder: string
const apps: App[] = []

beforeAll(async () => {
  server = await startTestServer()
  folder = mkdtempSync(join(tmpdir(), 'cold-thread-reach-'))
})
afterAll(async () => {
  for (const app of apps) await app.close()
  await server.close()
  rmSync(folder, { recursive: true, force: true })
})

async function appWith(config: AppOptions['config']): Promise<App> {
  const app = await buildApp({ config, sequelize: server.sequelize, jobWorker: inject('jobWorker') })
  apps.push(app)
  return app
}

const signIn = (app: App, headers: Record<string, string>, remoteAddress = '127.0.0.1') =>
  app.inject({
    method: 'POST',
    url: '/api/session',
    remoteAddress,
    headers: { host: HOST, origin: `http://${HOST}`, ...headers },
    payload: { name: 'technician', password: PASSWORD },
  })

describe('behind a proxy', () => {
  const told = { 'x-forwarded-proto': 'https', 'x-forwarded-host': 'field.test', origin: 'https://field.test' }

  it('that is trusted, its word of https and host counts: secure cookie, HSTS (RFC 6797)', async () => {
    const app = await appWith({ trustedProxy: ['10.1.0.0/16'] })
    const reply = await signIn(app, told, '10.1.2.3')
    expect(reply.statusCode).toBe(200)
    expect(reply.headers['set-cookie']).toMatch(/; Secure/)
    expect(reply.headers['strict-transport-security']).toMatch(/^max-age=\d+$/)
  })

  it('that is not, anybody could say so: nothing of it is believed', async () => {
    const app = await appWith({ trustedProxy: ['10.1.0.0/16'] })
    const foreign = await signIn(app, told, '192.0.2.9')
    expect(foreign.json()).toMatchObject({ code: 'foreign-origin' })
    const reply = await signIn(app, { 'x-forwarded-proto': 'https' }, '192.0.2.9')
    expect(reply.headers['set-cookie']).not.toMatch(/Secure/)
    expect(reply.headers['strict-transport-security']).toBeUndefined()
  })

  it('sign-ins are counted by the browser’s own address, not by the proxy’s', async () => {
    const app = await appWith({ trustedProxy: ['10.1.0.0/16'] })
    const from = (address: string) => signIn(app, { 'x-forwarded-for': address }, '10.1.2.3')
    for (let k = 0; k < 10; k++) await from('192.0.2.1')
    expect((await from('192.0.2.1')).statusCode).toBe(429)
    expect((await from('192.0.2.2')).statusCode).toBe(200)
  })

  it('that ends TLS, a public address of https is enough', async () => {
    const app = await appWith({ publicAddress: 'https://field.test' })
    const reply = await signIn(app, { origin: 'https://field.test' })
    expect(reply.headers['set-cookie']).toMatch(/; Secure/)
    expect(reply.headers['strict-transport-security']).toBeDefined()
  })
})

describe('over TLS with a trial authority', () => {
  let port: number
  const authority = () => readFileSync(join(folder, 'authority.pem'))

  /** Asks over TLS as any client would. @returns status with HSTS, or the error's code */
  const ask = (options: { ca?: Buffer; servername?: string }) =>
    new Promise<string>((resolve) => {
      const asked = httpsRequest(
        { host: '127.0.0.1', port, path: '/api/session', agent: false, ...options },
        (reply) => {
          reply.resume()
          resolve(`${reply.statusCode} ${reply.headers['strict-transport-security'] ? 'HSTS' : ''}`)
        },
      )
      asked.on('error', (error: NodeJS.ErrnoException) => resolve(error.code ?? error.message))
      asked.end()
    })

  beforeAll(async () => {
    execFileSync(process.execPath, [SCRIPT, '--folder', folder, '--host', '127.0.0.1', '--host', 'field.test'])
    const app = await appWith({
      tlsCertificate: join(folder, 'server.pem'),
      tlsKey: join(folder, 'server-key.pem'),
    })
    await app.listen({ host: '127.0.0.1', port: 0 })
    port = (app.server.address() as { port: number }).port
  })

  it('a client that trusts it is served by name and by address', async () => {
    expect(await ask({ ca: authority() })).toBe('200 HSTS')
    expect(await ask({ ca: authority(), servername: 'field.test' })).toBe('200 HSTS')
  })

  it('a client that does not refuses the chain, and a name that is not in it', async () => {
    expect(await ask({})).toBe('UNABLE_TO_VERIFY_LEAF_SIGNATURE')
    expect(await ask({ ca: authority(), servername: 'other.test' })).toBe('ERR_TLS_CERT_ALTNAME_INVALID')
  })

  it('a new certificate comes from the same authority: phones need nothing new', async () => {
    const before = authority()
    const said = execFileSync(process.execPath, [SCRIPT, '--folder', folder, '--host', 'other.test'], {
      encoding: 'utf8',
    })
    expect(authority()).toEqual(before)
    expect(said).toMatch(/need nothing new/)
  })

  it('a host that is none is refused, and nothing is written', () => {
    const other = join(folder, 'other')
    const run = () =>
      execFileSync(process.execPath, [SCRIPT, '--folder', other, '--host', 'a b'], { stdio: 'pipe', encoding: 'utf8' })
    expect(run).toThrow(/"a b" is neither a host name nor an address/)
    expect(() => readFileSync(join(other, 'authority.pem'))).toThrow(/ENOENT/)
  })
})

describe('what browsers may keep (RFC 9111)', () => {
  it('hashed code for good, pages and service worker asked for anew, answers of the API as the server says', async () => {
    const web = join(folder, 'web')
    execFileSync('mkdir', ['-p', join(web, 'assets')])
    for (const name of ['index.html', 'sw.js', 'manifest.webmanifest', 'assets/a-1234.js'])
      writeFileSync(join(web, name), '{}')
    const app = await appWith({ webFolder: web })
    const headers = async (url: string) => (await app.inject({ url })).headers
    expect((await headers('/assets/a-1234.js'))['cache-control']).toBe('public, max-age=31536000, immutable')
    for (const url of ['/', '/callouts/1', '/sw.js', '/manifest.webmanifest'])
      expect((await headers(url))['cache-control'], url).toBe('no-cache')
    // Code of another version is not there: a page would be read as code.
    expect((await app.inject({ url: '/assets/gone.js' })).statusCode).toBe(404)
    // Web application manifest, W3C: its media type.
    expect((await headers('/manifest.webmanifest'))['content-type']).toMatch(/^application\/manifest\+json/)
    expect((await headers('/sw.js'))['content-type']).toMatch(/javascript/)
  })
})
