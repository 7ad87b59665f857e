/** What a scanned code means to this app: a page of it, or why it is none. */
export type Scanned = { path: string } | { problem: string }

/** Pages that tags and phones are given the address of. */
const OURS = /^\/(callouts\/[0-9a-f-]{36}|at\/[^/]+)(\/[a-z]+)?$/

/**
 * Reads the text of a code.
 * @param own origins under which this very installation is reached
 */
export function readCode(text: string, own: readonly string[]): Scanned {
  if (!URL.canParse(text)) return { problem: `This code is not a place of ours: “${text.slice(0, 80)}”.` }
  const { origin, pathname } = new URL(text)
  if (!OURS.test(pathname)) return { problem: `This code leads elsewhere: ${text.slice(0, 80)}.` }
  if (!own.includes(origin)) return { problem: `This tag is of another installation: ${origin}.` }
  return { path: pathname }
}

/** The text of a QR code in a picture, null when none is seen. Source: ISO/IEC 18004, by a general-purpose decoder. */
export async function findCode({ data, width, height }: ImageData): Promise<string | null> {
  const { default: jsQR } = await import('jsqr')
  return jsQR(data, width, height)?.data ?? null
}

/** Longest side at which a picture is searched, pixels: a code fills a good part of it. */
const SEARCHED = 1000

/** Pixels of a picture or of a camera's present frame. */
export function pixelsOf(source: CanvasImageSource, width: number, height: number): ImageData | null {
  const scale = Math.min(1, SEARCHED / Math.max(width, height, 1))
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(width * scale))
  canvas.height = Math.max(1, Math.round(height * scale))
  const context = canvas.getContext('2d', { willReadFrequently: true })
  if (!context) return null
  context.drawImage(source, 0, 0, canvas.width, canvas.height)
  return context.getImageData(0, 0, canvas.width, canvas.height)
}
