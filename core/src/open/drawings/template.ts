import { CodedError } from '../../errors/index.ts'

/** Paper sizes, mm (ISO 216; ANSI letter: 8½ × 11 in). */
export const PAPERS = {
  A4: { width: 210, height: 297 },
  Letter: { width: 215.9, height: 279.4 },
} as const
export type Paper = keyof typeof PAPERS

/** Millimetres that printers leave white, at least. */
const MARGIN = 12
/** The check bar, mm. */
export const CHECK_BAR = 100

/** A strip to lay a fiber or cable on: marks from its end, mm. */
export interface TemplateStrip {
  name: string
  marks: { at: number; label: string }[]
}

export interface TemplateLine {
  x1: number
  y1: number
  x2: number
  y2: number
  weight: 'thin' | 'thick'
}

export interface TemplateText {
  x: number
  y: number
  text: string
  size: number
}

/** One sheet of paper in true size: mm from its upper left corner. */
export interface TemplatePage {
  width: number
  height: number
  /** mm of the strip that it shows. */
  from: number
  to: number
  lines: TemplateLine[]
  texts: TemplateText[]
}

/**
 * A strip in true size, on landscape paper, over as many pages as it takes; each has a check bar of 100 mm, and where it
 * goes on, a line to lay the next page on.
 * @throws CodedError for a strip without marks, or marks outside 0 to 5,000 mm
 */
export function layOutTemplate({ name, marks }: TemplateStrip, paper: Paper): TemplatePage[] {
  if (marks.length === 0) throw new CodedError('not-enough', 'a template needs a mark')
  const worst = marks.find(({ at }) => !(at >= 0 && at <= 5000))
  if (worst) throw new CodedError('out-of-range', `${worst.label}: ${worst.at} mm is not 0 to 5,000 mm`)
  const { width: height, height: width } = PAPERS[paper]
  const usable = width - 2 * MARGIN
  const length = Math.max(...marks.map(({ at }) => at))
  const count = Math.max(1, Math.ceil(length / usable - 1e-9))
  const sorted = [...marks].sort((a, b) => a.at - b.at)
  return Array.from({ length: count }, (_, i): TemplatePage => {
    const [from, to] = [i * usable, Math.min((i + 1) * usable, Math.max(length, 1))]
    const lines: TemplateLine[] = []
    const texts: TemplateText[] = []
    const x = (at: number) => MARGIN + at - from
    const baseY = 78
    const line = (x1: number, y1: number, x2: number, y2: number, weight: TemplateLine['weight'] = 'thin') =>
      lines.push({ x1, y1, x2, y2, weight })
    const text = (at: number, y: number, words: string, size = 3.2) => texts.push({ x: at, y, text: words, size })
    text(MARGIN, 20, name, 5)
    text(
      MARGIN,
      27,
      `True size. Page ${i + 1} of ${count}: ${Math.round(from)} to ${Math.round(to)} mm from the end. Print at 100 %, not fitted to the page.`,
    )
    line(x(from), baseY, x(to), baseY, 'thick')
    // A rule along it: each millimetre short, each tenth long.
    for (let at = Math.ceil(from - 1e-9); at <= to + 1e-9; at++) {
      const long = at % 10 === 0 ? 5 : at % 5 === 0 ? 3.5 : 2
      line(x(at), baseY, x(at), baseY - long)
      if (at % 10 === 0 && at < to - 3) text(x(at) + 0.5, baseY - 6, String(at), 2.4)
    }
    const here = sorted.filter(
      ({ at }) => at >= from - 1e-9 && (at < to - 1e-9 || (i === count - 1 && at <= to + 1e-9)),
    )
    here.forEach(({ at, label }, row) => {
      const y = baseY + 10 + row * 7
      line(x(at), baseY - 12, x(at), y, 'thick')
      const left = x(at) > width / 2
      text(left ? MARGIN : x(at) + 1.5, y, `${label}: ${Number(at.toFixed(1))} mm`)
      if (left) line(MARGIN + 60, y, x(at), y)
    })
    if (i > 0) text(x(from) + 1, baseY - 16, 'lay the page before up to this end')
    const barY = height - 25
    line(MARGIN, barY, MARGIN + CHECK_BAR, barY, 'thick')
    line(MARGIN, barY - 4, MARGIN, barY + 4, 'thick')
    line(MARGIN + CHECK_BAR, barY - 4, MARGIN + CHECK_BAR, barY + 4, 'thick')
    text(MARGIN, barY + 8, `This bar is ${CHECK_BAR} mm. Measure it before you use the template.`)
    return { width, height, from, to, lines, texts }
  })
}
