import { THRUSHMERE } from '@cold-thread/demo'
import { expect, test } from '@playwright/test'
import { signInByForm } from '../harness/signIn.ts'
import { printFrames, send } from './mainThread.ts'
import { stageLink } from '../harness/stageLink.ts'

/** The cable of the broken links, grown to so many fibers. */
const CABLE = 'TN-3'
const FIBERS = 864
const STEPS = 150

test('frames while a cable of 864 fibers is scheduled, and while its order of work is dragged', async ({
  page,
  browser,
}) => {
  await signInByForm(page, 'lead')
  const plant = structuredClone(THRUSHMERE)
  plant.cables.find(({ id }) => id === CABLE)!.fiberCount = FIBERS
  await send(page, '/api/plant', JSON.stringify({ bundle: plant, version: 1 }))
  await page.goto('/')
  await page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
  await stageLink(page, 'Plan').click()
  await page.getByRole('radio', { name: 'New section with two closures' }).waitFor({ timeout: 120_000 })
  await printFrames(browser, page, 'scheduling', async () => {
    await page.getByRole('radio', { name: 'New section with two closures' }).click()
    await page.getByRole('button', { name: /^Then: / }).click()
    await page.evaluate(
      `new Promise((done) => {
        const begun = performance.now()
        const step = () => {
          performance.mark('frame')
          const busy = document.querySelector('[aria-label="Scheduling"]')
          if (performance.now() - begun > 40000 || (performance.now() - begun > 2000 && !busy)) return done()
          requestAnimationFrame(() => setTimeout(step))
        }
        step()
      })`,
    )
  })
  await expect(page.getByRole('progressbar', { name: 'Scheduling' })).toHaveCount(0, { timeout: 120_000 })
  const list = page.getByRole('list', { name: 'Order of work' })
  const rows = list.getByRole('listitem')
  console.log(`${await rows.first().getAttribute('aria-setsize')} lines, ${await rows.count()} laid out`)
  const handle = list.getByRole('button', { name: /^Move: / }).nth(6)
  await handle.scrollIntoViewIfNeeded()
  await handle.hover()
  await printFrames(browser, page, 'drag', async () => {
    await handle.evaluate(
      (element, steps) =>
        new Promise<void>((done) => {
          const { x, y } = element.getBoundingClientRect()
          const at = (k: number) => ({
            clientX: x + 10,
            clientY: y + 10 + 100 * Math.sin(k / 12),
            bubbles: true,
            isPrimary: true,
            button: 0,
            pointerId: 1,
          })
          element.dispatchEvent(new PointerEvent('pointerdown', at(0)))
          let k = 0
          const step = () => {
            performance.mark('frame')
            if (k === steps) {
              document.dispatchEvent(new PointerEvent('pointercancel', at(k)))
              return done()
            }
            document.dispatchEvent(new PointerEvent('pointermove', at(k++)))
            requestAnimationFrame(() => setTimeout(step))
          }
          step()
        }),
      STEPS,
    )
  })
})
