import type { ClosureHistory } from '@cold-thread/contract'
import { plainDome } from '@cold-thread/core/open'
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it } from 'vitest'
import { fieldStore } from '../../field/fieldStore.ts'
import {
  accepted,
  CALLOUT,
  enteredIn,
  renderPage,
  smallPlant,
  stubServer,
  TECHNICIAN,
  VIEWER,
  type Sent,
} from '../../test/page.tsx'
import { ClosureSection } from './ClosureSection.tsx'

const plant = smallPlant()
plant.nodes[1]!.closureModel = 'dome'
const model = { ...plainDome('dome'), trays: { count: 2, splices: 12, groups: 4 } }

let sent: Sent[] = []

function show(history: ClosureHistory = [], account = TECHNICIAN, closures = [model]) {
  sent = stubServer({
    'GET /open-book': { book: { closures, procedures: [] }, version: 1, savedAt: null, savedBy: null },
    'GET /closures/n1/history': history,
    'PUT /callouts/[^/]+/observations(/[^/]+)?': accepted,
  })
  renderPage(<ClosureSection account={account} node={plant.nodes[1]!} plant={plant} callouts={[CALLOUT]} />)
}

beforeEach(() => fieldStore.outbox.clear())

describe('a closure', () => {
  it('shows habit until somebody looked, by words as well as by drawing', async () => {
    show()
    expect(await screen.findByRole('group', { name: 'Port 1: a' })).toBeTruthy()
    expect(screen.getByRole('group', { name: 'Port 2: b' })).toBeTruthy()
    expect(screen.getByRole('group', { name: 'Port 3: plug' })).toBeTruthy()
    expect(screen.getByRole('group', { name: 'Tray 1: 1 splice, room for 11' })).toBeTruthy()
    expect(screen.getByText(/Nobody has recorded its ports/)).toBeTruthy()
    expect(screen.getByText('a: 1 of 12 fibers spliced by the record, 11 end here unused (butt)')).toBeTruthy()
  })

  it('a cable moved by key and a missing plug are told against the record, and entered as found', async () => {
    show()
    await userEvent.click(await screen.findByRole('button', { name: 'b, port 2: to the port after' }))
    expect(await screen.findByText('port 2: b before, plug now')).toBeTruthy()
    expect(screen.getByText('port 3: plug before, b now')).toBeTruthy()
    await userEvent.click(screen.getAllByRole('button', { name: 'Plug is missing' })[0]!)
    expect(screen.getByText(/a missing plug is a leak/)).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: 'This is how I found it' }))
    await waitFor(async () =>
      expect(enteredIn(sent)[0]).toMatchObject({
        kind: 'closure-state',
        node: 'n1',
        when: 'found',
        state: { ports: [{ cables: ['a'] }, { cables: [], plug: false }, { cables: ['b'] }, {}, {}, {}] },
      }),
    )
  })

  it('two cables in one port are a conflict only where they differ', async () => {
    show()
    await userEvent.click(await screen.findByRole('button', { name: 'b, port 2: to the port before' }))
    expect(await screen.findByRole('group', { name: 'Port 1: a, b' })).toBeTruthy()
    // Nobody knows their diameters: measure them.
    expect(screen.getByText(/the diameter of a is not known/)).toBeTruthy()
  })

  it('what was left last is the record, with who and its history', async () => {
    const left = {
      calloutId: CALLOUT.id,
      title: 'Earlier callout',
      at: '2026-02-01T03:00:00.000Z',
      by: 'Duty lead',
      what: {
        kind: 'closure-state' as const,
        node: 'n1',
        when: 'left' as const,
        state: { ports: [{ port: 5, cables: ['a'], plug: false }], trays: [], remark: 'dry' },
      },
    }
    show([left])
    expect(await screen.findByText(/As left .* by Duty lead/)).toBeTruthy()
    expect(screen.getByRole('group', { name: 'Port 5: a' })).toBeTruthy()
    expect(screen.getByText('dry')).toBeTruthy()
    expect(screen.getByText(/b has no port/)).toBeTruthy()
  })

  it('of which nothing is on record is not drawn', async () => {
    plant.nodes[1]!.closureModel = 'clamshell'
    show([], TECHNICIAN, [])
    expect(await screen.findByText(/Nothing is on record of the closure “clamshell”/)).toBeTruthy()
    plant.nodes[1]!.closureModel = 'dome'
  })

  it('readers change nothing', async () => {
    show([], VIEWER)
    await screen.findByRole('group', { name: 'Port 1: a' })
    expect(screen.queryByRole('button', { name: /to the port after/ })).toBeNull()
    expect(screen.queryByRole('button', { name: /how I found it/ })).toBeNull()
  })
})
