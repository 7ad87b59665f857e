import { account, credentials, firstAccount, newAccount, id, sessionState } from '@cold-thread/contract'
import type { FastifyRequest } from 'fastify'
import type { Sequelize } from 'sequelize'
import { z } from 'zod'
import { AppError } from '../errors.ts'
import { LEADS, EVERYBODY, SESSION_COOKIE, setSessionCookie } from '../plugins/access.ts'
import { addAccount, addFirstAccount, checkCredentials, hasAccounts, listAccounts } from '../stores/accounts.ts'
import { closeSession, openSession } from '../stores/sessions.ts'
import { answers, type App } from './schema.ts'

export function sessionRoutes(
  app: App,
  options: { sequelize: Sequelize; isSecure(request: FastifyRequest): boolean; signInsPerMinute: number },
): void {
  app.get(
    '/api/session',
    { config: { access: 'anyone' }, schema: { response: answers(sessionState) } },
    async (request) => ({
      setUp: await hasAccounts(),
      account: request.account,
    }),
  )

  app.post(
    '/api/session',
    {
      config: {
        access: 'anyone',
        rateLimit: {
          max: options.signInsPerMinute,
          timeWindow: '1 minute',
          hook: 'preHandler',
          keyGenerator: (request) => `${request.ip} ${(request.body as { name?: string }).name ?? ''}`,
        },
      },
      schema: { body: credentials, response: answers(sessionState) },
    },
    async (request, reply) => {
      const found = await checkCredentials(request.body.name, request.body.password)
      if (!found) throw new AppError('wrong-credentials')
      setSessionCookie(reply, await openSession(found.id, new Date()), options.isSecure(request))
      return { setUp: true, account: found }
    },
  )

  app.delete(
    '/api/session',
    { config: { access: EVERYBODY }, schema: { response: answers(sessionState) } },
    async (request, reply) => {
      await closeSession(request.cookies[SESSION_COOKIE]!)
      reply.clearCookie(SESSION_COOKIE, { path: '/' })
      return { setUp: true, account: null }
    },
  )

  app.post(
    '/api/setup',
    { config: { access: 'anyone' }, schema: { body: firstAccount, response: answers(sessionState) } },
    async (request, reply) => {
      const made = await addFirstAccount(options.sequelize, request.body)
      setSessionCookie(reply, await openSession(made.id, new Date()), options.isSecure(request))
      return { setUp: true, account: made }
    },
  )

  app.get('/api/accounts', { config: { access: EVERYBODY }, schema: { response: answers(z.array(account)) } }, () =>
    listAccounts(),
  )

  app.put(
    '/api/accounts/:id',
    {
      config: { access: LEADS },
      schema: { params: z.object({ id }), body: newAccount.omit({ id: true }), response: answers(account) },
    },
    (request) => addAccount({ ...request.body, id: request.params.id }),
  )
}
