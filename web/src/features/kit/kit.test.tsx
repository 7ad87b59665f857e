import { EMPTY_KIT, type Kit } from '@cold-thread/core/kit'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it } from 'vitest'
import { fieldStore } from '../../field/fieldStore.ts'
import { renderPage, stubServer, TECHNICIAN, VIEWER, type Sent } from '../../test/page.tsx'
import { KitPage } from './KitPage.tsx'

const kit: Kit = {
  ...EMPTY_KIT,
  people: [{ id: 'p1', name: 'Night mate', crew: 'Van 1', skills: ['digging'] }],
  items: [
    {
      id: 'i1',
      kind: 'closure',
      name: 'six ports',
      count: 2,
      place: 'Store',
      fits: [],
      fibers: 144,
      wear: null,
      calibratedUntil: null,
    },
    {
      id: 'i2',
      kind: 'otdr',
      name: 'no. 2',
      count: 1,
      place: 'Van 1',
      fits: ['1550'],
      fibers: null,
      wear: null,
      calibratedUntil: '2020-01-01',
    },
  ],
}
const record = { kit, version: 3 }
const LEAD = { ...TECHNICIAN, role: 'lead' as const }

describe('the kit', () => {
  it('says first what must not be used', async () => {
    stubServer({ 'GET /kit': record })
    renderPage(<KitPage account={VIEWER} />)
    const due = await screen.findByRole('region', { name: 'To be seen to' })
    expect(due.textContent).toMatch(/not for use.*OTDR no\. 2, Van 1: calibration ran out on 2020-01-01/)
    expect(screen.queryByRole('button', { name: /Add/ })).toBeNull()
  })

  it('is changed in one piece on the version that was read; a refusal loses nothing', async () => {
    const sent = stubServer({
      'GET /kit': record,
      'PUT /kit': () => ({ status: 409, body: { code: 'stale-edit', message: 'the kit is at version 4' } }),
    })
    renderPage(<KitPage account={TECHNICIAN} />)
    await userEvent.click(await screen.findByRole('button', { name: /Fewer: closure six ports/ }))
    await userEvent.click(screen.getByRole('button', { name: 'Save the kit' }))
    await screen.findByRole('alert')
    expect(sent.find(({ method }) => method === 'PUT')!.body).toMatchObject({
      version: 3,
      kit: { items: [{ id: 'i1', count: 1 }, { id: 'i2' }] },
    })
    expect(screen.getByText('Changes are not saved yet.')).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: 'Drop them' }))
    expect(screen.queryByText('Changes are not saved yet.')).toBeNull()
  })

  it('takes a new thing with what it fits and its wear, and refuses what can’t be', async () => {
    const sent = stubServer({ 'GET /kit': record, 'PUT /kit': record })
    renderPage(<KitPage account={TECHNICIAN} />)
    await userEvent.click(await screen.findByRole('button', { name: 'Add a thing' }))
    const dialog = screen.getByRole('dialog')
    const type = async (label: string, text: string) => {
      await userEvent.clear(within(dialog).getByLabelText(label))
      await userEvent.type(within(dialog).getByLabelText(label), text)
    }
    await type('Kind', 'test cord')
    await type('Count (m for cable)', '-1')
    await userEvent.click(within(dialog).getByRole('button', { name: 'Take over' }))
    await within(dialog).findByText('0 or more')
    expect(within(dialog).getByText('where it is')).toBeTruthy()
    await type('Count (m for cable)', '2')
    await type('Place: van or store', 'Van 1')
    await type('Fits, such as LC/UPC, 1550', 'LC/UPC, SC/UPC')
    await type('Used so far', '10')
    await type('Due after', '300')
    await type('Counted in, such as matings', 'matings')
    await userEvent.click(within(dialog).getByRole('button', { name: 'Take over' }))
    await userEvent.click(await screen.findByRole('button', { name: 'Save the kit' }))
    await waitFor(() => expect(sent.some(({ method }) => method === 'PUT')).toBe(true))
    const { items } = (sent.find(({ method }) => method === 'PUT')!.body as { kit: Kit }).kit
    expect(items.at(-1)).toMatchObject({
      kind: 'test cord',
      count: 2,
      place: 'Van 1',
      fits: ['LC/UPC', 'SC/UPC'],
      fibers: null,
      wear: { used: 10, due: 300, unit: 'matings' },
      calibratedUntil: null,
    })
  })

  it('keeps people, windows and shifts', async () => {
    const sent = stubServer({ 'GET /kit': record, 'PUT /kit': record })
    renderPage(<KitPage account={TECHNICIAN} />)
    await userEvent.click(await screen.findByRole('button', { name: 'Add a person' }))
    await userEvent.click(screen.getByRole('button', { name: 'Add a window' }))
    await userEvent.click(screen.getByRole('button', { name: 'Add a shift' }))
    await userEvent.type(screen.getByLabelText('Hours of rest after a shift'), '11')
    await userEvent.click(within(screen.getByRole('group', { name: 'Nights' })).getByRole('button', { name: 'Mo' }))
    await userEvent.click(screen.getByRole('button', { name: 'Save the kit' }))
    await waitFor(() => expect(sent.some(({ method }) => method === 'PUT')).toBe(true))
    const saved = (sent.find(({ method }) => method === 'PUT')!.body as { kit: Kit }).kit
    expect(saved.people).toHaveLength(2)
    expect(saved.people[1]!.crew).toBe('Van 1')
    expect(saved.hours).toMatchObject({
      restHours: 11,
      windows: [{ name: 'Nights', from: '01:00', to: '05:00', weekdays: [2, 3, 4, 5] }],
      shifts: [{ crew: 'Van 1', from: '07:00' }],
    })
  })

  it('reckons renting against buying for a lead only', async () => {
    stubServer({ 'GET /kit': record })
    const first = renderPage(<KitPage account={TECHNICIAN} />)
    await screen.findByRole('region', { name: 'People' })
    expect(screen.queryByText('Rent or buy a splicer')).toBeNull()
    first.unmount()
    renderPage(<KitPage account={LEAD} />)
    await screen.findByText('Enter all six, in one currency.')
    const values = {
      Price: '6000',
      'Years kept': '5',
      'Worth then': '1000',
      'Upkeep a year': '500',
      'Rent a day': '75',
    }
    for (const [label, value] of Object.entries(values)) await userEvent.type(screen.getByLabelText(label), value)
    await userEvent.type(screen.getByLabelText('Days of use a year'), '19')
    expect(screen.getByText(/owning costs 1,500 a year/).textContent).toMatch(/^Rent:.*even at 20 days a year/)
  })
})

describe('a kit that is changed and not saved', () => {
  it('is as it was left when the page, or the browser, comes back; dropped it is forgotten', async () => {
    stubServer({ 'GET /kit': record })
    const first = renderPage(<KitPage account={TECHNICIAN} />)
    await userEvent.click(await screen.findByRole('button', { name: /Fewer: closure six ports/ }))
    await waitFor(async () => expect(await fieldStore.drafts.count()).toBe(1))
    first.unmount()
    const second = renderPage(<KitPage account={TECHNICIAN} />)
    expect(await screen.findByText('Changes are not saved yet.')).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: 'Drop them' }))
    await waitFor(async () => expect(await fieldStore.drafts.count()).toBe(0))
    second.unmount()
    renderPage(<KitPage account={TECHNICIAN} />)
    await screen.findByRole('button', { name: /Fewer: closure six ports/ })
    expect(screen.queryByText('Changes are not saved yet.')).toBeNull()
  })
})

describe('a kit that two people change', () => {
  it('shows what both changed, asks, and keeps all else of both', async () => {
    const theirs = {
      ...kit,
      items: [
        { ...kit.items[0]!, count: 7 },
        { ...kit.items[1]!, place: 'Van 2' },
      ],
    }
    let current = record
    const sent = stubServer({
      'GET /kit': () => ({ status: 200, body: current }),
      'PUT /kit': ({ body }: Sent) => {
        const { version, kit: put } = body as { version: number; kit: Kit }
        if (current === record) current = { kit: theirs, version: 4 }
        if (version !== current.version) return { status: 409, body: { code: 'stale-edit', message: 'stale' } }
        current = { kit: put, version: version + 1 }
        return { status: 200, body: current }
      },
    })
    renderPage(<KitPage account={TECHNICIAN} />)
    await userEvent.click(await screen.findByRole('button', { name: 'More: closure six ports' }))
    await userEvent.click(screen.getByRole('button', { name: 'Save the kit' }))
    const conflict = await screen.findByRole('region', { name: 'Somebody saved the kit meanwhile' })
    expect(within(conflict).getByText('3 × closure six ports, Store')).toBeTruthy()
    expect(within(conflict).getByText('7 × closure six ports, Store')).toBeTruthy()
    const goOn = within(conflict).getByRole('button', { name: 'Go on with both' }) as HTMLButtonElement
    expect(goOn.disabled).toBe(true)
    await userEvent.click(within(conflict).getByRole('radio', { name: /yours/ }))
    await userEvent.click(goOn)
    await userEvent.click(screen.getByRole('button', { name: 'Save the kit' }))
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Save the kit' })).toBeNull())
    const [, second] = sent
      .filter(({ method }) => method === 'PUT')
      .map(({ body }) => body as { version: number; kit: Kit })
    expect(second!.version).toBe(4)
    expect(second!.kit.items.map(({ count, place }) => [count, place])).toEqual([
      [3, 'Store'],
      [1, 'Van 2'],
    ])
  })
})
