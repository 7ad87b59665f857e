import { closureHistory as historyAnswer, openBookRecord, openBookWrite } from '@cold-thread/contract'
import { z } from 'zod'
import { accountOf, EVERYBODY, FIELD_AND_RECORDS } from '../plugins/access.ts'
import { currentOpenBook, saveOpenBook } from '../stores/openBooks.ts'
import { requirePlant } from '../stores/plants.ts'
import { closureHistory } from '../stores/runSheets.ts'
import { AppError } from '../errors.ts'
import { answers, type App } from './schema.ts'

export function openRoutes(app: App): void {
  app.get('/api/open-book', { config: { access: EVERYBODY }, schema: { response: answers(openBookRecord) } }, () =>
    currentOpenBook(),
  )

  app.put(
    '/api/open-book',
    { config: { access: FIELD_AND_RECORDS }, schema: { body: openBookWrite, response: answers(openBookRecord) } },
    (request) => saveOpenBook(request.body.book, request.body.version, accountOf(request).displayName, new Date()),
  )

  app.get(
    '/api/closures/:node/history',
    {
      config: { access: EVERYBODY },
      schema: { params: z.object({ node: z.string().min(1).max(200) }), response: answers(historyAnswer) },
    },
    async (request) => {
      const { node } = request.params
      const plant = await requirePlant()
      if (!plant.nodes.some(({ id }) => id === node))
        throw new AppError('not-found', `the plant record has no node "${node}"`)
      return closureHistory(node)
    },
  )
}
