import { LEFT, repairedFiles, SURVEY, surveyFiles } from '@cold-thread/demo'
import { choose } from '../harness/choose.ts'
import { signIn } from '../harness/signIn.ts'
import { stageLink } from '../harness/stageLink.ts'
import { expect, test, type Page } from '../harness/test.ts'

/** A callout on a link that begins in the cable of 144 fibers. */
async function newCallout(page: Page, title: string): Promise<void> {
  await page.getByRole('button', { name: 'New callout' }).click()
  await choose(page.getByRole('combobox', { name: 'Link' }), 'Visitor centre to gauge house, telemetry')
  await page.getByLabel('What is wrong').fill(title)
  await page.getByRole('button', { name: 'Open the callout' }).click()
  await expect(page.getByRole('heading', { name: title })).toBeVisible()
}

test('a batch of 144 fibers with one damaged tube: matched, doubted, sent, and read as what it is', async ({
  page,
}) => {
  await signIn(page, 'tech')
  await newCallout(page, 'Many circuits of one cable')
  await page.getByRole('link', { name: 'Survey the cable' }).click()
  await expect(page.getByRole('heading', { name: 'Cable TN-4, all fibers together' })).toBeVisible()

  // 1. One file was misnamed, one is no trace: both are said before anything is sent.
  const files = surveyFiles(new Date('2026-03-01T05:10:00Z')).map(({ fileName, fiber, content }) => ({
    name: fiber === 37 ? fileName.replace('037', '137') : fileName,
    mimeType: 'application/octet-stream',
    buffer: Buffer.from(content),
  }))
  const given = [
    ...files.filter((_, k) => k !== 136),
    { name: 'notes.sor', mimeType: 'text/plain', buffer: Buffer.from('no trace') },
  ]
  await page.getByLabel('Trace files of the cable').setInputFiles(given)
  await expect(page.getByText('142 of 143 files matched to their fibers')).toBeVisible()
  await expect(page.getByText(/notes\.sor: /)).toBeVisible()
  await expect(page.getByText('the file says fiber 37, its name 137')).toBeVisible()
  await page.getByLabel('Fiber of TN-4_F137_1550.sor').fill('37')
  await page.getByRole('button', { name: 'Send 143 traces' }).click()

  // 2. Progress, then the finding.
  await expect(page.getByText(/^Sending: \d+ of 143/)).toBeVisible()
  const found = page.getByRole('region', { name: 'What is hit' })
  await expect(found.getByText('Tube 3 (green), 12 fibers of 12, at Weir closure')).toBeVisible()
  await expect(found.getByText(/2 broken, 10 with added loss; one tube alone/)).toBeVisible()
  await expect(found.getByText('131 of 143 fibers read are sound. No trace of 1 fiber: 137.')).toBeVisible()

  // 3. Fiber by fiber, by keyboard.
  const chart = page.getByRole('img', { name: /143 fibers by distance/ })
  await chart.focus()
  for (let k = 0; k < SURVEY.broken[0]!; k++) await chart.press('ArrowDown')
  await expect(page.getByText(/^Fiber 29, tube 3 \(green\), fiber 5 in it: broken/)).toBeVisible()

  // 4. What the neighbours show is evidence for the link's own fault, and Locate knows of it.
  await page.getByRole('button', { name: 'Use for this link’s fault' }).click()
  await expect(page.getByText(/Used as evidence for this link’s fault/)).toBeVisible()
  await page.getByRole('link', { name: 'Back to Locate' }).click()
  await expect(page.getByText('12 of 143 fibers read of cable TN-4 are hit.')).toBeVisible()
  await expect(page.getByText(/^traces of 12 neighbouring fibers show it at/)).toBeVisible()
})

test('every fiber of a spliced tube, from both ends: the poor joint and the open fiber are found, and the link’s own verdict tells of them', async ({
  page,
}) => {
  await signIn(page, 'tech')
  await newCallout(page, 'One tube was spliced')
  await stageLink(page, 'Prove').click()
  await page.getByRole('link', { name: 'Every fiber of cable TN-4' }).click()
  await expect(page.getByRole('heading', { name: 'Cable TN-4, every fiber after the repair' })).toBeVisible()
  const fibers = Array.from({ length: 12 }, (_, k) => k + 25)
  const files = repairedFiles(new Date('2026-03-01T09:10:00Z'), fibers, [1310, 1550])
  await page.getByLabel('Trace files of the cable').setInputFiles(
    files.map(({ fileName, content }) => ({
      name: fileName,
      mimeType: 'application/octet-stream',
      buffer: Buffer.from(content),
    })),
  )
  await page.getByRole('button', { name: 'Send 48 traces' }).click()
  const verdicts = page.getByRole('list', { name: 'Verdicts' })
  await expect(verdicts).toContainText(`Not restored: fibers ${LEFT.poor}, ${LEFT.open}`)
  await expect(verdicts).toContainText('10 Restored, with remarks')

  // What is not restored comes first; the arrow keys go on, and say what to do.
  const table = page.getByRole('table', { name: 'Fibers' })
  await expect(table.getByRole('row')).toHaveCount(5)
  await expect(page.getByText('Next: redo the splice at Weir closure')).toBeVisible()
  await table.press('ArrowDown')
  await expect(page.getByText(`Fiber ${LEFT.open}`, { exact: true })).toBeVisible()

  // The link's own verdict does not hide them.
  await page.getByRole('link', { name: 'Back to Prove' }).click()
  await expect(page.getByRole('region', { name: 'Verdict' })).toContainText(
    `fibers ${LEFT.poor}, ${LEFT.open} of cable TN-4: not restored`,
  )
})
