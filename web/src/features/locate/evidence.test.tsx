import type { Observation } from '@cold-thread/contract'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it } from 'vitest'
import { CALLOUT, renderPage, smallPlant, stubServer, TECHNICIAN, VIEWER } from '../../test/page.tsx'
import { EvidenceSection } from './EvidenceSection.tsx'

const plant = smallPlant()
const props = { account: TECHNICIAN, callout: CALLOUT, plant, link: plant.links[0]! }
const logged: Observation = {
  id: '01a0c0de-0000-7000-8000-0000000000aa',
  calloutId: CALLOUT.id,
  entry: { kind: 'evidence', evidence: { kind: 'opened', node: 'n1', found: false } },
  observedAt: '2026-03-01T02:10:00.000Z',
  receivedAt: '2026-03-01T02:10:00.000Z',
  by: 'Night technician',
  supersedes: null,
  superseded: false,
}
const GET_LOG = 'GET /callouts/[^/]+/observations'
const PUT_LOG = 'PUT /callouts/[^/]+/observations/[^/]+'

async function choose(label: string, option: string) {
  await userEvent.click(screen.getByLabelText(label))
  await userEvent.click(await screen.findByRole('option', { name: option }))
}

describe('evidence from people', () => {
  it('is listed in words with who and when', async () => {
    stubServer({ [GET_LOG]: [logged] })
    renderPage(<EvidenceSection {...props} />)
    const list = await screen.findByRole('list', { name: 'Evidence' })
    await within(list).findByText('Weir closure opened: nothing wrong')
    expect(within(list).getByText(/Night technician/)).toBeTruthy()
  })

  it('taken back is superseded, never deleted', async () => {
    const sent = stubServer({ [GET_LOG]: [logged], [PUT_LOG]: logged })
    renderPage(<EvidenceSection {...props} />)
    await userEvent.click(await screen.findByRole('button', { name: 'Take back' }))
    await waitFor(() => expect(sent.some((one) => one.method === 'PUT')).toBe(true))
    expect(sent.find((one) => one.method === 'PUT')!.body).toMatchObject({
      supersedes: logged.id,
      entry: { kind: 'withdrawn' },
    })
  })

  it('superseded shows no more', async () => {
    stubServer({ [GET_LOG]: [{ ...logged, superseded: true }] })
    renderPage(<EvidenceSection {...props} />)
    await screen.findByText(/each moves the place/)
    expect(screen.queryByText(/nothing wrong/)).toBeNull()
  })

  it('a report takes its place from a landmark and goes out in metres', async () => {
    const sent = stubServer({ [GET_LOG]: [], [PUT_LOG]: logged })
    renderPage(<EvidenceSection {...props} />)
    await userEvent.click(await screen.findByRole('button', { name: 'Add evidence' }))
    const use = screen.getByRole<HTMLButtonElement>('button', { name: 'Use this evidence' })
    expect(use.disabled).toBe(true)
    await userEvent.type(screen.getByLabelText('What was seen'), 'digger')
    await choose('Where', 'Mill gate')
    await userEvent.click(use)
    await waitFor(() => expect(sent.some((one) => one.method === 'PUT')).toBe(true))
    expect(sent.find((one) => one.method === 'PUT')!.body).toMatchObject({
      entry: {
        kind: 'evidence',
        evidence: { kind: 'report', place: { chainage: 1400 }, spread: 100, text: 'digger' },
      },
    })
  })

  it('a distance read out takes a decimal comma; letters keep the button shut', async () => {
    const sent = stubServer({ [GET_LOG]: [], [PUT_LOG]: logged })
    renderPage(<EvidenceSection {...props} />)
    await userEvent.click(await screen.findByRole('button', { name: 'Add evidence' }))
    await choose('Kind of evidence', 'Distance read out')
    const distance = screen.getByLabelText('Distance shown, m')
    await userEvent.type(distance, 'far')
    const use = screen.getByRole<HTMLButtonElement>('button', { name: 'Use this evidence' })
    expect(use.disabled).toBe(true)
    await userEvent.clear(distance)
    await userEvent.type(distance, '1512,5')
    await userEvent.click(use)
    await waitFor(() => expect(sent.some((one) => one.method === 'PUT')).toBe(true))
    expect(sent.find((one) => one.method === 'PUT')!.body).toMatchObject({
      entry: { evidence: { kind: 'distance', from: 'ab', distance: 1512.5, groupIndex: 1.4682, what: 'break' } },
    })
  })

  it('what the server refuses is shown, and the form keeps what was typed', async () => {
    stubServer({
      [GET_LOG]: [],
      [PUT_LOG]: () => ({ status: 400, body: { code: 'invalid-request', message: 'the link does not pass there' } }),
    })
    renderPage(<EvidenceSection {...props} />)
    await userEvent.click(await screen.findByRole('button', { name: 'Add evidence' }))
    await userEvent.type(screen.getByLabelText('What was seen'), 'crane')
    await userEvent.click(screen.getByRole('button', { name: 'Use this evidence' }))
    expect((await screen.findByRole('alert')).textContent).toMatch(/does not pass there/)
    expect(screen.getByLabelText<HTMLInputElement>('What was seen').value).toBe('crane')
  })

  it('a viewer reads and changes nothing', async () => {
    stubServer({ [GET_LOG]: [logged] })
    renderPage(<EvidenceSection {...props} account={VIEWER} />)
    await screen.findByText('Weir closure opened: nothing wrong')
    expect(screen.queryByRole('button')).toBeNull()
  })

  it('on a closed callout nothing is added', async () => {
    stubServer({ [GET_LOG]: [logged] })
    renderPage(<EvidenceSection {...props} callout={{ ...CALLOUT, state: 'closed' }} />)
    await screen.findByText('Weir closure opened: nothing wrong')
    expect(screen.queryByRole('button')).toBeNull()
  })
})
