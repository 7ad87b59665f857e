import { farChannel } from '@cold-thread/core/prove'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, expect, it } from 'vitest'
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
import { TrunkTests } from './TrunkTests.tsx'

const plant = smallPlant()
let sent: Sent[] = []
const rows = (loss: (channel: number) => string) =>
  Array.from({ length: 12 }, (_, i) => `${i + 1}\t${farChannel('B', i + 1, 12)}\t${loss(i + 1)}\t38`).join('\n')

beforeEach(async () => {
  await fieldStore.outbox.clear()
  sent = stubServer({
    'GET /callouts/[^/]+/observations': [],
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
  expect(screen.getByLabelText('Source at').textContent).toBe('the second end')
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
