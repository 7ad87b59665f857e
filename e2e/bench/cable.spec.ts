import { THRUSHMERE, repairedFiles, SURVEY } from '@cold-thread/demo'
import { expect, test, type Page } from '@playwright/test'
import { execSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { signInByForm } from '../harness/signIn.ts'
import { printFrames } from './mainThread.ts'

const CABLE = 'TN-4'
const FIBERS = 864
/** Fibers that were shot: every other one of the cable gets one of their traces. */
const SHOT = 24
const WAVELENGTHS = [1310, 1550]
const AT_A_TIME = 6
const STEPS = 200

/** Puts things to the server, a few at a time. */
async function putAll(page: Page, items: readonly { path: string; body: Uint8Array }[]): Promise<void> {
  const open = [...items]
  const putter = async () => {
    for (let one = open.shift(); one; one = open.shift()) {
      const reply = await page.request.put(one.path, {
        data: Buffer.from(one.body),
        headers: { 'content-type': 'application/octet-stream', origin: new URL(page.url()).origin },
        timeout: 60_000,
      })
      if (!reply.ok()) throw new Error(`${one.path}: ${reply.status()} ${await reply.text()}`)
    }
  }
  await Promise.all(Array.from({ length: AT_A_TIME }, putter))
}

/** MB that the server's process has in memory. */
function serverMegabytes(port: string): number {
  const pid = execSync(`ss -ltnpH "sport = :${port}" | grep -o "pid=[0-9]*" | head -1`).toString().trim().slice(4)
  return Number(execSync(`ps -o rss= -p ${pid}`).toString()) / 1024
}

const seconds = (since: number) => ((performance.now() - since) / 1000).toFixed(1)

test('864 fibers, two wavelengths, both ends: verdicts, table and report', async ({ page, browser }) => {
  test.setTimeout(1_500_000)
  await signInByForm(page, 'lead')
  const { origin, port } = new URL(page.url())
  const plant = structuredClone(THRUSHMERE)
  plant.cables.find(({ id }) => id === CABLE)!.fiberCount = FIBERS
  const along = plant.links.find(({ id }) => id === SURVEY.linkId)!
  const linkOf = (fiber: number) => `bench-${fiber}`
  for (let fiber = 1; fiber <= FIBERS; fiber++)
    plant.links.push({
      ...along,
      id: linkOf(fiber),
      name: `Bench fiber ${fiber}`,
      circuits: [],
      path: along.path.map((step) => ('cable' in step ? { ...step, fiber } : step)),
    })
  const put = (path: string, data: unknown) => page.request.put(path, { data, headers: { origin } })
  expect((await put('/api/plant', { bundle: plant, version: 1 })).ok()).toBe(true)
  const callout = randomUUID()
  await put(`/api/callouts/${callout}`, { linkId: linkOf(1), title: 'All fibers', alarm: '', practiceSeed: null })

  const files = repairedFiles(
    new Date('2026-03-01T09:10:00Z'),
    Array.from({ length: SHOT }, (_, k) => k + 20),
    WAVELENGTHS,
  )
  const perFiber = WAVELENGTHS.length * 2
  const traces = Array.from({ length: FIBERS * perFiber }, (_, k) => {
    const fiber = Math.floor(k / perFiber) + 1
    return { ...files[(((fiber - 1) % SHOT) * perFiber + (k % perFiber)) % files.length]!, own: fiber }
  })
  const cords = (direction: string) => `direction=${direction}&launchCord=500&receiveCord=500`
  let begun = performance.now()
  await putAll(
    page,
    traces.map(({ own, fileName, direction, content }) => ({
      path: `/api/links/${linkOf(own)}/baselines/${randomUUID()}?fileName=${fileName}&role=baseline&${cords(direction)}`,
      body: content,
    })),
  )
  console.log(`${traces.length} baselines in: ${seconds(begun)} s`)
  begun = performance.now()
  await putAll(
    page,
    traces.map(({ own, fileName, direction, content }) => ({
      path: `/api/callouts/${callout}/survey/${randomUUID()}?fileName=${fileName}&fiber=${own}&role=after&${cords(direction)}`,
      body: content,
    })),
  )
  console.log(`${traces.length} traces after the repair in: ${seconds(begun)} s`)

  begun = performance.now()
  let most = 0
  for (;;) {
    const asked = performance.now()
    const record = (await (await page.request.get(`/api/callouts/${callout}/cable-proof`)).json()) as {
      done: number
      of: number
    }
    most = Math.max(most, performance.now() - asked)
    if (record.done === record.of) break
    await page.waitForTimeout(2000)
  }
  console.log(`${FIBERS} verdicts: ${seconds(begun)} s; longest answer meanwhile ${(most / 1000).toFixed(2)} s`)
  console.log(`server: ${serverMegabytes(port).toFixed(0)} MB`)

  begun = performance.now()
  let peak = 0
  const watch = setInterval(() => (peak = Math.max(peak, serverMegabytes(port))), 250)
  const report = await page.request.get(`/api/callouts/${callout}/report.pdf`, { timeout: 120_000 })
  expect(report.ok()).toBe(true)
  const megabytes = (await report.body()).length / 1e6
  clearInterval(watch)
  console.log(`report: ${seconds(begun)} s, ${megabytes.toFixed(1)} MB; server at most ${peak.toFixed(0)} MB meanwhile`)

  // Four figures a fiber, as of four wavelengths: 3456 rows.
  await page.route('**/cable-proof', async (route) => {
    const answer = await route.fetch()
    const record = (await answer.json()) as { proof: { fibers: { totals: { wavelength: number }[] }[] } }
    for (const fiber of record.proof.fibers)
      fiber.totals.push(...fiber.totals.map((total) => ({ ...total, wavelength: total.wavelength + 75 })))
    await route.fulfill({ response: answer, json: record })
  })
  await page.goto(`/callouts/${callout}/fibers`)
  await page.getByRole('button', { name: /^All, 864/ }).click()
  const table = page.getByRole('table', { name: 'Fibers' })
  console.log(`${await table.getAttribute('aria-rowcount')} rows, ${await table.getByRole('row').count()} laid out`)
  await printFrames(browser, page, 'scroll through the table', () =>
    page.evaluate(
      (steps) =>
        new Promise<void>((done) => {
          let k = 0
          const step = () => {
            performance.mark('frame')
            if (k++ === steps) return done()
            window.scrollBy(0, 300)
            requestAnimationFrame(() => setTimeout(step))
          }
          step()
        }),
      STEPS,
    ),
  )
})
