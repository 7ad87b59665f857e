import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it } from 'vitest'
import { renderPage, smallPlant, stubServer } from '../../test/page.tsx'
import { FiberPage } from './FiberPage.tsx'

const plant = smallPlant()
plant.cables[0] = { ...plant.cables[0]!, id: 'big', construction: 'rollable-ribbon', fiberCount: 1728, tubeSize: 144 }
plant.cables[1] = { ...plant.cables[1]!, id: 'small', construction: 'loose-tube', fiberCount: 30, tubeSize: 12 }

function open(at: string) {
  stubServer({ 'GET /plant': { bundle: plant, version: 1, updatedAt: '2026-03-01T02:00:00.000Z' } })
  renderPage(<FiberPage />, at)
}
const choose = async (label: string, option: RegExp) => {
  await userEvent.click(screen.getByLabelText(label))
  await userEvent.click(within(await screen.findByRole('listbox')).getByRole('option', { name: option }))
}

describe('the fiber finder', () => {
  it('finds the place of a number, and says so for one that is none', async () => {
    open('/fibers?cable=big')
    const number = await screen.findByLabelText('Number, 1 to 1728')
    await userEvent.clear(number)
    await userEvent.type(number, '1000')
    const found = screen.getByRole('region', { name: 'Cable big' })
    expect(found.textContent).toMatch(/Fiber 1000bundle 7 red, ribbon 12 \(12 ring marks\), fiber 4 brown/)
    expect(found.textContent).toMatch(/bundles by their binder threads/)
    await userEvent.type(number, '0')
    expect(screen.getByText('a whole number from 1 to 1728')).toBeTruthy()
    expect(found.textContent).toMatch(/Fiber 1000/)
  })

  it('finds the number of what is seen', async () => {
    open('/fibers?cable=small&fiber=1')
    await screen.findByText('Fiber 1')
    await choose('Tube', /2 orange/)
    await choose('Fiber', /11 rose/)
    expect(screen.getByText('Fiber 23')).toBeTruthy()
    // The last tube has six fibers: its last one is shown, and no seventh is offered.
    await choose('Tube', /3 green/)
    expect(screen.getByText('Fiber 30')).toBeTruthy()
    await userEvent.click(screen.getByLabelText('Fiber'))
    expect(within(await screen.findByRole('listbox')).getAllByRole('option')).toHaveLength(6)
  })

  it('points to the maker’s sheet for a construction that is not described', async () => {
    plant.cables[1] = { ...plant.cables[1]!, construction: 'zip cord' }
    open('/fibers?cable=small')
    expect((await screen.findByRole('alert')).textContent).toMatch(/“zip cord” is not known: use the maker’s sheet/)
  })
})
