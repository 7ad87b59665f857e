import type { Plan } from '@cold-thread/contract'
import { EMPTY_KIT, SKILLS, type Kit } from '@cold-thread/core/kit'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { CALLOUT, renderPage, smallPlant, stubServer, TECHNICIAN, VIEWER } from '../../test/page.tsx'
import { workerStandIn } from '../../test/workerStandIn.ts'
import { fieldStore } from '../../field/fieldStore.ts'
import type { FaultView, LocateView } from '../../worker/view.ts'
import { planner } from '../../worker/planner.ts'
import { workers } from '../../worker/workers.ts'
import { PlanStage } from './PlanStage.tsx'

/** The place that the core's worker answers. */
let located: LocateView
beforeEach(() => {
  const locate = () => Promise.resolve({ view: located })
  workerStandIn('core', { locate })
  // The planner itself, without its worker around it.
  const later = Object.fromEntries(
    Object.entries(planner).map(([name, run]) => [
      name,
      (...given: unknown[]) => Promise.resolve((run as (...some: unknown[]) => unknown)(...given)),
    ]),
  )
  vi.spyOn(workers, 'startPlanner').mockReturnValue({ planner: later as never, terminate: () => undefined })
})

const plant = smallPlant()
plant.links[0]!.circuits = [{ name: 'Control', priority: 1 }]
plant.nodes[1]!.slack = [
  { cable: 'a', side: 'before', sheath: 10 },
  { cable: 'b', side: 'after', sheath: 20 },
]
plant.nodes[2]!.slack = [{ cable: 'b', side: 'before', sheath: 20 }]

const fault = {
  chainage: 2000,
  interval95: [1990, 2010],
  cable: 'b',
  betweenNodes: ['n1', 'n2'],
  places: [{ cable: 'b', from: 1990, to: 2010, probability: 1 }],
  goodEnoughToDig: true,
  breaks: true,
  reflects: false,
  causes: [{ cause: 'break', name: 'cut or clean break', probability: 1, because: [] }],
  loss: { '1550': null },
} as unknown as FaultView
const placed = (some: Partial<FaultView> = {}) =>
  ({ faults: [{ ...fault, ...some }], measured: { '1550': { loss: 1.2, sigma: 0.05 } } }) as unknown as LocateView

const kit: Kit = {
  ...EMPTY_KIT,
  people: [{ id: 'p1', name: 'Night technician', crew: 'Van 1', skills: [...SKILLS] }],
  items: [
    'vehicle',
    'splicer',
    'cleaver',
    'sheath tools',
    'cable locator',
    'digging gear',
    'otdr',
    'pressure test set',
  ].map((kind) => ({
    id: kind,
    kind,
    name: '1',
    count: 1,
    place: 'Van 1',
    fits: [],
    fibers: null,
    wear: null,
    calibratedUntil: null,
  })),
}

function open(account = TECHNICIAN, plans: Plan[] = [], withKit = kit) {
  const sent = stubServer({
    'GET /kit': { kit: withKit, version: 1 },
    'GET .*plans': plans,
    'GET /step-times': [{ step: 'dig', minutes: 150, byRules: 260 / 3 }],
    'GET .*survey': null,
    'GET .*observations': [],
    'GET .*traces': [],
    'PUT .*plans.*': () => ({ status: 409, body: { code: 'stale-edit', message: 'the plan is at version 1' } }),
  })
  const page = renderPage(<PlanStage account={account} callout={CALLOUT} plant={plant} link={plant.links[0]!} />)
  return { sent, page }
}

describe('the Plan stage', () => {
  it('proposes a repair with its reasons, what it lacks, and who does what', async () => {
    located = placed()
    open()
    const card = await screen.findByRole('region', { name: 'Proposed repair' })
    expect(card.textContent).toMatch(/One new closure on slack/)
    expect(card.textContent).toMatch(/least intervention.*slack of 40 m is enough for 24 m/)
    expect(card.textContent).toMatch(/not at hand: closure for 12 fibers/)
    const order = await screen.findByRole('list', { name: 'Order of work' })
    await waitFor(() => expect(within(order).getAllByRole('listitem').length).toBeGreaterThan(8))
    expect(order.textContent).toMatch(/Night technician/)
    expect(screen.getByRole('region', { name: 'Cautions' }).textContent).toMatch(/buried services/)
    // A baseline was measured: 1.2 dB and one splice of 0.05 dB.
    expect(screen.getByRole('img', { name: /1\.2 dB before, 1\.3 dB after/ })).toBeTruthy()
  })

  it('keeps a refused plan on the screen with the reason', async () => {
    located = placed()
    const { sent } = open()
    await userEvent.click(await screen.findByRole('button', { name: 'Save as version 1' }))
    expect((await screen.findByRole('alert')).textContent).toMatch(/the plan is at version 1/)
    expect(sent.find(({ method }) => method === 'PUT')!.body).toMatchObject({
      version: 0,
      content: { cable: 'b', optionIds: ['one-closure'], rules: { name: 'repair plan', version: 1 } },
    })
    expect(screen.getByRole('region', { name: 'Proposed repair' })).toBeTruthy()
  })

  it('goes on with what was changed and not saved, until that is dropped', async () => {
    located = placed()
    const { page } = open()
    const bench = await screen.findByLabelText('To the bench, m')
    await userEvent.clear(bench)
    await userEvent.type(bench, '9')
    await waitFor(async () => expect((await fieldStore.drafts.toArray()).length).toBe(1))
    page.unmount()
    open()
    const shown = () => screen.getByLabelText<HTMLInputElement>('To the bench, m').value
    await screen.findByLabelText('To the bench, m')
    expect(shown()).toBe('9')
    await userEvent.click(await screen.findByRole('button', { name: 'Drop the changes' }))
    await waitFor(() => expect(shown()).not.toBe('9'))
    await waitFor(async () => expect(await fieldStore.drafts.count()).toBe(0))
  })

  it('shows what steps took elsewhere, and plans with it only when asked to', async () => {
    located = placed()
    open()
    await userEvent.click(await screen.findByText('Where the minutes come from'))
    expect(screen.getByText(/dig to the cable: 75 \(40 to 180\) min by the rule book, 84 .* with 1 done/)).toBeTruthy()
    await userEvent.click(screen.getByRole('switch', { name: 'Plan with the learned minutes' }))
    expect(await screen.findByText(/minutes learned from 1 steps done/)).toBeTruthy()
  })

  it('follows the site: with the bench far away slack is short and another repair is proposed', async () => {
    located = placed()
    open()
    const bench = await screen.findByLabelText('To the bench, m')
    await userEvent.clear(bench)
    await userEvent.type(bench, '60')
    await waitFor(() => expect(screen.getByText(/slack is 88 m short: needed 128 m/)).toBeTruthy())
  })

  it('says what is missing where nobody can splice, and offers nothing to press to a reader', async () => {
    located = placed()
    const people = [{ ...kit.people[0]!, skills: ['testing' as const] }]
    open(VIEWER, [], { ...kit, people })
    expect(await screen.findByText(/Nothing can be done with what is at hand/)).toBeTruthy()
    expect(screen.getAllByText(/and nothing at hand is that/).length).toBeGreaterThan(0)
    expect(screen.queryByRole('button', { name: /Save as version/ })).toBeNull()
  })

  it('leads to Locate while no fault is placed', async () => {
    located = { faults: [] } as unknown as LocateView
    open()
    const way = await screen.findByRole('link', { name: 'Go to Locate' })
    expect(way.getAttribute('href')).toBe(`/callouts/${CALLOUT.id}/locate`)
  })
})
