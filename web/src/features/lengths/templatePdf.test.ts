// @vitest-environment node
import { layOutTemplate, type TemplateStrip } from '@cold-thread/core/open'
import { createCanvas } from '@napi-rs/canvas'
import { getDocument, type PDFDocumentProxy } from 'pdfjs-dist/legacy/build/pdf.mjs'
import { describe, expect, it } from 'vitest'
import { CodedError } from '@cold-thread/core/errors'
import { templatePdf } from './templatePdf.ts'

const DPI = 300
const PIXELS_PER_MM = DPI / 25.4

const strip: TemplateStrip = {
  name: 'Cable end',
  marks: [28, 51, 273, 600].map((at) => ({ at, label: `mark ${at}` })),
}

async function read(bytes: Uint8Array): Promise<PDFDocumentProxy> {
  return getDocument({ data: bytes, verbosity: 0, useSystemFonts: true }).promise
}

/** A page as a printer of 300 dpi sees it: whether a pixel is inked. */
async function rendered(pdf: PDFDocumentProxy, number: number) {
  const page = await pdf.getPage(number)
  const viewport = page.getViewport({ scale: DPI / 72 })
  const [width, height] = [Math.round(viewport.width), Math.round(viewport.height)]
  const canvas = createCanvas(width, height)
  const context = canvas.getContext('2d')
  context.fillStyle = '#fff'
  context.fillRect(0, 0, width, height)
  await page.render({ canvas: null, canvasContext: context as never, viewport }).promise
  const { data } = context.getImageData(0, 0, width, height)
  const inked = (x: number, y: number) => data[4 * (y * width + x)]! < 160
  return { inked, width, height }
}

/** Runs of inked pixels along a row, as [first, last]. */
function runs(inked: (x: number, y: number) => boolean, y: number, width: number): [number, number][] {
  const out: [number, number][] = []
  for (let x = 0; x < width; x++) {
    if (!inked(x, y)) continue
    const last = out.at(-1)
    if (last && last[1] === x - 1) last[1] = x
    else out.push([x, x])
  }
  return out
}

describe('template in true size, measured on the page rendered at 300 dpi by a PDF package', () => {
  it.each(['A4', 'Letter'] as const)('%s: the check bar is 100 mm within 0.2 mm on every page', async (paper) => {
    const pdf = await read(await templatePdf(strip, paper))
    const pages = layOutTemplate(strip, paper)
    expect(pdf.numPages).toBe(pages.length)
    for (const [i, { height }] of pages.entries()) {
      const { inked, width, height: pixels } = await rendered(pdf, i + 1)
      // ISO 216 and 8½ × 11 in, landscape.
      expect(width / PIXELS_PER_MM).toBeCloseTo(paper === 'A4' ? 297 : 279.4, 0)
      expect(pixels / PIXELS_PER_MM).toBeCloseTo(paper === 'A4' ? 210 : 215.9, 0)
      const barY = Math.round((height - 25) * PIXELS_PER_MM)
      const longest = [-2, -1, 0, 1, 2]
        .flatMap((by) => runs(inked, barY + by, width))
        .sort((a, b) => b[1] - b[0] - (a[1] - a[0]))[0]!
      // Between the middles of its end marks: the bar is as long as they stand apart, and half a line at each end.
      const ends = runs(inked, barY - Math.round(3 * PIXELS_PER_MM), width)
      const middles = ends.map(([a, b]) => (a + b) / 2)
      const measured = (middles.at(-1)! - middles[0]!) / PIXELS_PER_MM
      expect(ends).toHaveLength(2)
      expect(Math.abs(measured - 100)).toBeLessThan(0.2)
      expect(Math.abs((longest[1] - longest[0]) / PIXELS_PER_MM - 100)).toBeLessThan(0.7)
    }
  })

  it('marks stand at their distance from the end, within 0.2 mm over the page', async () => {
    const pdf = await read(await templatePdf(strip, 'A4'))
    const { inked, width } = await rendered(pdf, 1)
    // Above the rule only marks reach.
    const row = Math.round((78 - 11) * PIXELS_PER_MM)
    const found = runs(inked, row, width).map(([a, b]) => (a + b) / 2 / PIXELS_PER_MM - 12)
    for (const at of [28, 51]) expect(Math.min(...found.map((x) => Math.abs(x - at)))).toBeLessThan(0.2)
  })

  it.each(['A4', 'Letter'] as const)(
    '%s: every mark stands on its page, at its distance from the end',
    async (paper) => {
      const long: TemplateStrip = {
        name: 'Long end',
        marks: [40, 300, 512.5, 790].map((at) => ({ at, label: 'mark' })),
      }
      const pdf = await read(await templatePdf(long, paper))
      // White edges of 12 mm: a page of A4 shows 273 mm of the strip, one of Letter 255.4 mm.
      const shown = paper === 'A4' ? 273 : 255.4
      expect(pdf.numPages).toBe(Math.ceil(790 / shown))
      for (const { at } of long.marks) {
        const page = Math.floor(at / shown)
        const { inked, width } = await rendered(pdf, page + 1)
        const found = runs(inked, Math.round((78 - 11) * PIXELS_PER_MM), width)
        const places = found.map(([a, b]) => (a + b) / 2 / PIXELS_PER_MM - 12 + page * shown)
        expect(Math.min(...places.map((x) => Math.abs(x - at))), `${at} mm on page ${page + 1}`).toBeLessThan(0.2)
      }
    },
  )

  it('says its name, its lengths and how to print it', async () => {
    const pdf = await read(await templatePdf(strip, 'A4'))
    const page = await pdf.getPage(1)
    const text = (await page.getTextContent()).items.map((item) => ('str' in item ? item.str : '')).join(' ')
    expect(text).toContain('Cable end')
    expect(text).toContain('mark 28: 28 mm')
    expect(text).toContain('Print at 100 %')
    expect(text).toContain('This bar is 100 mm')
  })

  it('refuses a strip without marks', async () => {
    await expect(templatePdf({ name: 'nothing', marks: [] }, 'A4')).rejects.toThrow(CodedError)
  })
})
