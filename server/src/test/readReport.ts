import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs'
import { expect } from 'vitest'
import { HOST, type TestServer } from './index.ts'

/** Words of each page by a general PDF package, and what the file says of itself. */
export async function readReport(server: TestServer, calloutId: string, paper = '') {
  const reply = await server.app.inject({
    method: 'GET',
    url: `/api/callouts/${calloutId}/report.pdf${paper}`,
    headers: { host: HOST, cookie: server.cookies.technician },
  })
  expect([reply.statusCode, reply.headers['content-type']]).toEqual([200, 'application/pdf'])
  const bytes = reply.rawPayload
  const pdf = await getDocument({ data: new Uint8Array(bytes), verbosity: 0 }).promise
  const pages: string[] = []
  for (let i = 1; i <= pdf.numPages; i++) {
    const { items } = await (await pdf.getPage(i)).getTextContent()
    const words = items.map((item) => ('str' in item ? item.str : '')).join(' ')
    // Lines may break behind a hyphen.
    pages.push(words.replaceAll(/\s+/g, ' ').replaceAll(/(\w)- /g, '$1-'))
  }
  const { view } = await pdf.getPage(1)
  return { text: pages.join(' '), pages, size: view.slice(2), bytes }
}
