import jsQR from 'jsqr'
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it } from 'vitest'
import { renderPage, stubServer } from '../test/page.tsx'
import { PhoneButton, whyNoPhone } from './PhoneDialog.tsx'

/** The drawn code as the pixels that a camera would see, read by a general-purpose decoder. */
function readAgain(code: SVGElement): string | undefined {
  const side = Number(code.getAttribute('viewBox')!.split(' ')[2])
  const scale = 4
  const pixels = new Uint8ClampedArray((side * scale) ** 2 * 4).fill(255)
  for (const [, x, y] of code
    .querySelector('path')!
    .getAttribute('d')!
    .matchAll(/M(\d+) (\d+)h1/g))
    for (let dy = 0; dy < scale; dy++)
      for (let dx = 0; dx < scale; dx++) {
        const at = 4 * ((Number(y) * scale + dy) * side * scale + Number(x) * scale + dx)
        pixels.fill(0, at, at + 3)
      }
  return jsQR(pixels, side * scale, side * scale)?.data
}

describe('the phone’s way in', () => {
  it('is a code that is read again as the public address of the callout', async () => {
    stubServer({ 'GET /address': { publicAddress: 'https://fiber.example:8460' } })
    renderPage(<PhoneButton path="/callouts/7/locate" />)
    await userEvent.click(screen.getByRole('button', { name: 'Open on a phone' }))
    const code = await screen.findByRole('img', { name: /QR code/ })
    expect(readAgain(code as unknown as SVGElement)).toBe('https://fiber.example:8460/callouts/7/locate')
    expect(screen.queryByRole('alert')).toBeNull()
  })

  it('says where it can’t work, or not without network', () => {
    expect(whyNoPhone('http://127.0.0.1:8460/')).toMatch(/of this very machine/)
    expect(whyNoPhone('https://localhost/')).toMatch(/of this very machine/)
    expect(whyNoPhone('http://192.168.1.4:8460/')).toMatch(/plain http/)
    expect(whyNoPhone('https://fiber.example/')).toBeNull()
  })
})
