import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it } from 'vitest'
import { renderPage, stubServer } from '../test/page.tsx'
import { readAgain } from '../test/readAgain.ts'
import { PhoneButton } from './PhoneButton.tsx'
import { whyNoPhone } from './publicAddress.ts'

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
