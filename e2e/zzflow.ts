import { chromium, type Page } from '@playwright/test'
import { v7 } from 'uuid'
import { signIn } from './tests/signIn.ts'
import { stageLink } from './tests/stageLink.ts'
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium' })
const dir = '/tmp/shots/s11-'
const errors: string[] = []
const open = async (who: 'tech' | 'lead', width: number, height: number, dark: boolean): Promise<Page> => {
  const context = await browser.newContext({ baseURL: 'http://127.0.0.1:8460', viewport: { width, height }, colorScheme: dark ? 'dark' : 'light', hasTouch: width < 500 })
  const page = await context.newPage()
  page.on('pageerror', (error) => errors.push(error.message))
  page.on('response', (r) => r.status() >= 400 && errors.push(`${r.status()} ${r.url()}`))
  await signIn(page, who)
  await page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
  return page
}
const page = await open('tech', 1280, 800, false)
await stageLink(page, 'Prove').click()
const id = /callouts\/([^/]+)/.exec(page.url())![1]!
const callout = await (await page.request.get(`/api/callouts/${id}`)).json()
const { bundle } = await (await page.request.get('/api/plant')).json()
const link = bundle.links.find((l: any) => l.id === callout.linkId)
const origin = { origin: 'http://127.0.0.1:8460' }
const put = async (url: string, data: unknown) => { const r = await page.request.put(url, { data, headers: origin }); if (!r.ok()) console.log(r.status(), await r.text()) }
const CH = Number(process.argv[2] ?? 24060)
const step = link.path.find((s: any) => s.cable && (() => { const c = bundle.cables.find((c: any) => c.id === s.cable); return CH > c.from && CH < c.to })())
await put(`/api/callouts/${id}/observations/${v7()}`, { observedAt: new Date().toISOString(), supersedes: null, entry: { kind: 'splice', node: null, chainage: CH, cable: step.cable, fiber: step.fiber, attempt: 1, estimate: 0.03, cleaveLeft: 0.4, cleaveRight: 0.3, outcome: 'accepted', remark: '' } })
await page.reload()
const loss = page.getByRole('region', { name: 'Loss test, source and meter' })
// daily check
await loss.getByLabel('Source checked').click()
await page.getByRole('option').nth(1).click()
await loss.getByLabel('Through the cord, dBm').fill('-10,2')
await loss.getByLabel('Zeroed, through the third cord, dB').fill('0.8')
await loss.getByLabel('Cord', { exact: true }).fill('LC 1')
await page.waitForTimeout(400)
await loss.screenshot({ path: `${dir}a-daily.png` })
await loss.getByLabel('Zeroed, through the third cord, dB').fill('0.2')
await loss.getByRole('button', { name: 'Keep the check' }).click()
await loss.getByRole('button', { name: 'As the simulated meter shows it' }).click()
await loss.getByRole('button', { name: 'Keep the reference' }).click({ timeout: 60000 })
await page.waitForTimeout(800)
await loss.getByRole('button', { name: /^Simulated meter: / }).click()
await page.waitForTimeout(6000)
await page.getByRole('button', { name: 'Shoot both ends at both wavelengths' }).click()
await page.getByText(/Restored|Not restored/).first().waitFor({ timeout: 90000 })
await page.waitForTimeout(2500)
await page.evaluate(() => scrollTo(0, 0))
await page.screenshot({ path: `${dir}b-prove.png` })
await page.screenshot({ path: `${dir}b-prove-full.png`, fullPage: true })
await stageLink(page, 'Close').click()
await page.waitForTimeout(3000)
await page.screenshot({ path: `${dir}c-close.png`, fullPage: true })
const report = await page.request.get(`/api/callouts/${id}/report.pdf`)
const { writeFileSync } = await import('node:fs')
writeFileSync('/tmp/shots/s11-report.pdf', await report.body())
const phone = await open('lead', 390, 844, true)
await stageLink(phone, 'Close').click()
await phone.waitForTimeout(3000)
await phone.screenshot({ path: `${dir}d-close-phone.png`, fullPage: true })
console.log('sideways', await phone.evaluate(() => document.documentElement.scrollWidth))
await stageLink(phone, 'Prove').click()
await phone.waitForTimeout(3000)
await phone.screenshot({ path: `${dir}e-prove-phone.png` })
console.log('sideways', await phone.evaluate(() => document.documentElement.scrollWidth))
console.log('errors', errors)
await browser.close()
