import type { LogEntry, Observation } from '@cold-thread/contract'
import type { Proof } from '@cold-thread/core/prove'
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it } from 'vitest'
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
import { readReceivedCsv } from './receivedCsv.ts'

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

describe('received powers from a table', () => {
  const read = (text: string) => readReceivedCsv(text, plant, link, 1490)

  it('of both ends and several wavelengths, with or without a column for these', () => {
    const power = (way: string, wavelength: number, before: number, after: number) => ({
      link: 'l',
      way,
      wavelength,
      before,
      after,
    })
    expect(read('place,before,after\nEast panel,-12,-12.4\nn0,-9,-9.1')).toEqual({
      powers: [power('ab', 1490, -12, -12.4), power('ba', 1490, -9, -9.1)],
    })
    expect(read('Wavelength (nm);After (dBm);Before (dBm);Where\n1310 nm;−12,4;-12;n2\n1550;-9.1;-9 dBm;n2')).toEqual({
      powers: [power('ab', 1310, -12, -12.4), power('ab', 1550, -9, -9.1)],
    })
  })

  it.each([
    ['place,before\nn0,-9', /names no column "after"/],
    ['place,before,after\nWeir closure,-9,-9', /row 2: "Weir closure" is neither end/],
    ['place,before,after,nm\nn0,-9,-9,blue', /row 2: "blue" is no wavelength/],
    ['place,before,after\nn0,-9,-9\nn2,3 dB,-9', /row 3: "3 dB" is no received power/],
    ['place,before,after\nn0,-9,\n', /row 2: "" is no received power/],
    ['place,before,after\nn0,-9,-9\nWest panel,-8,-9', /row 3: West panel at 1490 nm is there twice/],
    ['place,before,after\n', /no readings/],
    ['\u0000\u0001', /names no column "place" \(found: nothing\)/],
    ['x'.repeat(5000), /\(found: x{200}…\)/],
  ])('with a mistake are refused as a whole, with the row: %j', (text, problem) => {
    expect((read(text) as { problem: string }).problem).toMatch(problem)
  })

  it('are judged before they are kept', async () => {
    show()
    const choose = async (text: string) =>
      userEvent.upload(await screen.findByLabelText('CSV file of received powers'), new File([text], 'rx.csv'))
    await choose('place,before,after\nmoon,-12,-12')
    expect((await screen.findByRole('alert')).textContent).toMatch(/rx\.csv: row 2: "moon".*Nothing was taken/)
    await choose('place,before,after\nn2,-12,-17\nn0,-12,-12.2')
    const list = await screen.findByRole('list', { name: 'Received powers in the file' })
    expect(list.textContent).toMatch(/At East panel, 1310 nm: -12\.0 dBm before, -17\.0 dBm after;.*differ by 4\.9 dB/)
    await userEvent.click(screen.getByRole('button', { name: 'Keep these 2 readings' }))
    await waitFor(() => expect(enteredIn(sent)).toHaveLength(2))
    expect(enteredIn(sent)[1]).toMatchObject({ kind: 'received-power', power: { way: 'ba', after: -12.2 } })
  })
})
