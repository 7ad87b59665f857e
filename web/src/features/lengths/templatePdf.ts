import { layOutTemplate, type Paper, type TemplateStrip } from '@cold-thread/core/open'
import { PDFDocument, rgb, StandardFonts } from 'pdf-lib'

/** Points in a millimetre (PDF: 72 to the inch of 25.4 mm; ISO 32000-1). */
const POINT = 72 / 25.4
const INK = rgb(0.05, 0.1, 0.15)
/** What the font of PDF viewers (WinAnsi, ISO 32000-1 annex D) does not have. */
const NOT_IN_FONT = /[^\x20-\x7e\xa0-\xff‘’“”–—…]/gu
const WEIGHT = { thin: 0.2, thick: 0.5 } as const

/** A strip in true size as PDF: one page of paper for each part of it. @throws CodedError as {@link layOutTemplate} */
export async function templatePdf(strip: TemplateStrip, paper: Paper): Promise<Uint8Array> {
  const pages = layOutTemplate(strip, paper)
  const pdf = await PDFDocument.create()
  pdf.setTitle(`${strip.name}, true size`)
  // Viewers then offer it at 100 %.
  pdf.catalog.getOrCreateViewerPreferences().setPrintScaling('None' as never)
  const font = await pdf.embedFont(StandardFonts.Helvetica)
  for (const { width, height, lines, texts } of pages) {
    const page = pdf.addPage([width * POINT, height * POINT])
    for (const { x1, y1, x2, y2, weight } of lines)
      page.drawLine({
        start: { x: x1 * POINT, y: (height - y1) * POINT },
        end: { x: x2 * POINT, y: (height - y2) * POINT },
        thickness: WEIGHT[weight] * POINT,
        color: INK,
      })
    for (const { x, y, text, size } of texts)
      page.drawText(text.replace(NOT_IN_FONT, '?'), {
        x: x * POINT,
        y: (height - y) * POINT,
        size: size * POINT,
        font,
        color: INK,
      })
  }
  return pdf.save()
}
