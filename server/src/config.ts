import { readFileSync } from 'node:fs'
import { isIP } from 'node:net'
import { CodedError } from '@cold-thread/core/errors'
import { z } from 'zod'

/** An address, or a network as `10.1.0.0/16`. */
function isNetwork(text: string): boolean {
  const [address = '', bits, ...more] = text.split('/')
  const kind = isIP(address)
  if (kind === 0 || more.length > 0) return false
  return bits === undefined || (/^\d{1,3}$/.test(bits) && Number(bits) <= (kind === 4 ? 32 : 128))
}

const network = z.string().refine(isNetwork, 'neither an address nor a network such as 10.1.0.0/16')

const schema = z.object({
  host: z.string().min(1).default('127.0.0.1'),
  port: z.coerce.number().int().min(0).max(65535).default(8460),
  /** Where browsers reach the server, when that differs from host and port. */
  publicAddress: z.url().optional(),
  /** Proxies in front of the server: what they say of the browser's address and of https is believed, nobody else's. */
  trustedProxy: z.array(network).min(1).optional(),
  tlsCertificate: z.string().optional(),
  tlsKey: z.string().optional(),
  /** Folder of the built web application; without it only the API is served. */
  webFolder: z.string().optional(),
  database: z.object({
    host: z.string().default('127.0.0.1'),
    port: z.coerce.number().int(),
    name: z.string(),
    user: z.string(),
    password: z.string(),
  }),
})

export type Config = Readonly<z.infer<typeof schema>>

/**
 * Settings from the environment (`COLD_THREAD_…`), checked once and frozen.
 * @throws Error naming the variable that does not fit
 */
export function readConfig(env: Record<string, string | undefined>): Config {
  const value = (name: string) => env[`COLD_THREAD_${name}`] || undefined
  const parsed = schema.safeParse({
    host: value('HOST'),
    port: value('PORT'),
    publicAddress: value('PUBLIC_ADDRESS'),
    trustedProxy: value('TRUSTED_PROXY')
      ?.split(',')
      .map((text) => text.trim()),
    tlsCertificate: value('TLS_CERTIFICATE'),
    tlsKey: value('TLS_KEY'),
    webFolder: value('WEB_FOLDER'),
    database: {
      host: value('DB_HOST'),
      port: value('DB_PORT'),
      name: value('DB_NAME'),
      user: value('DB_USER'),
      password: value('DB_PASSWORD'),
    },
  })
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    throw new CodedError('setting-refused', `setting ${issue.path.join('.')}: ${issue.message}`)
  }
  if ((parsed.data.tlsCertificate === undefined) !== (parsed.data.tlsKey === undefined))
    throw new CodedError('setting-refused', 'TLS needs both a certificate and a key')
  return Object.freeze(parsed.data)
}

/** @throws Error naming the file that can't be read */
export function readTls(config: Config): { cert: Buffer; key: Buffer } | null {
  if (config.tlsCertificate === undefined || config.tlsKey === undefined) return null
  return { cert: readFileSync(config.tlsCertificate), key: readFileSync(config.tlsKey) }
}
