import { plantBehindRecords, shootLink, standInSeed } from '@cold-thread/core/sim'
import { THRUSHMERE } from '@cold-thread/demo'
import { test } from '@playwright/test'
import { randomUUID } from 'node:crypto'
import { signInByForm } from '../harness/signIn.ts'
import { printFrames, send } from './mainThread.ts'

const LINK = 'gauge-telemetry'
const POINTS = 256_000
const STEPS = 120

/** Baseline and present from both ends, 256,000 points each. */
function traces(): { role: 'baseline' | 'present'; direction: 'ab' | 'ba'; content: Uint8Array }[] {
  const seed = standInSeed(THRUSHMERE)
  const truth = plantBehindRecords(THRUSHMERE, seed)
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

test('frames of zoom and pan with four traces of 256,000 points', async ({ page, browser }) => {
  await signInByForm(page, 'lead')
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
    // The page steps itself, a key in each frame, so that nothing of the test's own lies in the figures.
    await printFrames(browser, page, name, () =>
      thread.evaluate(
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
      ),
    )
  }
})
