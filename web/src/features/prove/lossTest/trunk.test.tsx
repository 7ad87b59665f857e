import { farChannel, type TrunkSample } from '@cold-thread/core/prove'
import { act, cleanup, render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, expect, it, vi } from 'vitest'
import { fieldStore } from '../../../field/fieldStore.ts'
import {
  accepted,
  CALLOUT,
  enteredIn,
  renderPage,
  smallPlant,
  stubServer,
  TECHNICIAN,
  type Sent,
} from '../../../test/page.tsx'
import { TesterStream } from './TesterStream.tsx'
import { TrunkTests } from './TrunkTests.tsx'

const plant = smallPlant()
let sent: Sent[] = []
let log: object[] = []
const rows = (loss: (channel: number) => string) =>
  Array.from({ length: 12 }, (_, i) => `${i + 1}\t${farChannel('B', i + 1, 12)}\t${loss(i + 1)}\t38`).join('\n')

const REFERENCE_ENTRY = {
  id: '01a0c0de-0000-7000-8000-000000000001',
  by: 'a',
  observedAt: '2026-01-01T02:00:00Z',
  supersedes: null,
  superseded: false,
  entry: {
    kind: 'trunk-reference',
    reference: {
      end: 'first',
      fiber: 'single-mode',
      wavelength: 1310,
      copied: false,
      channels: Array.from({ length: 12 }, () => ({ level: -12, returnLoss: 55 })),
    },
  },
}

beforeEach(async () => {
  await fieldStore.outbox.clear()
  log = []
  sent = stubServer({
    'GET /callouts/[^/]+/observations': () => ({ status: 200, body: log }),
    'PUT /callouts/[^/]+/observations(/[^/]+)?': accepted,
  })
  renderPage(<TrunkTests account={TECHNICIAN} callout={CALLOUT} plant={plant} link={plant.links[0]!} />)
})

it('a pasted table is judged channel by channel, then kept; the other end is next', async () => {
  await userEvent.type(await screen.findByLabelText('Trunk'), 'Row 3 to row 7')
  await userEvent.click(screen.getByLabelText(/The tester’s table/))
  await userEvent.paste(rows((channel) => (channel === 5 ? '2,1 dB' : '0.4')))
  const channels = within(screen.getByRole('list', { name: 'Channels' })).getAllByRole('listitem')
  expect(channels).toHaveLength(12)
  expect(channels[4]!.textContent).toMatch(/5 to 8.*2\.10 dB.*RL 38 dB.*over/)
  expect(screen.getByRole('status').textContent).toMatch(
    /Polarity B, as recorded.*channel 5: clean and inspect both ends/,
  )
  await userEvent.click(screen.getByRole('button', { name: 'Keep the trunk’s readings' }))
  await waitFor(() => expect(enteredIn(sent)).toHaveLength(1))
  expect(enteredIn(sent)[0]).toMatchObject({
    kind: 'trunk-test',
    test: {
      trunk: 'Row 3 to row 7',
      end: 'first',
      polarity: 'B',
      channels: { 4: { at: 8, loss: 2.1, returnLoss: 38 } },
    },
  })
  await waitFor(() => expect(screen.getByLabelText('Source at').textContent).toBe('the second end'))
})

it('the reference of the tester is judged before it is kept; the trunk is read against it', async () => {
  await userEvent.click(await screen.findByLabelText(/The tester’s reference/))
  const cord = (weak: number) =>
    Array.from({ length: 12 }, (_, i) => `${i + 1}\t${i + 1 === weak ? -13.5 : -12}\t55`).join('\n')
  await userEvent.paste(cord(7))
  expect(screen.getByRole('status').textContent).toMatch(/not even.*channel 7: clean and inspect the reference cord/)
  await userEvent.clear(screen.getByLabelText(/The tester’s reference/))
  await userEvent.click(screen.getByLabelText(/The tester’s reference/))
  await userEvent.paste(cord(0))
  expect(screen.getByRole('status').textContent).toMatch(/even on every channel.*-12\.00 to -12\.00 dBm/)
  log = [REFERENCE_ENTRY]
  await userEvent.click(screen.getByRole('button', { name: 'Keep the reference' }))
  await waitFor(() => expect(enteredIn(sent)).toHaveLength(1))
  expect(enteredIn(sent)[0]).toMatchObject({
    kind: 'trunk-reference',
    reference: { end: 'first', copied: false, channels: { length: 12, 0: { level: -12, returnLoss: 55 } } },
  })
  // Once it is in the log, levels can be read against it.
  await userEvent.click(await screen.findByRole('button', { name: 'Look at the reference again' }))
  await userEvent.click(screen.getByLabelText(/The tester’s reference/))
  await userEvent.paste(cord(0).replace('2\t-12', '2\t-12.2'))
  expect(screen.getByRole('status').textContent).toMatch(/Moved by more than 0\.1 dB on channel 2: what was read/)
  await userEvent.click(screen.getByRole('button', { name: 'Leave the reference as it is' }))
  await userEvent.click(screen.getByLabelText(/The tester’s table/))
  await userEvent.paste(rows((channel) => `${-12.4 - channel / 100} dBm`))
  expect(screen.getAllByRole('listitem')[0]!.textContent).toMatch(/0\.41 dB/)
})

it('a table of another count, or with words in it, is not taken, and says where', async () => {
  const table = await screen.findByLabelText(/The tester’s table/)
  await userEvent.click(table)
  await userEvent.paste('0.4\n0.5')
  expect(screen.getByText(/2 rows were pasted, the trunk has 12 channels: nothing is taken/)).toBeTruthy()
  await userEvent.clear(table)
  await userEvent.click(table)
  await userEvent.paste(rows((channel) => (channel === 9 ? 'good' : '0.4')))
  expect(screen.getByText(/row 9: “good” is no figure/)).toBeTruthy()
  expect((screen.getByRole('button', { name: 'Keep the trunk’s readings' }) as HTMLButtonElement).disabled).toBe(true)
})

it('at the other end the reference is copied with one press', async () => {
  log = [REFERENCE_ENTRY]
  cleanup()
  renderPage(<TrunkTests account={TECHNICIAN} callout={CALLOUT} plant={plant} link={plant.links[0]!} />)
  await userEvent.click(await screen.findByLabelText('Source at'))
  await userEvent.click(screen.getByRole('option', { name: 'the second end' }))
  await userEvent.click(await screen.findByRole('button', { name: 'It was copied from the tester at the first end' }))
  await waitFor(() => expect(enteredIn(sent)).toHaveLength(1))
  expect(enteredIn(sent)[0]).toMatchObject({
    kind: 'trunk-reference',
    reference: { ...REFERENCE_ENTRY.entry.reference, end: 'second', copied: true },
  })
})

it('a tester that is read is taken once every channel is at rest; nonsense is said and not taken', () => {
  let send: (sample: TrunkSample) => void = () => undefined
  const tester = {
    channels: 2,
    listen: (onSample: typeof send) => {
      send = onSample
      return () => undefined
    },
  }
  const onRows = vi.fn()
  cleanup()
  render(<TesterStream tester={tester} onRows={onRows} onStop={() => undefined} />)
  const sample = (channel: number, value: number | null) => act(() => send({ channel, at: 1, value, returnLoss: 40 }))
  sample(1, 4096)
  expect(screen.getByText(/The tester sends what can’t be a reading: nothing is taken/)).toBeTruthy()
  for (const value of [0.7, 0.4, 0.41, 0.4, 0.4, 0.4]) sample(1, value)
  for (let k = 0; k < 4; k++) sample(2, null)
  expect(screen.getByText('1 of 2 channels at rest')).toBeTruthy()
  expect(onRows).not.toHaveBeenCalled()
  sample(2, null)
  expect(onRows).toHaveBeenCalledExactlyOnceWith([
    { channel: 1, at: 1, value: 0.4, returnLoss: 40 },
    { channel: 2, at: 1, value: null, returnLoss: 40 },
  ])
})
