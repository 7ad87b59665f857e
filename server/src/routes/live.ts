import { id } from '@cold-thread/contract'
import { z } from 'zod'
import type { Live, LiveEvent } from '../live.ts'
import { EVERYBODY } from '../plugins/access.ts'
import { requireCallout } from '../stores/callouts.ts'
import type { App } from './schema.ts'

const HEARTBEAT_MS = 15_000

declare module 'fastify' {
  interface FastifyRequest {
    /** What a write changed, where its address does not say so. */
    changed: { calloutId: string; change: LiveEvent['change'] } | null
  }
}

/** Which part of a callout a write to an address changes; null for others. */
export function changeOf(url: string): { calloutId: string; change: LiveEvent['change'] } | null {
  const match = /^\/api\/callouts\/([^/?]+)(?:\/([^/?]+))?/.exec(url)
  if (!match) return null
  const changes: Record<string, LiveEvent['change']> = {
    observations: 'log',
    traces: 'traces',
    shots: 'traces',
    plans: 'plans',
    survey: 'survey',
    'sign-off': 'sign-off',
    attachments: 'attachments',
  }
  return { calloutId: match[1]!, change: match[2] === undefined ? 'callout' : (changes[match[2]] ?? 'callout') }
}

/** Server-sent events (WHATWG HTML, server-sent events) on one callout, resumed by `Last-Event-ID`. */
export function liveRoutes(app: App, live: Live): void {
  app.decorateRequest('changed', null)
  app.addHook('onResponse', async (request, reply) => {
    if (request.method === 'GET' || reply.statusCode >= 300) return
    const changed = request.changed ?? changeOf(request.url)
    if (changed) live.tell(changed.calloutId, changed.change)
  })

  app.get(
    '/api/callouts/:id/live',
    { config: { access: EVERYBODY }, schema: { params: z.object({ id }), hide: true } },
    async (request, reply) => {
      const { id: calloutId } = await requireCallout(request.params.id)
      reply.hijack()
      const { raw } = reply
      raw.writeHead(200, {
        'content-type': 'text/event-stream',
        'cache-control': 'no-store',
        connection: 'keep-alive',
        'x-accel-buffering': 'no',
      })
      const write = (event: LiveEvent) => {
        if (event.calloutId === calloutId) raw.write(`id: ${live.idOf(event)}\ndata: ${event.change}\n\n`)
      }
      const lastId = request.headers['last-event-id']
      const missed = typeof lastId === 'string' && lastId !== '' ? live.since(lastId) : []
      raw.write('retry: 1000\n\n')
      if (missed === null) raw.write('data: everything\n\n')
      else missed.forEach(write)
      const stop = live.listen(write)
      const beat = setInterval(() => raw.write(': still here\n\n'), HEARTBEAT_MS)
      request.raw.on('close', () => {
        clearInterval(beat)
        stop()
      })
    },
  )
}
