import type { NewObservation, Observation, SpliceEntry } from '@cold-thread/contract'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { accepted, CALLOUT, renderPage, smallPlant, stubServer, TECHNICIAN, type Sent } from '../../test/page.tsx'
import { JoinStage } from './JoinStage.tsx'
import { rivalsOf } from './rivals.ts'

const splice: SpliceEntry = {
  kind: 'splice',
  node: 'n1',
  chainage: 1000,
  cable: 'b',
  fiber: 5,
  attempt: 1,
  estimate: 0.03,
  cleaveLeft: 0.3,
  cleaveRight: 0.4,
  outcome: 'accepted',
  remark: '',
}
const logged = (by: string, estimate: number, supersedes: string | null = null): Observation => ({
  id: uuidv7(),
  calloutId: CALLOUT.id,
  entry: { ...splice, estimate },
  observedAt: '2026-03-01T02:00:00.000Z',
  receivedAt: '2026-03-01T02:00:00.000Z',
  by,
  supersedes,
  superseded: false,
})

function open(log: Observation[]): Sent[] {
  const sent = stubServer({
    'GET .*/observations': log,
    'GET .*/attachments': [],
    'GET .*/traces': [],
    'PUT .*': accepted,
  })
  const plant = smallPlant()
  renderPage(<JoinStage account={TECHNICIAN} callout={CALLOUT} plant={plant} link={plant.links[0]!} />)
  return sent
}
const puts = (sent: Sent[]) => sent.filter(({ method }) => method === 'PUT').map(({ body }) => body as NewObservation)

describe('a splice in the log', () => {
  it('is corrected by an entry that supersedes it', async () => {
    const first = logged('Night technician', 0.03)
    const sent = open([first])
    await userEvent.click(await screen.findByRole('button', { name: 'Correct' }))
    const dialog = await screen.findByRole('dialog')
    const estimate = within(dialog).getByLabelText('Estimate, dB')
    await userEvent.clear(estimate)
    await userEvent.type(estimate, '0,x')
    expect((within(dialog).getByRole('button', { name: 'Correct it' }) as HTMLButtonElement).disabled).toBe(true)
    await userEvent.clear(estimate)
    await userEvent.type(estimate, '0,13')
    await userEvent.click(within(dialog).getByRole('button', { name: 'Correct it' }))
    await waitFor(() => expect(puts(sent)).toHaveLength(1))
    expect(puts(sent)[0]).toMatchObject({ supersedes: first.id, entry: { ...splice, estimate: 0.13 } })
  })

  it('that two people corrected shows both, and the one not chosen is taken back', async () => {
    const first = { ...logged('Night technician', 0.03), superseded: true }
    const [mine, theirs] = [logged('Night technician', 0.05, first.id), logged('Night mate', 0.5, first.id)]
    const sent = open([first, mine, theirs])
    const both = await screen.findByRole('region', { name: 'Corrected by two: which stands?' })
    expect(within(both).getByText('Night mate')).toBeTruthy()
    await userEvent.click(within(both).getAllByRole('button', { name: 'This one stands' })[1]!)
    await waitFor(() => expect(puts(sent)).toHaveLength(1))
    expect(puts(sent)[0]).toMatchObject({
      supersedes: mine.id,
      entry: { kind: 'withdrawn', reason: 'the correction by Night mate stands' },
    })
  })

  it('has no rivals where one correction stands, or was corrected itself', () => {
    const first = logged('a', 0.03)
    const second = { ...logged('a', 0.04, first.id), superseded: true }
    const third = logged('b', 0.05, first.id)
    expect(rivalsOf([first, second, third])).toEqual([])
    expect(rivalsOf([first, { ...second, superseded: false }, third])).toHaveLength(1)
  })
})
