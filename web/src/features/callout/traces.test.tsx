import type { TraceRecord } from '@cold-thread/contract'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { fieldStore } from '../../field/fieldStore.ts'
import { entryInWords } from '../../field/OutboxPage.tsx'
import { CALLOUT, renderPage, smallPlant, stubServer, TECHNICIAN, VIEWER } from '../../test/page.tsx'
import { workerStandIn } from '../../test/workerStandIn.ts'
import { StandInPanel } from './StandInPanel.tsx'
import { TraceShelf } from './TraceShelf.tsx'

const inspect = vi.fn()
beforeEach(() => workerStandIn('core', { inspect }))

const plant = smallPlant()
const simulated = { ...CALLOUT, simulated: true }
const props = { account: TECHNICIAN, callout: simulated, plant, link: plant.links[0]! }

const record = (change: Partial<TraceRecord> = {}): TraceRecord =>
  ({
    id: '01a0c0de-0000-7000-8000-0000000000b1',
    calloutId: CALLOUT.id,
    linkId: 'l',
    fileName: 'present-ab.sor',
    sha256: 'a'.repeat(64),
    role: 'present',
    direction: 'ab',
    launchCord: 500,
    receiveCord: 500,
    simulated: false,
    withdrawn: false,
    warnings: [],
    facts: { wavelength: 1550, pulseWidth: 100, points: 8000 },
    ...change,
  }) as TraceRecord

/** Half a minute of averaging in three stages. */
const STAGES = {
  from: 0,
  to: 5000,
  stages: [
    [8192, 0.125, null],
    [16_384, 0.25, 0.21],
    [32_768, 0.5, 0.15],
  ].map(([averages, minutes, smallestLoss]) => ({
    averages,
    minutes,
    smallestLoss,
    low: [-10, -12],
    high: [-9, -11],
  })),
}

describe('the simulated OTDR', () => {
  it('shoots with what is set on it', async () => {
    const sent = stubServer({
      'GET /callouts/[^/]+/shots/[^/]+': STAGES,
      'PUT /callouts/[^/]+/shots/[^/]+': record(),
    })
    renderPage(<StandInPanel {...props} role="present" />)
    await userEvent.click(screen.getByLabelText('At'))
    await userEvent.click(await screen.findByRole('option', { name: 'East panel' }))
    await userEvent.click(screen.getByLabelText('Wavelength'))
    await userEvent.click(await screen.findByRole('option', { name: '1625 nm' }))
    await userEvent.click(screen.getByLabelText('Pulse'))
    await userEvent.click(await screen.findByRole('option', { name: '300 ns' }))
    await userEvent.click(screen.getByLabelText('Averaging'))
    await userEvent.click(await screen.findByRole('option', { name: '10 min' }))
    await userEvent.click(screen.getByRole('button', { name: 'Shoot these settings' }))
    await waitFor(() => expect(sent).toHaveLength(2))
    expect(sent[1]!.body).toEqual({ role: 'present', direction: 'ba', wavelength: 1625, pulseWidth: 300, minutes: 10 })
    await waitFor(() => expect(screen.queryByRole('group', { name: 'Shot in progress' })).toBeNull())
  })

  it('shows what a shot sees so far, and keeps it as soon as that is enough', async () => {
    const sent = stubServer({
      'GET /callouts/[^/]+/shots/[^/]+': STAGES,
      'PUT /callouts/[^/]+/shots/[^/]+': record(),
    })
    renderPage(<StandInPanel {...props} role="present" />)
    await userEvent.click(screen.getByRole('button', { name: 'Shoot these settings' }))
    const progress = await screen.findByRole('group', { name: 'Shot in progress' })
    await within(progress).findByText('Before the far end nothing can be seen yet')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Shooting…' }).disabled).toBe(true)
    await within(progress).findByText('Before the far end a loss of 0.21 dB would be seen')
    expect(within(progress).getByText(/^15 s of 30 s averaged/)).toBeTruthy()
    await userEvent.click(within(progress).getByRole('button', { name: 'Enough: keep this' }))
    await waitFor(() => expect(sent.some(({ method }) => method === 'PUT')).toBe(true))
    expect(sent.find(({ method }) => method === 'PUT')!.body).toMatchObject({ stopAt: 16_384 })
  })

  it('stopped, keeps nothing', async () => {
    const sent = stubServer({ 'GET /callouts/[^/]+/shots/[^/]+': STAGES })
    renderPage(<StandInPanel {...props} role="present" />)
    await userEvent.click(screen.getByRole('button', { name: 'Shoot these settings' }))
    await userEvent.click(await screen.findByRole('button', { name: 'Stop, keep nothing' }))
    expect(screen.queryByRole('group', { name: 'Shot in progress' })).toBeNull()
    expect(sent.every(({ method }) => method === 'GET')).toBe(true)
  })

  it('that the server refuses says so and can be left', async () => {
    stubServer({
      'GET /callouts/[^/]+/shots/[^/]+': () => ({
        status: 422,
        body: { code: 'cannot-compute', message: 'only a practice callout has a simulated link to shoot' },
      }),
    })
    renderPage(<StandInPanel {...props} role="present" />)
    await userEvent.click(screen.getByRole('button', { name: 'Shoot these settings' }))
    expect((await screen.findByRole('alert')).textContent).toMatch(/only a practice callout/)
    await userEvent.click(screen.getByRole('button', { name: 'Stop, keep nothing' }))
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Shoot these settings' }).disabled).toBe(false)
  })

  it('says what the chosen pulse will hide: 300 ns are 31 m', async () => {
    stubServer({})
    renderPage(<StandInPanel {...props} role="present" />)
    await userEvent.click(screen.getByLabelText('Pulse'))
    await userEvent.click(await screen.findByRole('option', { name: '300 ns' }))
    expect(screen.getByText(/closer than 31.m run into one/)).toBeTruthy()
  })

  it('shoots both ends at both wavelengths, and stops at the first refusal', async () => {
    let count = 0
    const sent = stubServer({
      'PUT /callouts/[^/]+/shots/[^/]+': () =>
        ++count < 3
          ? { status: 200, body: record() }
          : { status: 503, body: { code: 'database-down', message: 'The database does not answer.' } },
    })
    renderPage(<StandInPanel {...props} role="after" />)
    await userEvent.click(screen.getByRole('button', { name: 'Shoot both ends at both wavelengths' }))
    expect((await screen.findByRole('alert')).textContent).toMatch(/database does not answer/)
    expect(sent.map((one) => one.body)).toEqual([
      { role: 'after', direction: 'ab', wavelength: 1310 },
      { role: 'after', direction: 'ab', wavelength: 1550 },
      { role: 'after', direction: 'ba', wavelength: 1310 },
    ])
  })
})

describe('the shelf of traces', () => {
  it('shows what stands, where it was shot from and what is wrong with it', async () => {
    stubServer({
      'GET /callouts/[^/]+/traces': [
        record({ warnings: [{ code: 'checksum', message: 'the checksum is wrong' }] }),
        record({ id: '01a0c0de-0000-7000-8000-0000000000b2', fileName: 'gone.sor', withdrawn: true }),
        record({ id: '01a0c0de-0000-7000-8000-0000000000b3', fileName: 'after.sor', role: 'after' }),
      ],
    })
    renderPage(<TraceShelf {...props} role="present" title="Traces" />)
    const row = (await screen.findByText('present-ab.sor')).closest('li')!
    expect(within(row).getByText('from West panel')).toBeTruthy()
    expect(within(row).getByText('the checksum is wrong')).toBeTruthy()
    expect(screen.queryByText('gone.sor')).toBeNull()
    expect(screen.queryByText('after.sor')).toBeNull()
  })

  it('takes several files; a refused one is named and the rest go on', async () => {
    const sent = stubServer({
      'GET /callouts/[^/]+/traces': [],
      'PUT /callouts/[^/]+/traces/[^/]+': () => ({
        status: 422,
        body: { code: 'trace-refused', message: 'this trace is of another link' },
      }),
    })
    inspect.mockResolvedValueOnce({ problem: 'the file ends inside block DataPts' })
    inspect.mockResolvedValueOnce({ facts: record().facts, warnings: [] })
    renderPage(<TraceShelf {...props} role="present" title="Traces" />)
    const picker = await screen.findByLabelText('Trace files, present')
    const files = ['a-ab.sor', 'b-ba.sor'].map((name) => new File([new Uint8Array(4)], name))
    fireEvent.change(picker, { target: { files } })
    await waitFor(() => expect(screen.getAllByRole('alert')).toHaveLength(2))
    // The first can't be read on this device, the second is refused by the server and stays in the outbox.
    expect(screen.getAllByRole('alert').map((alert) => alert.textContent)).toEqual([
      'a-ab.sor: the file ends inside block DataPts',
      'b-ba.sor: this trace is of another link',
    ])
    expect(sent.filter((one) => one.method === 'PUT')).toHaveLength(1)
    expect((await fieldStore.outbox.toArray()).map(entryInWords)).toEqual(['Trace b-ba.sor'])
  })

  it('has no simulated OTDR where the link is real, and no files in for a viewer', async () => {
    stubServer({ 'GET /callouts/[^/]+/traces': [] })
    const page = renderPage(<TraceShelf {...props} callout={CALLOUT} role="present" title="Traces" />)
    await screen.findByRole('button', { name: 'Choose .sor files' })
    expect(screen.queryByRole('region', { name: 'Simulated OTDR' })).toBeNull()
    page.unmount()
    renderPage(<TraceShelf {...props} account={VIEWER} role="present" title="Traces" />)
    await screen.findByText('No traces.')
    expect(screen.queryByRole('button')).toBeNull()
  })
})
