import AxeBuilder from '@axe-core/playwright'
import { signIn } from '../harness/signIn.ts'
import { expect, test, type Page } from '../harness/test.ts'

// WCAG 2.2 AA by axe's rules, on each screen of the demo, light and dark, wide and on a phone.
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
const WIDE = { width: 1280, height: 800 }
const PHONE = { width: 390, height: 844 }

/** What axe finds that is serious, each with where. */
async function seriousIn(page: Page, screen: string, rules: 'all' | 'colours' = 'all'): Promise<string[]> {
  await page.mouse.move(0, 0)
  const { violations } = await new AxeBuilder({ page })
    // Without frames of other sites there is nothing to put together in a second page.
    .setLegacyMode()
    .options({
      resultTypes: ['violations'],
      runOnly:
        rules === 'all'
          ? { type: 'tag', values: TAGS }
          : { type: 'rule', values: ['color-contrast', 'link-in-text-block'] },
    })
    .analyze()
  return violations.flatMap(({ id, impact, nodes }) =>
    impact === 'serious' || impact === 'critical' ? [`${screen}: ${id}: ${nodes[0]?.target.join(' ')}`] : [],
  )
}

/** Light and dark, wide and on a phone. */
async function seriousInAllWays(page: Page): Promise<string[]> {
  const found: string[] = []
  // Of the rules in TAGS only two ask for colours: in the dark they are the ones that can find anything new.
  for (const [theme, other, rules] of [
    ['light', 'Dark theme', 'all'],
    ['dark', 'Light theme', 'colours'],
  ] as const) {
    await page.setViewportSize(WIDE)
    found.push(...(await seriousIn(page, `${theme}, wide`, rules)))
    await page.setViewportSize(PHONE)
    found.push(...(await seriousIn(page, `${theme}, phone`, rules)))
    await page.getByRole('button', { name: other }).click()
  }
  await page.setViewportSize(WIDE)
  return found
}

/** Opens a stage of the cut, with its address. */
async function stageOfCut(page: Page, stage: string): Promise<void> {
  const address = await page.getByRole('link', { name: /Links beyond Reed Island/ }).getAttribute('href')
  await page.goto(address!.replace(/\/[a-z]+$/, `/${stage}`))
}

/** How to come to each screen from the board, and to know that it is there. */
const SCREENS: Record<string, (page: Page) => Promise<void>> = {
  async board() {},
  async locate(page) {
    await stageOfCut(page, 'locate')
    await expect(page.getByRole('region', { name: 'Break' })).toBeVisible()
  },
  async plan(page) {
    await stageOfCut(page, 'plan')
    await expect(page.getByRole('list', { name: 'Order of work' })).toBeVisible()
  },
  async open(page) {
    await stageOfCut(page, 'open')
    await page.getByRole('button', { name: 'Begin this sheet' }).click()
    await expect(page.getByRole('region', { name: 'Step', exact: true })).toBeVisible()
  },
  async join(page) {
    await stageOfCut(page, 'join')
    await expect(page.getByText(/24 splices to make/)).toBeVisible()
  },
  async prove(page) {
    await stageOfCut(page, 'prove')
    await expect(page.getByRole('region', { name: 'Verdict' })).toBeVisible()
    await expect(page.getByRole('region', { name: 'Loss test, source and meter' })).toBeVisible()
  },
  async close(page) {
    await stageOfCut(page, 'close')
    await expect(page.getByRole('link', { name: 'PDF, A4' })).toBeVisible()
  },
  async survey(page) {
    await stageOfCut(page, 'survey')
    await expect(page.locator('main h1').first()).toBeVisible()
  },
}
for (const path of [
  '/plant',
  '/fibers',
  '/tags',
  '/at/lock-9',
  '/lengths',
  '/open-book',
  '/kit',
  '/accounts',
  '/outbox',
])
  SCREENS[path] = async (page) => {
    await page.goto(path)
    await expect(page.locator('main h1').first()).toBeVisible()
  }

test('axe finds nothing serious on the sign-in page, light and dark, wide and on a phone', async ({ page }) => {
  const found: string[] = []
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme })
    await page.goto('/')
    await expect(page.getByLabel('Name')).toBeVisible()
    for (const size of [WIDE, PHONE]) {
      await page.setViewportSize(size)
      found.push(...(await seriousIn(page, `${colorScheme}, ${size.width}`)))
    }
  }
  expect(found).toEqual([])
})

/** Looked at one after the other in one page: loading the app anew for each takes longer than looking. */
const TOGETHER = [
  ['board', 'locate', 'plan'],
  ['open', 'join', 'prove'],
  ['close', 'survey', '/plant', '/fibers', '/tags'],
  ['/at/lock-9', '/lengths', '/open-book', '/kit', '/accounts', '/outbox'],
]

for (const screens of TOGETHER)
  test(`axe finds nothing serious on ${screens.join(', ')}, light and dark, wide and on a phone`, async ({ page }) => {
    for (const screen of screens) {
      await signIn(page, 'lead')
      await SCREENS[screen]!(page)
      expect(await seriousInAllWays(page), screen).toEqual([])
    }
  })

test('every screen is looked at', () => {
  expect(TOGETHER.flat()).toEqual(Object.keys(SCREENS))
})

test('axe finds nothing serious on the dialogs of a callout', async ({ page }) => {
  await signIn(page, 'lead')
  await SCREENS['close']!(page)
  await page.getByRole('button', { name: 'Open on a phone' }).click()
  await expect(page.getByRole('img', { name: /QR code/ })).toBeVisible()
  const found = await seriousIn(page, 'phone dialog')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Scan a tag' }).click()
  await expect(page.getByText(/No camera stream here/)).toBeVisible()
  found.push(...(await seriousIn(page, 'scan dialog')))
  expect(found).toEqual([])
})
