import { plantBehindRecords, shootLink, standInSeed } from '@cold-thread/core/sim'
import { OTTERMERE } from '@cold-thread/demo'
import { test, type CDPSession, type Page } from '@playwright/test'
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

/** Seconds that the page's main thread has worked so far: script, style, layout and painting. */
async function worked(session: CDPSession): Promise<number> {
  const { metrics } = await session.send('Performance.getMetrics')
  return metrics.find(({ name }) => name === 'TaskDuration')!.value
}

test('frames of zoom and pan with four traces of 256,000 points', async ({ page }) => {
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
  const session = await page.context().newCDPSession(page)
  await session.send('Performance.enable')
  for (const [name, keys] of [
    ['zoom', ['+', '+', '+', '+', '-', '-', '-', '-']],
    ['pan', ['+', 'ArrowRight', 'ArrowRight', 'ArrowLeft', 'ArrowLeft', '-']],
  ] as const) {
    const milliseconds: number[] = []
    for (let k = 0; k < STEPS; k++) {
      const before = await worked(session)
      await thread.press(keys[k % keys.length]!)
      await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))))
      milliseconds.push(1000 * ((await worked(session)) - before))
    }
    milliseconds.sort((a, b) => a - b)
    const at = (part: number) => milliseconds[Math.floor(part * milliseconds.length)]!.toFixed(1)
    console.log(`\n${name}: main thread per step, ms: median ${at(0.5)}, 95 % ${at(0.95)}, longest ${at(0.999)}`)
  }
})
