import type { Browser, Page } from '@playwright/test'

interface TraceRecord {
  name: string
  ph: string
  /** µs */
  ts: number
  dur?: number
  /** of the thread's own time, without what other processes took of it */
  tdur?: number
  pid: number
  tid: number
  args?: { name?: string }
}

/** Parts of the main thread's work, by the names the browser gives them. */
const PARTS: Record<string, string[]> = {
  script: ['FunctionCall', 'FireAnimationFrame', 'EventDispatch'],
  style: ['UpdateLayoutTree'],
  layout: ['Layout'],
  paint: ['Paint', 'PrePaint', 'Layerize', 'Commit'],
}

/** Milliseconds that the page's main thread worked from each mark to the next, in its own time: the whole, and by part. */
function framesOf(records: readonly TraceRecord[]): { whole: number; parts: Record<string, number> }[] {
  const marks = records.filter((record) => record.name === 'frame' && record.ph !== 'E').sort((a, b) => a.ts - b.ts)
  const main = records.filter((record) => record.pid === marks[0]!.pid && record.tid === marks[0]!.tid && record.dur)
  const during = (names: readonly string[], from: number, to: number) => {
    let sum = 0
    let until = 0
    for (const { name, ts, dur, tdur } of main) {
      if (ts < from || ts >= to || ts < until || !names.includes(name)) continue
      sum += (tdur ?? dur!) / 1000
      until = ts + dur!
    }
    return sum
  }
  main.sort((a, b) => a.ts - b.ts)
  return marks.slice(0, -1).map((mark, k) => {
    const to = marks[k + 1]!.ts
    const parts = Object.fromEntries(Object.entries(PARTS).map(([part, names]) => [part, during(names, mark.ts, to)]))
    return { whole: during(['RunTask', 'ThreadControllerImpl::RunTask'], mark.ts, to), parts }
  })
}

/** Prints what each frame from mark to mark cost the page's main thread while some work was done. */
export async function printFrames(
  browser: Browser,
  page: Page,
  name: string,
  work: () => Promise<void>,
): Promise<void> {
  await browser.startTracing(page, { categories: ['toplevel', 'devtools.timeline', 'blink.user_timing'] })
  await work()
  const { traceEvents } = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: TraceRecord[] }
  const frames = framesOf(traceEvents)
  const at = (values: number[], part: number) =>
    values.sort((a, b) => a - b)[Math.floor(part * values.length)]!.toFixed(1)
  const whole = frames.map((frame) => frame.whole)
  console.log(
    `\n${name}: main thread per frame, ms: median ${at(whole, 0.5)}, 95 % ${at(whole, 0.95)}, longest ${at(whole, 0.999)}`,
  )
  const together = frames.map(({ parts }) => Object.values(parts).reduce((a, b) => a + b, 0))
  console.log(`  script, style, layout and paint together: median ${at(together, 0.5)}, 95 % ${at(together, 0.95)}`)
  for (const part of Object.keys(PARTS)) {
    const values = frames.map((frame) => frame.parts[part]!)
    console.log(`  ${part}: median ${at(values, 0.5)}, 95 % ${at(values, 0.95)}`)
  }
}

/** Sends something as the person who is signed in. */
export async function send(page: Page, path: string, body: string | Uint8Array): Promise<void> {
  const binary = typeof body !== 'string'
  const text = binary ? Buffer.from(body).toString('base64') : body
  const status = await page.evaluate(
    async ({ path, text, binary }) => {
      const payload = binary ? Uint8Array.from(atob(text), (character) => character.charCodeAt(0)) : text
      const type = binary ? 'application/octet-stream' : 'application/json'
      return (await fetch(path, { method: 'PUT', body: payload, headers: { 'content-type': type } })).status
    },
    { path, text, binary },
  )
  if (status !== 200) throw new Error(`${path}: ${status}`)
}
