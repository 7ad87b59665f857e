import { describe, expect, it } from 'vitest'
import { readConfig, readTls } from './config.ts'

const database = {
  COLD_THREAD_DB_PORT: '3307',
  COLD_THREAD_DB_NAME: 'ct',
  COLD_THREAD_DB_USER: 'ct',
  COLD_THREAD_DB_PASSWORD: 'secret',
}

describe('settings', () => {
  it('listen on loopback unless told otherwise', () => {
    const config = readConfig(database)
    expect([config.host, config.port, config.database.host]).toEqual(['127.0.0.1', 8460, '127.0.0.1'])
  })

  it.each([
    ['PORT', '70000', /setting port/],
    ['PORT', 'eighty', /setting port/],
    ['PUBLIC_ADDRESS', 'not an address', /setting publicAddress/],
    ['TRUSTED_PROXY', 'everybody', /setting trustedProxy\.0: neither an address nor a network/],
    ['TRUSTED_PROXY', '10.1.0.0/16, 10.2.0.0/40', /setting trustedProxy\.1/],
  ])('%s=%s is refused by name', (name, value, message) => {
    expect(() => readConfig({ ...database, [`COLD_THREAD_${name}`]: value })).toThrow(message)
  })

  it('name trusted proxies by address or network', () => {
    const config = readConfig({ ...database, COLD_THREAD_TRUSTED_PROXY: '10.1.0.0/16, ::1' })
    expect(config.trustedProxy).toEqual(['10.1.0.0/16', '::1'])
    expect(readConfig(database).trustedProxy).toBeUndefined()
  })

  it('without a database say so', () => {
    expect(() => readConfig({})).toThrow(/setting database/)
  })

  it('TLS needs certificate and key together, and files that can be read', () => {
    expect(() => readConfig({ ...database, COLD_THREAD_TLS_CERTIFICATE: 'a.pem' })).toThrow(
      /both a certificate and a key/,
    )
    const config = readConfig({
      ...database,
      COLD_THREAD_TLS_CERTIFICATE: '/nowhere/a.pem',
      COLD_THREAD_TLS_KEY: '/nowhere/b.pem',
    })
    expect(() => readTls(config)).toThrow(/\/nowhere\/a\.pem/)
    expect(readTls(readConfig(database))).toBeNull()
  })

  it('can’t be changed once read', () => {
    const config = readConfig(database)
    expect(() => Object.assign(config, { port: 1 })).toThrow(TypeError)
  })

  it('an empty variable counts as none', () => {
    expect(readConfig({ ...database, COLD_THREAD_HOST: '' }).host).toBe('127.0.0.1')
  })
})
