import AxeBuilder from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { signIn } from './signIn.ts'

// WCAG 2.2 AA by axe's rules, on each screen of the demo, light and dark, wide and on a phone.
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']

const SIZES = [
  ['wide', { width: 1280, height: 800 }],
  ['phone', { width: 390, height: 844 }],
] as const

for (const scheme of ['light', 'dark'] as const)
  for (const [name, size] of SIZES)
    test(`axe finds nothing serious, ${scheme}, ${name}`, async ({ browser }) => {
      test.setTimeout(180_000)
      const page = await (await browser.newContext({ viewport: size, colorScheme: scheme })).newPage()
      const check = async (screen: string) => {
        // Colours that are just changing under the pointer are not what is looked at.
        await page.mouse.move(0, 0)
        await page.waitForTimeout(400)
        const { violations } = await new AxeBuilder({ page }).withTags(TAGS).analyze()
        const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical')
        const found = serious.map(({ id, nodes }) => `${screen}: ${id}: ${nodes[0]?.target.join(' ')}`)
        expect(found).toEqual([])
      }
      await page.goto('/')
      await expect(page.getByLabel('Name')).toBeVisible()
      await check('sign-in')
      await signIn(page, 'lead')
      await check('board')
      const address = await page.getByRole('link', { name: /Links beyond Reed Island/ }).getAttribute('href')
      const callout = address!.replace(/\/[a-z]+$/, '')
      await page.goto(`${callout}/locate`)
      await expect(page.getByRole('region', { name: 'Break' })).toBeVisible({ timeout: 60_000 })
      await check('locate')
      await page.goto(`${callout}/plan`)
      await expect(page.getByRole('list', { name: 'Order of work' })).toBeVisible({ timeout: 60_000 })
      await check('plan')
      for (const stage of ['join', 'prove', 'close']) {
        await page.goto(`${callout}/${stage}`)
        await expect(page.getByRole('tab', { name: new RegExp(stage, 'i') })).toBeVisible()
        await page.waitForTimeout(700)
        await check(stage)
      }
      for (const path of ['/plant', '/kit', '/accounts', '/outbox']) {
        await page.goto(path)
        await expect(page.locator('main h1').first()).toBeVisible()
        await check(path)
      }
      await page.context().close()
    })
