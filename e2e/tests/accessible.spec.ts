import AxeBuilder from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { signIn } from './signIn.ts'
import { stageLink } from './stageLink.ts'

// WCAG 2.2 AA by axe's rules, on each screen of the demo, light and dark, wide and on a phone.
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
const WIDE = { width: 1280, height: 800 }
const PHONE = { width: 390, height: 844 }

test('axe finds nothing serious on any screen, light and dark, wide and on a phone', async ({ page }) => {
  test.setTimeout(420_000)
  const found: string[] = []
  const look = async (screen: string, rules: 'all' | 'colours' = 'all') => {
    await page.mouse.move(0, 0)
    await page.waitForTimeout(50)
    const { violations } = await new AxeBuilder({ page })
      .options({
        resultTypes: ['violations'],
        runOnly:
          rules === 'all'
            ? { type: 'tag', values: TAGS }
            : { type: 'rule', values: ['color-contrast', 'link-in-text-block'] },
      })
      .analyze()
    for (const { id, impact, nodes } of violations)
      if (impact === 'serious' || impact === 'critical') found.push(`${screen}: ${id}: ${nodes[0]?.target.join(' ')}`)
  }
  const lookAllWays = async (screen: string) => {
    // Of the rules in TAGS only two ask for colours: in the dark they are the ones that can find anything new.
    for (const [theme, other, rules] of [
      ['light', 'Dark theme', 'all'],
      ['dark', 'Light theme', 'colours'],
    ] as const) {
      await page.setViewportSize(WIDE)
      await look(`${screen}, ${theme}, wide`, rules)
      await page.setViewportSize(PHONE)
      await look(`${screen}, ${theme}, phone`, rules)
      await page.getByRole('button', { name: other }).click()
    }
    await page.setViewportSize(WIDE)
  }
  // Colours that are just changing, under the pointer or from theme to theme, are not what is looked at.
  await page.addInitScript(() =>
    addEventListener('DOMContentLoaded', () => {
      const still = document.createElement('style')
      still.textContent = '*, ::before, ::after { transition: none !important; animation: none !important }'
      document.head.append(still)
    }),
  )
  await page.goto('/')
  await expect(page.getByLabel('Name')).toBeVisible()
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme })
    await page.reload()
    await expect(page.getByLabel('Name')).toBeVisible()
    for (const size of [WIDE, PHONE]) {
      await page.setViewportSize(size)
      await look(`sign-in, ${colorScheme}, ${size.width}`)
    }
  }
  await page.emulateMedia({ colorScheme: 'light' })
  await page.reload()
  await signIn(page, 'lead')
  await lookAllWays('board')
  const address = await page.getByRole('link', { name: /Links beyond Reed Island/ }).getAttribute('href')
  const callout = address!.replace(/\/[a-z]+$/, '')
  await page.goto(`${callout}/locate`)
  await expect(page.getByRole('region', { name: 'Break' })).toBeVisible({ timeout: 60_000 })
  await lookAllWays('locate')
  await page.goto(`${callout}/plan`)
  await expect(page.getByRole('list', { name: 'Order of work' })).toBeVisible({ timeout: 60_000 })
  await lookAllWays('plan')
  await page.goto(`${callout}/open`)
  await page.getByRole('button', { name: 'Begin this sheet' }).click()
  await expect(page.getByRole('region', { name: 'Step', exact: true })).toBeVisible()
  await lookAllWays('open')
  for (const stage of ['join', 'prove', 'close']) {
    await page.goto(`${callout}/${stage}`)
    await expect(stageLink(page, stage[0]!.toUpperCase() + stage.slice(1))).toBeVisible()
    await page.waitForTimeout(700)
    await lookAllWays(stage)
  }
  await page.getByRole('button', { name: 'Open on a phone' }).click()
  await expect(page.getByRole('img', { name: /QR code/ })).toBeVisible()
  await look('phone dialog')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Scan a tag' }).click()
  await expect(page.getByText(/No camera stream here/)).toBeVisible()
  await look('scan dialog')
  await page.keyboard.press('Escape')
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
    `${callout}/survey`,
  ]) {
    await page.goto(path)
    await expect(page.locator('main h1').first()).toBeVisible()
    await lookAllWays(path)
  }
  expect(found).toEqual([])
})
