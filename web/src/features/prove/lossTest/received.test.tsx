import type { LogEntry, Observation } from '@cold-thread/contract'
import type { Proof } from '@cold-thread/core/prove'
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, expect, it } from 'vitest'
import { fieldStore } from '../../../field/fieldStore.ts'
import {
  accepted,
  CALLOUT,
  enteredIn,
  logged,
  renderPage,
  smallPlant,
  stubServer,
  TECHNICIAN,
  VIEWER,
  type Sent,
} from '../../../test/page.tsx'
import { ReceivedPowerForm } from './ReceivedPowerForm.tsx'

const plant = smallPlant()
const link = plant.links[0]!
const proof = { total: { '1310': { before: 5, after: 5.1, afterSigma: 0.02, allowed: 5.4 } } } as unknown as Proof
let sent: Sent[] = []

function show(log: Observation[] = [], account = TECHNICIAN): void {
  sent = stubServer({
    'GET /callouts/[^/]+/observations': log,
    'PUT /callouts/[^/]+/observations(/[^/]+)?': accepted,
  })
  renderPage(<ReceivedPowerForm account={account} callout={CALLOUT} plant={plant} link={link} proof={proof} />)
}

beforeEach(() => fieldStore.outbox.clear())

it('received power is held against the traces while it is typed, and kept', async () => {
  show()
  await userEvent.type(await screen.findByLabelText('Before the fault, dBm'), '-12')
  const after = screen.getByLabelText('After the repair, dBm')
  await userEvent.type(after, '-18')
  expect(screen.getByRole('status').textContent).toMatch(/6\.0 dB less, by the traces 0\.10 dB: they differ by 5\.9 dB/)
  await userEvent.clear(after)
  await userEvent.type(after, '-12,3')
  expect(screen.getByRole('status').textContent).toMatch(/they agree within/)
  await userEvent.click(screen.getByRole('button', { name: 'Keep both' }))
  await waitFor(() => expect(enteredIn(sent)).toHaveLength(1))
  expect(enteredIn(sent)[0]).toEqual({
    kind: 'received-power',
    power: { link: 'l', way: 'ab', wavelength: 1310, before: -12, after: -12.3 },
  })
})

it('what was kept stands with its judgement; who only reads changes nothing', async () => {
  const power = { link: 'l', way: 'ba', wavelength: 1310, before: -12, after: -17 }
  show([logged({ kind: 'received-power', power } as LogEntry)], VIEWER)
  expect(await screen.findByText(/contradicts the traces/)).toBeTruthy()
  expect(screen.getByText(/At West panel, 1310 nm/)).toBeTruthy()
  expect(screen.queryByRole('button')).toBeNull()
})
