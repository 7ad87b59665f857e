import {
  endFaceRule,
  radiusAt,
  type ConnectorClass,
  type EndFaceView,
  type FeatureMark,
} from '@cold-thread/core/endFace'

/** Dashes tell marks apart, and their number; colour only helps. */
const INK: Record<FeatureMark, { color: string; dash: number[] }> = {
  over: { color: '#ff7043', dash: [] },
  close: { color: '#ffd54f', dash: [8, 5] },
  fine: { color: '#80deea', dash: [2, 4] },
}

/** Where a zone's letter stands on its circle, so that none covers another, radians. */
const NAMED_AT = { A: 1.1, B: 0.9, C: 0.1, D: 0.8 } as const

/** Draws a picture with its zones, and what was found numbered as in the list. */
export function drawMarked(canvas: HTMLCanvasElement, view: EndFaceView, connector: ConnectorClass): void {
  const { picture, fiber, features, grade } = view
  const { width, height, data } = picture
  canvas.width = width
  canvas.height = height
  const context = canvas.getContext('2d')
  if (!context) return
  const image = context.createImageData(width, height)
  for (let i = 0; i < data.length; i++) {
    const level = data[i]!
    image.data.set([level, level, level, 255], 4 * i)
  }
  context.putImageData(image, 0, 0)
  const thick = Math.max(1.5, width / 640)
  const { outline, scale } = fiber
  /** Light on dark, so that it is seen on any gray. */
  const stroke = (color: string, dash: readonly number[], path: () => void) => {
    for (const [ink, wide] of [
      ['#000000a0', 2.2 * thick],
      [color, thick],
    ] as const) {
      context.beginPath()
      context.setLineDash(ink === color ? dash.map((one) => one * thick) : [])
      context.strokeStyle = ink
      context.lineWidth = wide
      path()
      context.stroke()
    }
  }
  const fontSize = Math.round(14 * thick)
  context.font = `600 ${fontSize}px sans-serif`
  const write = (text: string, x: number, y: number, color: string) => {
    context.lineWidth = 3 * thick
    context.setLineDash([])
    context.strokeStyle = '#000000c0'
    context.strokeText(text, x, y)
    context.fillStyle = color
    context.fillText(text, x, y)
  }
  const around = (radius: number) => {
    for (let k = 0; k <= 180; k++) {
      const angle = (2 * Math.PI * k) / 180
      const r = (radius / scale / outline.radius) * radiusAt(outline, angle)
      context.lineTo(outline.x + r * Math.cos(angle), outline.y + r * Math.sin(angle))
    }
  }
  for (const { zone, to } of endFaceRule(connector)?.zones ?? []) {
    stroke('#ffffffb0', [], () => around(to / 2))
    const [r, angle] = [to / 2 / scale, NAMED_AT[zone]]
    write(zone, outline.x + r * Math.cos(angle) + 2 * thick, outline.y - r * Math.sin(angle), '#ffffff')
  }
  for (const [i, { x, y, size, ends }] of features.entries()) {
    const { color, dash } = INK[grade.marks[i] ?? 'fine']
    const at = (u: number, v: number) => [outline.x + u / scale, outline.y + v / scale] as const
    if (ends)
      stroke(color, dash, () => {
        context.moveTo(...at(ends[0], ends[1]))
        context.lineTo(...at(ends[2], ends[3]))
      })
    else
      stroke(color, dash, () => {
        const [cx, cy] = at(x, y)
        context.arc(cx, cy, Math.max(size / 2 / scale, 3) + 3 * thick, 0, 2 * Math.PI)
      })
    const [tx, ty] = at(x, y)
    write(String(i + 1), tx + Math.max(size / 2 / scale, 3) + 4 * thick, ty - 4 * thick, color)
  }
}
