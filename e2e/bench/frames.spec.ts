import { plantBehindRecords, shootLink, standInSeed } from '@cold-thread/core/sim'
import { OTTERMERE } from '@cold-thread/demo'
import { test, type Page } from '@playwright/test'
import { randomUUID } from 'node:crypto'
import { signIn } from '../tests/signIn.ts'

const LINK = 'gauge-telemetry'
const POINTS = 256_000
const STEPS = 120

/** Baseline and present from both ends, 256,000 points each. */
function traces(): { role: 'baseline' | 'present'; direction: 'ab' | 'ba'; content: Uint8Array }[] {
  const seed = standInSeed(OTTERMERE)
  const truth = plantBehindRecords(OTTERMERE, seed)
  const range = 19_000
  return (['baseline', 'present'] as const).flatMap((role, k) =>
    (['ab', 'ba'] as const).map((direction, i) => ({
      role,
      direction,
      content: shootLink(
        truth,
        LINK,
        { seed },
        {
          direction,
          wavelength: 1550,
          cords: { launch: 500, receive: 500 },
          takenAt: '2026-03-01T00:00:00Z',
          condition: 'OT',
          seed: 10 * k + i,
          damages: role === 'present' ? [{ at: { chainage: 35_000 }, breaks: false, loss: 0.6 }] : [],
          settings: { pulseWidth: 30e-9, spacing: range / POINTS, range, averages: 2 ** 15 },
        },
      ),
    })),
  )
}

async function send(page: Page, path: string, body: string | Uint8Array): Promise<void> {
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

test('frames of zoom and pan with four traces of 256,000 points', async ({ page, browser }) => {
  await signIn(page, 'lead')
  const callout = randomUUID()
  await send(
    page,
    `/api/callouts/${callout}`,
    JSON.stringify({ linkId: LINK, title: 'Frames', alarm: '', practiceSeed: null }),
  )
  for (const { role, direction, content } of traces()) {
    const path = role === 'baseline' ? `/api/links/${LINK}/baselines` : `/api/callouts/${callout}/traces`
    const query = `fileName=${role}-${direction}.sor&role=${role}&direction=${direction}&launchCord=500&receiveCord=500`
    await send(page, `${path}/${randomUUID()}?${query}`, content)
  }
  await page.goto(`/callouts/${callout}/locate`)
  await page.getByRole('heading', { name: 'The thread' }).waitFor({ timeout: 60_000 })
  const thread = page.getByRole('group', { name: /^Thread view/ })
  await thread.scrollIntoViewIfNeeded()
  await thread.focus()
  await page.waitForTimeout(1500)
  for (const [name, keys] of [
    ['zoom', ['+', '+', '+', '+', '-', '-', '-', '-']],
    ['pan', ['+', 'ArrowRight', 'ArrowRight', 'ArrowLeft', 'ArrowLeft', '-']],
  ] as const) {
    await browser.startTracing(page, { categories: ['toplevel', 'devtools.timeline', 'blink.user_timing'] })
    // The page steps itself, a key in each frame, so that nothing of the test's own lies in the figures.
    await thread.evaluate(
      (element, { keys, steps }) =>
        new Promise<void>((done) => {
          let k = 0
          const step = () => {
            performance.mark('frame')
            if (k === steps) return done()
            element.dispatchEvent(new KeyboardEvent('keydown', { key: keys[k++ % keys.length]!, bubbles: true }))
            requestAnimationFrame(() => setTimeout(step))
          }
          step()
        }),
      { keys, steps: STEPS },
    )
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
})
