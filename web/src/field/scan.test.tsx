import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
import { describe, expect, it } from 'vitest'
import { PlacePage } from '../features/place/PlacePage.tsx'
import { TagsPage } from '../features/place/TagsPage.tsx'
import { CALLOUT, renderPage, smallPlant, stubServer, TECHNICIAN } from '../test/page.tsx'
import { readAgain } from '../test/readAgain.ts'
import { ScanButton } from './ScanButton.tsx'
import { readCode } from './scan.ts'

const OWN = ['https://fiber.example:8460', 'http://127.0.0.1:8460']

describe('a scanned code', () => {
  it.each([
    ['https://fiber.example:8460/at/lock-9', '/at/lock-9'],
    [`http://127.0.0.1:8460/callouts/${CALLOUT.id}/locate`, `/callouts/${CALLOUT.id}/locate`],
    [`https://fiber.example:8460/callouts/${CALLOUT.id}`, `/callouts/${CALLOUT.id}`],
  ])('%s opens its page', (text, path) => {
    expect(readCode(text, OWN)).toEqual({ path })
  })

  it.each([
    ['12345', /not a place of ours: “12345”/],
    ['https://fiber.example:8460/accounts', /leads elsewhere/],
    ['https://fiber.example:8460/at/../accounts', /leads elsewhere/],
    ['https://other.example/at/lock-9', /of another installation: https:\/\/other\.example/],
    ['javascript:alert(1)', /leads elsewhere/],
  ])('%s is told apart', (text, problem) => {
    expect(readCode(text, OWN)).toEqual({ problem: expect.stringMatching(problem) as unknown })
  })

  it('without a camera stream a picture of it is asked for', async () => {
    stubServer({ 'GET /address': { publicAddress: null } })
    renderPage(<ScanButton />)
    await userEvent.click(screen.getByRole('button', { name: 'Scan a tag' }))
    expect(await screen.findByText(/No camera stream here/)).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Take a picture of it' })).toBeTruthy()
  })
})

describe('a place', () => {
  const answers = {
    'GET /address': { publicAddress: 'https://fiber.example:8460' },
    'GET /plant': { bundle: smallPlant(), version: 1 },
    'GET /callouts': [
      { ...CALLOUT, title: 'Of somebody else' },
      { ...CALLOUT, id: `${CALLOUT.id.slice(0, -1)}d`, title: 'Mine', assignedTo: TECHNICIAN.displayName },
      { ...CALLOUT, id: `${CALLOUT.id.slice(0, -1)}e`, title: 'Done', state: 'closed' },
    ],
  }
  const at = (path: string) =>
    renderPage(
      <Routes>
        <Route path="/at/:node" element={<PlacePage account={TECHNICIAN} />} />
        <Route path="/tags" element={<TagsPage />} />
      </Routes>,
      path,
    )

  it('shows what is open there, mine first, and the cables of the record', async () => {
    stubServer(answers)
    at('/at/n1')
    expect(await screen.findByRole('heading', { name: 'Weir closure' })).toBeTruthy()
    const links = screen.getAllByRole('link', { name: 'Open' }).map((link) => link.getAttribute('href'))
    expect(links).toEqual([`/callouts/${CALLOUT.id.slice(0, -1)}d`, `/callouts/${CALLOUT.id}`])
    expect(screen.queryByText('Done')).toBeNull()
    expect(screen.getAllByText(/12 fibers, stranded loose tube, G\.652\.D; 1 carry links here/)).toHaveLength(2)
  })

  it('that the record does not have says so', async () => {
    stubServer(answers)
    at('/at/gone')
    expect((await screen.findByRole('alert')).textContent).toMatch(/no place “gone”/)
  })

  it('has a tag that is read again as its public address (ISO/IEC 18004, a registry decoder)', async () => {
    stubServer(answers)
    at('/tags')
    const codes = await screen.findAllByRole('img', { name: /QR code/ })
    expect(codes.map((code) => readAgain(code as unknown as SVGElement))).toEqual(
      ['n0', 'n1', 'n2'].map((id) => `https://fiber.example:8460/at/${id}`),
    )
    expect(screen.queryByText(/Tags printed now/)).toBeNull()
  })

  it('warns of tags that would lead nowhere', async () => {
    stubServer({ ...answers, 'GET /address': { publicAddress: null } })
    at('/tags')
    expect(await screen.findByText(/of this very machine.*Tags printed now keep this address/)).toBeTruthy()
  })
})
