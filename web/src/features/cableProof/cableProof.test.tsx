import type { CableProofRecord } from '@cold-thread/contract'
import type { FiberProof } from '@cold-thread/core/prove'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { CALLOUT, renderPage, smallPlant, stubServer, TECHNICIAN, VIEWER, type Answer } from '../../test/page.tsx'
import { workerStandIn } from '../../test/workerStandIn.ts'
import { CableProofPage } from './CableProofPage.tsx'

beforeEach(() => workerStandIn('core', { identify: vi.fn() }))

// The page has no layout here to scroll in.
Element.prototype.scrollIntoView = () => undefined

const fiber = (number: number, verdict: FiberProof['verdict'], after: number | null = 2.1): FiberProof => ({
  fiber: number,
  link: null,
  verdict,
  reasons: [verdict === 'restored' ? 'as in the baseline' : `reason of ${number}`],
  next: verdict === 'restored' ? [] : [`redo ${number}`],
  totals: [1310, 1550].map((wavelength) => ({
    wavelength,
    before: 2,
    after,
    afterSigma: after === null ? null : 0.03,
    change: after === null ? null : after - 2,
    allowed: 2.5,
    holds: after === null ? 'unknown' : after > 2.5 ? 'no' : 'yes',
    worst: null,
    standsOff: number === 4 ? 2 : null,
  })),
})
const RECORD: CableProofRecord = {
  done: 5,
  of: 5,
  proof: {
    cable: 'a',
    groups: [{ number: 1, word: 'tube', color: 'blue', first: 1, last: 12 }],
    fibers: [
      fiber(1, 'restored'),
      fiber(2, 'not-restored', 3.4),
      fiber(3, 'cannot-tell', null),
      fiber(4, 'restored-with-remarks'),
      fiber(5, 'restored'),
    ],
    missing: [6, 7, 9],
  },
}

function open(answers: Record<string, Answer>, account = TECHNICIAN) {
  const sent = stubServer({
    'GET /callouts/[^/]+': CALLOUT,
    'GET /plant': { bundle: smallPlant(), version: 1 },
    ...answers,
  })
  renderPage(
    <Routes>
      <Route path="/callouts/:id/fibers" element={<CableProofPage account={account} />} />
    </Routes>,
    `/callouts/${CALLOUT.id}/fibers`,
  )
  return sent
}
const proved = (record: unknown = RECORD) => ({ 'GET /callouts/[^/]+/cable-proof': record })
const rows = () =>
  within(screen.getByRole('table', { name: 'Fibers' }))
    .getAllByRole('row')
    .slice(1)
const told = () => screen.getByText(/^Fiber \d+$/).closest('[role="status"]')!.textContent

describe('every fiber of a cable', () => {
  it('says how many are what, worst first, and shows what is not restored before anything else', async () => {
    open(proved())
    const verdicts = within(await screen.findByRole('list', { name: 'Verdicts' })).getAllByRole('listitem')
    expect(verdicts.map(({ textContent }) => textContent)).toEqual([
      '1 Not restored: fiber 2',
      '1 Can’t tell yet: fiber 3',
      '1 Restored, with remarks: fiber 4',
      '2 Restored',
    ])
    expect(screen.getByText('Not shot: fibers 6, 7, 9.')).toBeTruthy()
    expect(rows().map((row) => row.textContent.replaceAll('\u00a0', ' '))).toEqual([
      '213102.003.40 ± 0.06+1.402.50overNot restored',
      '215502.003.40 ± 0.06+1.402.50overNot restored',
      '313102.002.50not measuredCan’t tell yet',
      '315502.002.50not measuredCan’t tell yet',
    ])
    expect(told()).toMatch(/reason of 2.*Next: redo 2/)
  })

  it('filters, and walks from fiber to fiber by keyboard', async () => {
    open(proved())
    await userEvent.click(await screen.findByRole('button', { name: 'All, 5' }))
    expect(rows()).toHaveLength(10)
    const table = screen.getByRole('table', { name: 'Fibers' })
    for (const key of ['ArrowDown', 'ArrowDown', 'ArrowDown']) fireEvent.keyDown(table, { key })
    expect(told()).toMatch(/^Fiber 4.*reason of 4/)
    expect(screen.getAllByText(/, stands off/)).toHaveLength(2)
    fireEvent.keyDown(table, { key: 'ArrowUp' })
    expect(told()).toMatch(/^Fiber 3/)
    await userEvent.click(screen.getByRole('button', { name: 'Not without remark, 3' }))
    expect(rows()).toHaveLength(6)
  })

  it('shows how far the server is and asks again until all are judged', async () => {
    const [some] = RECORD.proof.fibers
    const answers = [{ ...RECORD, done: 1, proof: { ...RECORD.proof, fibers: [some] } }, RECORD]
    const sent = open({ 'GET /callouts/[^/]+/cable-proof': () => ({ status: 200, body: answers.shift() ?? RECORD }) })
    expect(await screen.findByText('Judging: 1 of 5 fibers')).toBeTruthy()
    await waitFor(() => expect(screen.queryByText(/^Judging/)).toBeNull())
    expect(sent.filter(({ path }) => path.endsWith('cable-proof'))).toHaveLength(2)
    expect(within(screen.getByRole('list', { name: 'Verdicts' })).getAllByRole('listitem')).toHaveLength(4)
  })

  it('without any trace a reader is told so, and has nothing to press', async () => {
    open(proved(null), VIEWER)
    expect(await screen.findByText('No fiber of this cable was shot after the repair.')).toBeTruthy()
    expect(screen.queryByRole('button', { name: /Take|Choose/ })).toBeNull()
  })
})
