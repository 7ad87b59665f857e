import { chromium } from '@playwright/test'
const [title, stage, out, w = '1280', h = '800', dark = '', who = 'tech', scroll = '0'] = process.argv.slice(2)
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] })
const page = await (
  await browser.newContext({ viewport: { width: +w, height: +h }, colorScheme: dark ? 'dark' : 'light' })
).newPage()
page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text()))
page.on('pageerror', (e) => console.log('PAGEERR', e.message))
await page.goto('http://127.0.0.1:8460')
await page.getByLabel('Name').fill(who)
await page.getByLabel('Password').fill('ottermere-' + who)
await page.getByRole('button', { name: 'Sign in' }).click()
await page.waitForTimeout(800)
if (title!.startsWith('/')) await page.goto('http://127.0.0.1:8460' + title)
else {
  await page
    .getByRole('link', { name: new RegExp(title!) })
    .first()
    .click()
  await page.waitForTimeout(500)
  await page.getByRole('tab', { name: stage }).click()
}
await page.waitForTimeout(6000)
await page.mouse.wheel(0, +scroll)
await page.waitForTimeout(400)
if (out!.endsWith('full')) await page.screenshot({ path: `/tmp/${out}.png`, fullPage: true })
else await page.screenshot({ path: `/tmp/${out}.png` })
await browser.close()
