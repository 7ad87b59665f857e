import { ROLES, type Account, type Role } from '@cold-thread/contract'
import { Fault } from '@cold-thread/core/errors'
import cookie from '@fastify/cookie'
import type { FastifyReply, FastifyRequest } from 'fastify'
import plugin from 'fastify-plugin'
import { AppError } from '../errors.ts'
import { accountOfSession, SESSION_HOURS } from '../stores/sessions.ts'

/** Who may call a route: anyone, or accounts of these roles. Every route says so. */
export type Access = 'anyone' | readonly Role[]

export const EVERYBODY: readonly Role[] = ROLES
export const FIELD: readonly Role[] = ['technician', 'lead']
export const RECORDS: readonly Role[] = ['records keeper', 'lead']
export const FIELD_AND_RECORDS: readonly Role[] = ['technician', 'lead', 'records keeper']
export const LEADS: readonly Role[] = ['lead']

declare module 'fastify' {
  interface FastifyContextConfig {
    access?: Access
  }
  interface FastifyRequest {
    account: Account | null
  }
}

export const SESSION_COOKIE = 'cold_thread_session'

export function setSessionCookie(reply: FastifyReply, token: string, secure: boolean): void {
  // Kept as long as the session holds: a browser that was killed in the field comes back signed in.
  reply.setCookie(SESSION_COOKIE, token, {
    path: '/',
    httpOnly: true,
    sameSite: 'strict',
    secure,
    maxAge: SESSION_HOURS * 3600,
  })
}

/** The signed-in account of a request whose route demands one. */
export function accountOf(request: FastifyRequest): Account {
  if (!request.account) throw new AppError('not-signed-in')
  return request.account
}

const READING = new Set(['GET', 'HEAD', 'OPTIONS'])

/**
 * Sessions, rights and origin. Runs before the body is read, so that nobody without right can send one.
 * A route that does not name its access does not start.
 */
export const access = plugin(
  async (app, { publicAddress }: { publicAddress: string | undefined }) => {
    await app.register(cookie)
    app.decorateRequest('account', null)
    app.addHook('onRoute', (route) => {
      if (route.url.startsWith('/api') && route.config?.access === undefined)
        throw new Fault(`route ${String(route.method)} ${route.url} does not say who may call it`)
    })
    app.addHook('onRequest', async (request) => {
      const allowed = request.routeOptions.config.access
      if (allowed === undefined) return
      if (!READING.has(request.method)) refuseForeignOrigin(request, publicAddress)
      const token = request.cookies[SESSION_COOKIE]
      if (token) request.account = await accountOfSession(token, new Date())
      if (allowed === 'anyone') return
      if (!request.account) throw new AppError('not-signed-in')
      if (!allowed.includes(request.account.role))
        throw new AppError('no-right', `this takes the role ${allowed.join(' or ')}`)
    })
  },
  { name: 'access' },
)

/** A write must come from a page of this very site. */
function refuseForeignOrigin(request: FastifyRequest, publicAddress: string | undefined): void {
  const { origin } = request.headers
  // Behind a trusted proxy this is the host that the browser asked for.
  const own = new Set([request.host, publicAddress && new URL(publicAddress).host])
  const from = origin !== undefined && URL.canParse(origin) ? new URL(origin).host : null
  if (from === null || !own.has(from)) throw new AppError('foreign-origin')
}
