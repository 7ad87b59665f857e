import { CONTRACT_HEADER, CONTRACT_VERSION, MAX_ATTACHMENT_BYTES } from '@cold-thread/contract'
import { MAX_FILE_BYTES } from '@cold-thread/core/trace'
import compress from '@fastify/compress'
import helmet from '@fastify/helmet'
import rateLimit from '@fastify/rate-limit'
import staticFiles from '@fastify/static'
import swagger from '@fastify/swagger'
import Fastify, { type FastifyRequest } from 'fastify'
import {
  jsonSchemaTransform,
  jsonSchemaTransformObject,
  serializerCompiler,
  validatorCompiler,
  type ZodTypeProvider,
} from 'fastify-type-provider-zod'
import type { Sequelize } from 'sequelize'
import { z } from 'zod'
import { readTls, type Config } from './config.ts'
import { createJobPool } from './jobs/pool.ts'
import { Live } from './live.ts'
import { access, EVERYBODY } from './plugins/access.ts'
import { errorReplies } from './plugins/errorReplies.ts'
import { attachmentRoutes } from './routes/attachments.ts'
import { calloutRoutes } from './routes/callouts.ts'
import { liveRoutes } from './routes/live.ts'
import { kitRoutes } from './routes/kit.ts'
import { joinRoutes } from './routes/join.ts'
import { openRoutes } from './routes/open.ts'
import { planRoutes } from './routes/plans.ts'
import { plantRoutes } from './routes/plant.ts'
import { proofRoutes } from './routes/proof.ts'
import { answers, type App } from './routes/schema.ts'
import { sessionRoutes } from './routes/session.ts'
import { createCableProofs } from './cableProofs.ts'
import { surveyRoutes } from './routes/surveys.ts'
import { traceRoutes } from './routes/traces.ts'

const HALF_A_YEAR = 15_552_000

export interface AppOptions {
  config: Pick<Config, 'publicAddress' | 'trustedProxy' | 'tlsCertificate' | 'tlsKey' | 'webFolder'>
  sequelize: Sequelize
  /** Sign-in attempts a minute from one address for one name. */
  signInsPerMinute?: number
  log?: boolean
  /** The bundled code of the threads that compute, where it does not stand beside the server's own. */
  jobWorker?: string
}

/** The application, ready to listen. Closing it closes its workers, not its database. */
export async function buildApp({
  config,
  sequelize,
  signInsPerMinute = 10,
  log = false,
  jobWorker,
}: AppOptions): Promise<App> {
  const tls = readTls(config as Config)
  const base = Fastify({
    logger: log ? { level: 'warn' } : false,
    forceCloseConnections: true,
    trustProxy: config.trustedProxy === undefined ? false : [...config.trustedProxy],
    ...(tls ? { https: tls } : {}),
  } as object)
  const app = base.withTypeProvider<ZodTypeProvider>() as unknown as App
  app.setValidatorCompiler(validatorCompiler)
  app.setSerializerCompiler(serializerCompiler)
  await app.register(errorReplies)
  await app.register(helmet, {
    contentSecurityPolicy: {
      directives: {
        'script-src': ["'self'"],
        'worker-src': ["'self'", 'blob:'],
        'style-src': ["'self'", "'unsafe-inline'"],
        'font-src': ["'self'", 'data:'],
        // Photos as this device keeps them.
        'img-src': ["'self'", 'data:', 'blob:'],
        'upgrade-insecure-requests': null,
      },
    },
    strictTransportSecurity: false,
  })
  const isSecure = (request: FastifyRequest) =>
    request.protocol === 'https' || config.publicAddress?.startsWith('https:') === true
  app.addHook('onRequest', async (_request, reply) => {
    reply.header(CONTRACT_HEADER, CONTRACT_VERSION)
  })
  // Browsers take it over https only (RFC 6797): over plain http it is not sent.
  app.addHook('onRequest', async (request, reply) => {
    if (isSecure(request)) reply.header('strict-transport-security', `max-age=${HALF_A_YEAR}`)
  })
  // Phone networks are thin: text goes compressed, files as they are.
  await app.register(compress, { encodings: ['br', 'gzip'], threshold: 1024 })
  await app.register(rateLimit, { global: false })
  await app.register(access, { publicAddress: config.publicAddress })
  await app.register(swagger, {
    openapi: { info: { title: 'Cold Thread', version: '1' } },
    transform: jsonSchemaTransform,
    transformObject: jsonSchemaTransformObject,
  })
  const jobs = createJobPool(jobWorker)
  app.addHook('onClose', () => jobs.close())

  app.get(
    '/api/health',
    { config: { access: 'anyone' }, schema: { response: answers(z.object({ database: z.literal('up') })) } },
    async () => {
      await sequelize.authenticate()
      return { database: 'up' as const }
    },
  )
  app.get(
    '/api/address',
    {
      config: { access: EVERYBODY },
      schema: { response: answers(z.object({ publicAddress: z.string().nullable() })) },
    },
    () => ({ publicAddress: config.publicAddress ?? null }),
  )
  app.get('/api/openapi.json', { config: { access: 'anyone' }, schema: { hide: true } }, () => app.swagger())
  sessionRoutes(app, {
    sequelize,
    isSecure,
    signInsPerMinute,
  })
  // Files come as they are; each route says how large one may be.
  app.addContentTypeParser(
    'application/octet-stream',
    { parseAs: 'buffer', bodyLimit: Math.max(MAX_FILE_BYTES, MAX_ATTACHMENT_BYTES) },
    (_request, body, done) => done(null, body),
  )
  plantRoutes(app)
  liveRoutes(app, new Live())
  kitRoutes(app)
  calloutRoutes(app)
  openRoutes(app)
  joinRoutes(app)
  planRoutes(app)
  attachmentRoutes(app)
  traceRoutes(app, jobs)
  const proofs = createCableProofs(jobs)
  surveyRoutes(app, jobs, proofs)
  proofRoutes(app, jobs)
  if (config.webFolder !== undefined) await serveWeb(app, config.webFolder)
  return app
}

/** The built web application; addresses that are no file are pages of it. */
async function serveWeb(app: App, folder: string): Promise<void> {
  await app.register(staticFiles, {
    root: folder,
    wildcard: false,
    setHeaders: (reply, path) => {
      const hashed = path.includes('/assets/')
      reply.header('cache-control', hashed ? 'public, max-age=31536000, immutable' : 'no-cache')
    },
  })
  app.get('/*', (request, reply) => {
    if (/^\/(api|assets)\//.test(request.url)) return reply.callNotFound()
    return reply.sendFile('index.html')
  })
}
