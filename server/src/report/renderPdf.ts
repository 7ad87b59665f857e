import { createRequire } from 'node:module'
import pdfmake from 'pdfmake'
import type { TDocumentDefinitions } from 'pdfmake/interfaces.js'

const require = createRequire(import.meta.url)
const font = (weight: number) =>
  require.resolve(`@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-${weight}-normal.woff`)
const FONTS = { Text: { normal: font(400), bold: font(700) } }

pdfmake.setFonts(FONTS)
// Nothing of a report is fetched, and no file is read but its fonts.
pdfmake.setUrlAccessPolicy(() => false)
pdfmake.setLocalAccessPolicy((path) => Object.values(FONTS.Text).includes(path))

/** A document as PDF, its fonts embedded. */
export function renderPdf(document: TDocumentDefinitions): Promise<Buffer> {
  return pdfmake.createPdf(document).getBuffer()
}
