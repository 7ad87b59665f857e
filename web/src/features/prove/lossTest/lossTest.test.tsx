import type { LogEntry, Observation } from '@cold-thread/contract'
import { EMPTY_KIT } from '@cold-thread/core/kit'
import type { MadeCheck } from '@cold-thread/core/prove'
import { screen, waitFor, within } from '@testing-library/react'
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
import { LossTest } from './LossTest.tsx'

const plant = smallPlant()
const link = plant.links[0]!
// A second link beside the first, for what is typed one after the other.
const beside = {
  ...link,
  id: 'beside',
  name: 'Beside it',
  path: link.path.map((step) => ('fiber' in step ? { ...step, fiber: step.fiber + 1 } : step)),
}
const REFERENCE_ID = '01a0c0de-0000-7000-8000-0000000000cc'
const reference = (some: object = {}) =>
  logged(
    {
      kind: 'loss-reference',
      method: 'one-cord',
      wavelength: 1310,
      level: -10,
      source: null,
      meter: null,
      cords: 'two, LC to LC',
      referenceGrade: true,
      encircledFlux: null,
      ...some,
    } as LogEntry,
    REFERENCE_ID,
  )
let sent: Sent[] = []

function show(log: Observation[], account = TECHNICIAN, elsewhere: MadeCheck[] = []): void {
  sent = stubServer({
    'GET /callouts/[^/]+/observations': log,
    'GET /callouts/[^/]+/source-checks': elsewhere,
    'GET /kit': { kit: EMPTY_KIT, version: 0 },
    'PUT /callouts/[^/]+/observations(/[^/]+)?': accepted,
  })
  const both = { ...plant, links: [link, beside] }
  renderPage(<LossTest account={account} callout={CALLOUT} plant={both} link={link} />)
}
const entered = async (count = 1) => {
  await waitFor(() => expect(enteredIn(sent).length).toBeGreaterThanOrEqual(count))
  return enteredIn(sent)
}

beforeEach(() => fieldStore.outbox.clear())

describe('the daily check', () => {
  it('says what a low level means while it is typed, and is kept with its cord', async () => {
    show([])
    const level = await screen.findByLabelText('Through the cord, dBm')
    const form = within(level.closest('form')!)
    await userEvent.type(level, '-17')
    expect(form.getByRole('status').textContent).toMatch(/Low.*not set to 1310 nm, the wrong leg.*Next: caps off/)
    await userEvent.clear(level)
    await userEvent.type(level, '-10,1')
    expect(form.getByRole('status').textContent).toMatch(/Level as it should be.*Next: zero the meter/)
    await userEvent.type(form.getByLabelText('Zeroed, through the third cord, dB'), '0.8')
    expect(form.getByRole('status').textContent).toMatch(
      /Third cord or sleeve loses too much.*at most 0\.5 dB.*Next: clean third cord/,
    )
    await userEvent.type(form.getByLabelText('Cord'), 'LC 1')
    await userEvent.type(form.getByLabelText('Third cord'), 'LC 5')
    await userEvent.type(form.getByLabelText('Sleeve'), 'sleeve 1')
    await userEvent.click(form.getByRole('button', { name: 'Keep the check' }))
    expect((await entered())[0]).toEqual({
      kind: 'source-check',
      check: {
        source: null,
        meter: null,
        cord: 'LC 1',
        wavelength: 1310,
        kind: 'laser',
        level: -10.1,
        third: 0.8,
        thirdCord: 'LC 5',
        sleeve: 'sleeve 1',
      },
    })
  })
})

describe('the daily check of another callout', () => {
  const made = (daysAgo: number, wavelength = 1310): MadeCheck => ({
    id: `01a0c0de-0000-7000-8000-00000000${wavelength}`,
    by: 'a',
    at: new Date(Date.now() - 86_400_000 * daysAgo).toISOString(),
    source: 's',
    meter: 'm',
    cord: 'LC 1',
    wavelength,
    kind: 'laser',
    level: -9.2,
    third: 0.2,
  })
  const summary = () => screen.findByText(/in another callout/)

  it('of today will do, and is folded away', async () => {
    show([], TECHNICIAN, [made(0), made(0, 1550)])
    expect((await summary()).textContent).toMatch(
      /^Daily check of source, cords and meter: .*Good LC 1, 1310 nm.*Good LC 1, 1550 nm/,
    )
    expect((await summary()).closest('details')!.open).toBe(false)
  })

  it('at one wavelength asks for the other, which is chosen already', async () => {
    show([], TECHNICIAN, [made(0)])
    expect((await summary()).textContent).toMatch(/Good LC 1, 1310 nm.*; 1550 nm not yet$/)
    const details = (await summary()).closest('details')!
    expect(details.open).toBe(true)
    expect(within(details).getByLabelText('Both set to').textContent).toBe('1550 nm')
  })

  it('of another day is to be made again', async () => {
    show([], TECHNICIAN, [made(2)])
    expect((await summary()).textContent).toMatch(/not made today; the last one: .*Good LC 1/)
    expect((await summary()).closest('details')!.open).toBe(true)
  })
})

describe('the reference', () => {
  it('is set with method, wavelength and level, in whatever unit the meter shows', async () => {
    show([])
    const field = await screen.findByLabelText('The meter shows, dBm')
    const keep = screen.getByRole('button', { name: 'Keep the reference' }) as HTMLButtonElement
    expect(screen.getByRole('img', { name: 'source, launch cord, meter' })).toBeTruthy()
    await userEvent.type(field, 'low')
    expect(keep.disabled).toBe(true)
    await userEvent.clear(field)
    await userEvent.type(field, '50 µW')
    expect(screen.getByText(/Low for a laser source/)).toBeTruthy()
    await userEvent.clear(field)
    await userEvent.type(field, '100 µW')
    await userEvent.type(screen.getByLabelText('Test cords and adapters, by their names'), 'LC 1 and LC 2')
    await userEvent.click(keep)
    expect((await entered())[0]).toMatchObject({
      kind: 'loss-reference',
      method: 'one-cord',
      wavelength: 1310,
      level: -10,
      cords: 'LC 1 and LC 2',
      encircledFlux: null,
    })
  })

  it('looked at again says by how much it moved', async () => {
    show([reference()])
    const field = await screen.findByLabelText('Reference looked at again, dBm')
    await userEvent.type(field, '-10,25')
    expect(screen.getByText(/Moved by -0\.25 dB, more than 0\.1 dB/)).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: 'Keep the look' }))
    expect((await entered())[0]).toEqual({ kind: 'reference-look', referenceId: REFERENCE_ID, level: -10.25 })
  })
})

describe('readings', () => {
  const cell = (name: string) => screen.findByLabelText(`Meter at ${name}, dBm`)

  it('are kept with Enter, fiber after fiber', async () => {
    show([reference()])
    await userEvent.type(await cell(link.name), '-11.2{Enter}')
    expect((await entered())[0]).toEqual({
      kind: 'loss-reading',
      referenceId: REFERENCE_ID,
      link: link.id,
      way: 'ab',
      level: -11.2,
    })
    const next = await cell('Beside it')
    await waitFor(() => expect(document.activeElement).toBe(next))
  })

  it('a column can be pasted; a cell that is no level stops it, and says so', async () => {
    show([reference()])
    await userEvent.click(await cell(link.name))
    await userEvent.paste('fiber 1;-11,2 dBm\nfiber 2;dark')
    expect(screen.getByText(/One cell is no level/)).toBeTruthy()
    const keep = screen.getByRole('button', { name: 'Keep 2 readings' }) as HTMLButtonElement
    expect(keep.disabled).toBe(true)
    const second = await cell('Beside it')
    await userEvent.clear(second)
    await userEvent.type(second, '1.4 dB')
    await userEvent.click(keep)
    // Where the meter was zeroed, it shows the loss.
    expect((await entered(2)).map((entry) => (entry as { level: number }).level)).toEqual([-11.2, -11.4])
  })

  it('more rows than fibers are not taken', async () => {
    show([reference()])
    await userEvent.click(await cell(link.name))
    await userEvent.paste('-11\n-12\n-13')
    expect(screen.getByText(/3 rows were pasted, from here on there are 2: nothing was taken/)).toBeTruthy()
    expect(((await cell(link.name)) as HTMLInputElement).value).toBe('')
  })

  it('stand with their loss, what is allowed, and the reason; who only reads changes nothing', async () => {
    const reading = logged({ kind: 'loss-reading', referenceId: REFERENCE_ID, link: link.id, way: 'ab', level: -19 })
    show([reference(), reading], VIEWER)
    const row = within((await screen.findByText(link.name)).closest('tr')!)
    expect(row.getByText('9.00')).toBeTruthy()
    expect(row.getByText('over')).toBeTruthy()
    expect(row.getByText(/9\.00 dB ± 0\.\d\d dB, over the .* dB of its budget/)).toBeTruthy()
    expect(screen.queryByRole('button')).toBeNull()
  })
})
