import AxeBuilder from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { signIn } from './signIn.ts'

// WCAG 2.2 AA by axe's rules, on each screen of the demo, light and wide, then dark and on a phone.
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
const WIDE = { width: 1280, height: 800 }
const PHONE = { width: 390, height: 844 }

test('axe finds nothing serious on any screen, light and wide, dark and on a phone', async ({ page }) => {
  test.setTimeout(300_000)
  const found: string[] = []
  const look = async (screen: string) => {
    // Colours that are just changing under the pointer are not what is looked at.
    await page.mouse.move(0, 0)
    await page.waitForTimeout(400)
    const { violations } = await new AxeBuilder({ page }).withTags(TAGS).analyze()
    for (const { id, impact, nodes } of violations)
      if (impact === 'serious' || impact === 'critical') found.push(`${screen}: ${id}: ${nodes[0]?.target.join(' ')}`)
  }
  const lookBothWays = async (screen: string) => {
    await page.setViewportSize(WIDE)
    await look(`${screen}, light, wide`)
    await page.getByRole('button', { name: 'Dark theme' }).click()
    await page.setViewportSize(PHONE)
    await look(`${screen}, dark, phone`)
    await page.getByRole('button', { name: 'Light theme' }).click()
    await page.setViewportSize(WIDE)
  }
  await page.goto('/')
  await expect(page.getByLabel('Name')).toBeVisible()
  await look('sign-in')
  await signIn(page, 'lead')
  await lookBothWays('board')
  const address = await page.getByRole('link', { name: /Links beyond Reed Island/ }).getAttribute('href')
  const callout = address!.replace(/\/[a-z]+$/, '')
  await page.goto(`${callout}/locate`)
  await expect(page.getByRole('region', { name: 'Break' })).toBeVisible({ timeout: 60_000 })
  await lookBothWays('locate')
  await page.goto(`${callout}/plan`)
  await expect(page.getByRole('list', { name: 'Order of work' })).toBeVisible({ timeout: 60_000 })
  await lookBothWays('plan')
  for (const stage of ['join', 'prove', 'close']) {
    await page.goto(`${callout}/${stage}`)
    await expect(page.getByRole('tab', { name: new RegExp(stage, 'i') })).toBeVisible()
    await page.waitForTimeout(700)
    await lookBothWays(stage)
  }
  for (const path of ['/plant', '/kit', '/accounts', '/outbox']) {
    await page.goto(path)
    await expect(page.locator('main h1').first()).toBeVisible()
    await lookBothWays(path)
  }
  expect(found).toEqual([])
})
