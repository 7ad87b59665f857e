import { choose } from '../harness/choose.ts'
import { doStep, done, doUntil, fillStep, place, stepOf } from '../harness/runSheet.ts'
import { signIn } from '../harness/signIn.ts'
import { stageLink } from '../harness/stageLink.ts'
import { expect, test, type Page } from '../harness/test.ts'

const splice = (page: Page) => page.getByRole('region', { name: 'Splice', exact: true })

/** Both confirmations, then figures as read off the splicer's screen. */
async function enter(page: Page, estimate: string, left = '0.3', right = '0.2'): Promise<void> {
  const card = splice(page)
  await card.getByLabel('The sleeve is on').check()
  await card.getByLabel(/These two lie in the splicer/).check()
  await card.getByLabel(/stimate/).fill(estimate)
  await card.getByLabel(/eft cleave/).fill(left)
  await card.getByLabel(/ight cleave/).fill(right)
}

/** The outcome by its button; the queue or the attempt has gone on after it. */
async function tap(page: Page, name: string): Promise<void> {
  const before = await splice(page).innerText()
  await splice(page).getByRole('button', { name, exact: true }).click()
  await expect(splice(page).getByLabel('The sleeve is on')).not.toBeChecked()
  expect(await splice(page).innerText()).not.toBe(before)
}

test('a splicing session: a refused calibration, twelve fibers with a redo and a stop, circuits restored, the kit counted', async ({
  page,
}) => {
  await signIn(page, 'tech')
  await page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
  await stageLink(page, 'Join').click()
  await expect(page.getByLabel('Splicer', { exact: true })).toContainText('2140 of 3000 arcs')
  // 1. A heater that is set for another sleeve is said before anything is spliced.
  await choose(page.getByRole('combobox', { name: 'Heater set for, mm' }), '40')
  await expect(page.getByText('the heater is set for 40 mm, the sleeve is 60 mm')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Begin the session' })).toBeDisabled()
  await choose(page.getByRole('combobox', { name: 'Heater set for, mm' }), '60')
  await expect(page.getByText(/24 splices to make/)).toBeVisible()
  await page.getByRole('button', { name: 'Begin the session' }).click()

  // 2. The arc is refused, then accepted; nothing can be spliced before.
  await expect(page.getByRole('region', { name: 'Arc calibration' })).toBeVisible()
  await expect(splice(page)).toHaveCount(0)
  await page.getByRole('button', { name: 'It was refused' }).click()
  await expect(page.getByText(/Fresh ends: strip, clean and cleave/)).toBeVisible()
  await page.getByRole('button', { name: 'It was accepted' }).click()

  // 3. The most important circuit first; a redo, then accepted: its link is joined.
  await expect(splice(page)).toContainText('Gate and level control')
  await enter(page, '0,02', '1.4')
  await expect(splice(page).getByRole('status')).toContainText('left cleave 1.4° is over 1.0°')
  await tap(page, 'Redo')
  await expect(splice(page)).toContainText('attempt 2')
  await enter(page, '0,03')
  await tap(page, 'Accept')
  await expect(page.getByText('1 of 4 links joined')).toBeVisible()

  // 4. The next one three times the same: stop. Its link is not expected any more.
  for (const wanted of ['Redo', 'Redo', 'Stop and find out why']) {
    await enter(page, '0,34')
    await tap(page, wanted)
  }
  await expect(page.getByRole('list', { name: 'Splices in order' })).toContainText('stopped, 3 attempts')
  await expect(page.getByRole('list', { name: 'Links' }).getByRole('listitem')).toHaveCount(3)

  // 5. One is put off with its reason, one is asked for now; a reload in the middle of an attempt loses nothing.
  await splice(page).getByRole('button', { name: 'Put this one off' }).click()
  await splice(page).getByLabel('Why later').fill('its tube is not open yet')
  await splice(page).getByRole('button', { name: 'To the end of the queue' }).click()
  await expect(page.getByRole('list', { name: 'Splices in order' })).toContainText('its tube is not open yet')
  await enter(page, '0,04')
  await page.reload()
  await expect(splice(page).getByLabel(/stimate/)).toHaveValue('0,04')
  await expect(splice(page).getByLabel('The sleeve is on')).toBeChecked()
  await tap(page, 'Accept')
  for (let i = 0; i < 9; i++) {
    await enter(page, `0,0${(i % 4) + 1}`)
    await tap(page, 'Accept')
  }
  await expect(page.getByText('Queue: 11 of 24 accepted')).toBeVisible()

  // 6. A trace from one end that seems to gain waits for the other end; both together tell the loss.
  const onTraces = page.getByRole('region', { name: /Splices on traces/ })
  await onTraces.getByLabel('Loss on the trace, dB').fill('-0.12')
  await expect(onTraces.getByRole('status')).toContainText('looks like a gain: no splice gains')
  await onTraces.getByRole('button', { name: 'Keep the reading' }).click()
  await expect(page.getByRole('heading', { name: 'Splices on traces: 1 waits for the other way' })).toBeVisible()
  await onTraces.getByLabel('Loss on the trace, dB').fill('0.22')
  await onTraces.getByRole('button', { name: 'Keep the reading' }).click()
  await expect(onTraces.getByRole('list')).toContainText('= 0.05 dB ± 0.03 dB, within 0.10 dB')

  // 7. The session ends with the shards seen to; arcs and cleaves stand in the kit.
  await page.getByLabel('The bin with the shards is closed').check()
  await page.getByLabel(/The mat is taped and folded/).check()
  await page.getByRole('button', { name: 'End the session' }).click()
  await expect(page.getByRole('button', { name: 'Begin the session' })).toBeVisible()
  // 15 splices and 2 calibrations.
  await expect(page.getByLabel('Splicer', { exact: true })).toContainText('2157 of 3000 arcs')
})

test('a ribbon on the simulated splicer is one load of its grooves, and a splicer that talks nonsense loses nothing', async ({
  page,
}) => {
  await signIn(page, 'tech')
  await page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
  await stageLink(page, 'Join').click()
  await page.getByLabel('Ribbons of 12').check()
  await expect(page.getByText(/2 splices to make/)).toBeVisible()
  await page.getByRole('button', { name: 'Begin the session' }).click()
  await page.getByRole('button', { name: 'It was accepted' }).click()
  await choose(page.getByLabel('The simulated splicer is'), 'dirty groove')
  await splice(page).getByLabel('The sleeve is on').check()
  await splice(page)
    .getByLabel(/These two lie in the splicer/)
    .check()
  await splice(page).getByRole('button', { name: 'Splice on the simulated splicer' }).click()
  await expect(splice(page).getByRole('status')).toBeVisible()
  await expect(splice(page).getByRole('listitem')).toHaveCount(12)
  await splice(page)
    .getByRole('button', { name: /^(Accept|Redo)$/ })
    .click()
  const advice = page.getByRole('region', { name: 'Advice' })
  // A ribbon is one load of the grooves, though it has twelve fibers: alone it tells nothing of them.
  await expect(page.getByText(/The session so far: nothing stands out|can’t be told/)).toBeVisible()
  await expect(advice).toHaveCount(0)
  // A splicer that is silent or talks nonsense loses nothing: figures are entered by hand.
  await choose(page.getByLabel('The simulated splicer is'), 'nonsense')
  await splice(page).getByLabel('The sleeve is on').check()
  await splice(page)
    .getByLabel(/These two lie in the splicer/)
    .check()
  await splice(page).getByRole('button', { name: 'Splice on the simulated splicer' }).click()
  await expect(splice(page).getByRole('alert')).toContainText('Read its screen and enter what it shows')
  // The first ribbon may have wanted a second try: one or two are left.
  const complete = page.getByText('Every splice of the queue is accepted or stopped')
  for (let i = 0; i < 2 && !(await complete.isVisible()); i++) {
    await enter(page, '0,05', '2', '2')
    const heading = page.getByText(/^Queue: \d of 2 accepted$/)
    const before = await heading.innerText()
    await splice(page).getByRole('button', { name: 'Accept', exact: true }).click()
    await expect(heading).not.toHaveText(before)
  }
  await expect(complete).toBeVisible()
  await page.getByLabel('The bin with the shards is closed').check()
  await page.getByLabel(/The mat is taped and folded/).check()
  await page.getByRole('button', { name: 'End the session' }).click()
  await expect(page.getByRole('button', { name: 'Begin the session' })).toBeVisible()
})

/** A sheet for a new connector at the far panel of the link. */
async function beginConnector(page: Page, way: string, connector: 'SC' | 'LC'): Promise<void> {
  const another = page.getByRole('button', { name: 'Begin another' })
  // A sheet may stand here from before: then another is begun.
  await expect(another.or(page.getByLabel('Where')).first()).toBeVisible()
  if (await another.isVisible()) await another.click()
  await choose(page.getByLabel('Where'), /Visitor centre/)
  await choose(page.getByLabel('What is to be done'), 'put a connector on a fiber')
  await choose(page.getByRole('combobox', { name: 'Way', exact: true }), way)
  await choose(page.getByRole('combobox', { name: 'Connector', exact: true }), connector)
}

test('a pre-polished and an epoxy connector: APC refused, a failed look counted, timers through a reload', async ({
  page,
}) => {
  await signIn(page, 'tech')
  await page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
  await stageLink(page, 'Open').click()
  // 1. Never APC to UPC, and no ferrule of another diameter.
  await beginConnector(page, 'pre-polished connector, soft-coated fiber', 'LC')
  await choose(page.getByRole('combobox', { name: 'Its polish' }), 'APC')
  await expect(page.getByText(/APC and UPC must never be mated/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Begin this sheet' })).toBeDisabled()
  await choose(page.getByRole('combobox', { name: 'Its polish' }), 'UPC')
  await page.getByRole('button', { name: 'Begin this sheet' }).click()

  // 2. A window that stays bright costs a cleave; a dark end check costs the connector, and is counted.
  const fail = async (what: string) => {
    await stepOf(page).getByRole('button', { name: 'It failed' }).click()
    await stepOf(page).getByLabel('What failed').fill(what)
    await stepOf(page).getByRole('button', { name: 'Keep as failed' }).click()
    await expect(stepOf(page).getByText(what)).toBeVisible()
  }
  await doUntil(page, /window dims/)
  await fail('window still bright')
  await expect(page.getByText('Thrown away:')).toHaveCount(0)
  await doUntil(page, /must show bright at the other/)
  await fail('dark at the other end')
  await expect(page.getByText(/1 × /)).toBeVisible()
  await doToTheEnd(page)

  // 3. Epoxy: the cure runs on beside other work, through a reload, and rings until it is heard.
  await beginConnector(page, 'epoxy and polish', 'LC')
  await page.getByRole('button', { name: 'Begin this sheet' }).click()
  await doUntil(page, /[Cc]ure/)
  await stepOf(page).getByLabel('Minutes, by its sheet').fill('0')
  await expect(stepOf(page).getByRole('button', { name: 'Start', exact: true })).toBeDisabled()
  await stepOf(page).getByLabel('Minutes, by its sheet').fill('0.05')
  await stepOf(page).getByRole('button', { name: 'Start', exact: true }).click()
  await page.reload()
  await stageLink(page, 'Join').click()
  const timers = page.getByRole('region', { name: 'Timers' })
  await expect(timers.getByText('Time is up')).toBeVisible()
  await timers.getByRole('button', { name: 'I heard it' }).click()
  await timers.getByRole('button', { name: 'End' }).click()
  await expect(timers).toHaveCount(0)
  await stageLink(page, 'Open').click()
  await stepOf(page).waitFor()
  await doToTheEnd(page)
})

/** Every step of the sheet that is shown. */
async function doToTheEnd(page: Page): Promise<void> {
  const complete = page.getByText('Every step is done or left out with its reason')
  for (let i = 0; i < 40 && !(await complete.isVisible()); i++) {
    const [number, count] = (await place(page).innerText()).match(/\d+/g)!
    if (number !== count) await doStep(page)
    else {
      await fillStep(page)
      await done(page).click()
      await expect(complete).toBeVisible()
    }
  }
  await expect(complete).toBeVisible()
}

test('an end face: dirty, cleaned, looked at again; nothing that is no picture of one is taken', async ({ page }) => {
  await signIn(page, 'tech')
  await page.getByRole('link', { name: /Lock cameras flicker/ }).click()
  await stageLink(page, 'Join').click()
  const faces = page.getByRole('region', { name: 'End faces' })
  await faces
    .getByLabel('Picture file of the end face')
    .setInputFiles({ name: 'words.png', mimeType: 'image/png', buffer: Buffer.from('no picture') })
  await expect(faces.getByRole('alert')).toContainText('not a picture that this browser can read')
  for (let look = 1; look <= 2; look++) {
    await faces.getByRole('button', { name: /simulated microscope/ }).click()
    const canvas = faces.getByRole('img', { name: /^End face: (pass|close|fail)/ })
    await expect(canvas).toBeVisible()
    // What is marked was drawn: the picture is not empty.
    expect(await canvas.evaluate((one) => (one as HTMLCanvasElement).width)).toBeGreaterThan(500)
    await faces.getByRole('button', { name: 'Keep this look' }).click()
    await expect(faces.getByRole('img', { name: `Look ${look}, marked picture` })).toBeVisible()
    // The look that was judged is put away, and only what follows from all looks stands there.
    await expect(faces.getByRole('button', { name: 'Keep this look' })).toHaveCount(0)
  }
  await expect(faces.getByRole('status')).toContainText('Cleaned once')
  // A person's word against the table's, with the reason; both are kept.
  await faces.getByRole('button', { name: /simulated microscope/ }).click()
  const verdict = faces.getByRole('img', { name: /^End face: / })
  await expect(verdict).toBeVisible()
  const failed = ((await verdict.getAttribute('aria-label')) ?? '').startsWith('End face: fail')
  await faces.getByRole('button', { name: failed ? 'I say pass' : 'I say fail' }).click()
  await expect(faces.getByRole('button', { name: 'Keep this look' })).toBeDisabled()
  await faces.getByLabel('Why, against the table').fill('a mark on the lens')
  await faces.getByRole('button', { name: 'Keep this look' }).click()
  await expect(faces.getByText(/against “.*”: a mark on the lens/)).toBeVisible()
})

test.describe('without network', () => {
  test.use({ serviceWorkers: 'allow' })

  test('a session goes on where it was after the server was away and the page was reloaded', async ({
    page,
    context,
  }) => {
    await signIn(page, 'tech')
    await page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
    await stageLink(page, 'Join').click()
    await page.getByRole('button', { name: 'Take along for work without network' }).click()
    await expect(page.getByText(/On this device, \d+\.\d MB/)).toBeVisible()
    await page.evaluate(() => navigator.serviceWorker.ready.then(() => true))
    await expect(page.getByText(/24 splices to make/)).toBeVisible()
    await page.getByRole('button', { name: 'Begin the session' }).click()
    await page.getByRole('button', { name: 'It was accepted' }).click()
    await enter(page, '0.02')
    await tap(page, 'Accept')
    await expect(page.getByText(/^Queue: 1 of 24 accepted$/)).toBeVisible()
    await context.setOffline(true)
    await enter(page, '0.04')
    await tap(page, 'Accept')
    // Typed and not yet judged when the page goes: kept too.
    await enter(page, '0,07', '0.4', '0.6')
    await page.reload()
    await expect(page.getByText(/^Queue: 2 of 24 accepted$/)).toBeVisible()
    await expect(splice(page).getByLabel(/stimate/)).toHaveValue('0,07')
    await tap(page, 'Accept')
    await expect(page.getByText(/^Queue: 3 of 24 accepted$/)).toBeVisible()
    await context.setOffline(false)
    // All three are on the server, once each: another browser's reading of it.
    const id = /callouts\/([^/]+)/.exec(page.url())![1]!
    await expect
      .poll(async () =>
        (
          (await (await page.request.get(`/api/callouts/${id}/observations`)).json()) as {
            entry: { kind: string; estimate?: number; sessionId?: string }
          }[]
        )
          .filter(({ entry }) => entry.kind === 'splice' && entry.sessionId !== undefined)
          .map(({ entry }) => entry.estimate),
      )
      .toEqual(expect.arrayContaining([0.02, 0.04, 0.07]))
  })
})
