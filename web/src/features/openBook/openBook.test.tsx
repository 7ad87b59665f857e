import type { OpenBook } from '@cold-thread/contract'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it } from 'vitest'
import { renderPage, stubServer, TECHNICIAN, VIEWER, type Sent } from '../../test/page.tsx'
import { OpenBookPage } from './OpenBookPage.tsx'

function show(
  book: OpenBook = { closures: [], procedures: [] },
  account = TECHNICIAN,
  refusal?: { status: number; body: object },
): Sent[] {
  const sent = stubServer({
    'GET /open-book': { book, version: 3, savedAt: null, savedBy: null },
    'PUT /open-book': (one: Sent) =>
      refusal ?? {
        status: 200,
        body: { book: (one.body as { book: OpenBook }).book, version: 4, savedAt: null, savedBy: null },
      },
  })
  renderPage(<OpenBookPage account={account} />)
  return sent
}
const fill = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } })
const saved = (sent: Sent[]) =>
  sent.find(({ method }) => method === 'PUT')?.body as { book: OpenBook; version: number } | undefined

describe('procedures of the operator’s own', () => {
  it('a shipped one is copied and changed: its next version goes in its place', async () => {
    const sent = show()
    await userEvent.click((await screen.findAllByRole('button', { name: 'Copy and change' }))[2]!)
    await userEvent.click(await screen.findByRole('button', { name: 'Change step 5' }))
    fill('What is done in step 5', 'Base on a stand. Check twice.')
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(saved(sent)).toBeTruthy())
    const { book, version } = saved(sent)!
    expect(version).toBe(3)
    expect(book.procedures).toHaveLength(1)
    expect(book.procedures[0]).toMatchObject({ id: 'dome-open', version: 3 })
    expect(book.procedures[0]!.steps[4]!.do).toBe('Base on a stand. Check twice.')
    // What is not changed comes along.
    expect(book.procedures[0]!.steps[1]!.locks).toEqual([
      { step: 'dome-open.vent', why: 'a closure under pressure can throw its dome: vent it first' },
    ])
  })

  it('a step moved before the one it waits for is refused, and the place is named; nothing is sent', async () => {
    const sent = show()
    await userEvent.click((await screen.findAllByRole('button', { name: 'Copy and change' }))[2]!)
    await userEvent.click(await screen.findByRole('button', { name: 'Step 2 up' }))
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    expect((await screen.findByRole('alert')).textContent).toMatch(
      /dome-open.clamp-ring: it waits for “dome-open.vent”, which comes later/,
    )
    expect(saved(sent)).toBeUndefined()
  })

  it('one is written for a construction that has none', async () => {
    const sent = show()
    await userEvent.click(await screen.findByRole('button', { name: 'Write a procedure' }))
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    expect((await screen.findByRole('alert')).textContent).toMatch(/needs a name/)
    fill('Name', 'Zip cord')
    fill('Source of the steps', 'maker’s sheet')
    fill('What is done in step 1', 'Part the cord.')
    await userEvent.click(screen.getByRole('button', { name: 'Measure something in step 1' }))
    fill('Measured 1, step 1', 'Jacket off')
    fill('Expected', '30')
    fill('Either side', '2,5')
    await userEvent.click(screen.getByLabelText('Only where, step 1'))
    await userEvent.click(await screen.findByRole('option', { name: 'not armored' }))
    await userEvent.keyboard('{Escape}')
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    expect(screen.getByRole('alert').textContent).toMatch(/For which construction/)
    fill('For cables of construction', 'zip-cord')
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(saved(sent)).toBeTruthy())
    expect(saved(sent)!.book.procedures[0]).toMatchObject({
      id: 'zip-cord',
      for: { construction: ['zip-cord'] },
      steps: [
        {
          do: 'Part the cord.',
          when: { armored: false },
          fields: [{ label: 'Jacket off', unit: 'mm', kind: 'number', nominal: 30, tolerance: 2.5 }],
        },
      ],
    })
  })

  it('what the server refuses stays on the page', async () => {
    show(undefined, TECHNICIAN, {
      status: 409,
      body: { code: 'stale-edit', message: 'the book is at version 5, this change was made on 3' },
    })
    await userEvent.click((await screen.findAllByRole('button', { name: 'Copy and change' }))[2]!)
    await userEvent.click(await screen.findByRole('button', { name: 'Change step 5' }))
    fill('What is done in step 5', 'Base on a stand. Check twice.')
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    expect((await screen.findByRole('alert')).textContent).toMatch(/version 5/)
    expect((screen.getByLabelText('What is done in step 5') as HTMLTextAreaElement).value).toMatch(/twice/)
  })

  it('readers read', async () => {
    show(undefined, VIEWER)
    expect(await screen.findByText('Gel-sealed dome: open')).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'Copy and change' })).toBeNull()
  })
})

describe('a closure’s sheet', () => {
  it('keeps millimetres as metres and kilopascal as pascal; what is empty stays unknown', async () => {
    const sent = show()
    await userEvent.click(await screen.findByRole('button', { name: 'Add a closure' }))
    fill('Name, as in the plant record', 'dome')
    fill('Where the figures come from', 'its sheet')
    fill('Port 1, least', '10')
    fill('Port 1, most', '22,5')
    fill('sheath taken off, least', '1900')
    fill('Gauge pressure, kPa', '35')
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    expect(screen.getByRole('alert').textContent).toMatch(/pressure, minutes and what may be lost belong together/)
    fill('Minutes', '15')
    fill('May be lost, kPa', 'two')
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    expect(screen.getByRole('alert').textContent).toBe('May be lost, kPa: “two” is not a figure above 0.')
    fill('May be lost, kPa', '2')
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(saved(sent)).toBeTruthy())
    expect(saved(sent)!.book.closures[0]).toMatchObject({
      ports: [{ port: 1, least: 0.01, most: 0.0225 }, { port: 2, least: null }, {}, {}, {}, {}],
      lengths: { sheath: { min: 1.9, max: 1.9 } },
      pressure: { test: 35_000, minutes: 15, mayLose: 2000 },
      trays: null,
      storingRadius: null,
    })
  })
})
