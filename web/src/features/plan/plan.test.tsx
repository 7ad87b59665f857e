import type { Observation, Plan } from '@cold-thread/contract'
import { EMPTY_KIT, type Kit } from '@cold-thread/core/kit'
import type { OrderLine, OrderOfWork, PackingLine, ProjectedLoss, RepairOption } from '@cold-thread/core/plan'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { accepted, CALLOUT, renderPage, smallPlant, stubServer, TECHNICIAN, VIEWER } from '../../test/page.tsx'
import { draftOf, editOfMove, FRESH_DRAFT, withEdit } from './draft.ts'
import { LossBars } from './LossBars.tsx'
import { OptionsTable } from './OptionsTable.tsx'
import { PackingSection } from './PackingSection.tsx'
import { PlanVersions } from './PlanVersions.tsx'
import { fromBegin, minutesInWords, readFibers, unitsInWords } from './planWords.ts'
import { ScheduleChart } from './ScheduleChart.tsx'
import { SiteForm } from './SiteForm.tsx'
import { needOf, WindowPicker } from './WindowPicker.tsx'

const plant = smallPlant()
const link = plant.links[0]!
const LEAD = { ...TECHNICIAN, role: 'lead' as const, displayName: 'Duty lead' }

const projected = (wavelength: number, margin: number, dark = false): ProjectedLoss => ({
  link,
  wavelength,
  before: { loss: 3, sigma: 0.1, from: wavelength === 1310 ? 'measured' : 'estimated' },
  now: dark ? null : 3.8,
  dark,
  after: { loss: 3.05, sigma: 0.1 },
  limit: 3.05 + margin,
  margin,
})

const option = (some: Partial<RepairOption>): RepairOption => ({
  id: 'one-closure',
  kind: 'one-closure',
  way: null,
  name: 'One new closure on slack',
  whyNot: [],
  possible: true,
  steps: [],
  parts: [],
  projected: [projected(1310, 4)],
  leavesOut: [],
  slack: null,
  permanence: 'permanent',
  hazards: [],
  reflectanceRisk: null,
  reasons: [],
  chance: 0.95,
  minutes: { firstCircuit: 200, allCircuits: 210, all: 400, finish: { p10: 350, p50: 400, p90: 460 }, people: 600 },
  lacks: [],
  score: 0.1,
  wishes: { firstCircuit: 0 },
  ...some,
})

const orderLine = (id: string, start: number, planned: number, some: Partial<OrderLine> = {}): OrderLine => ({
  id,
  kind: 'dig',
  name: id,
  site: 'the fault',
  start,
  end: { planned, p50: planned, p90: planned + 10 },
  units: ['person/p1', 'splicer/2'],
  critical: 1,
  onChain: true,
  pinned: false,
  ...some,
})
const order: OrderOfWork = {
  lines: [
    orderLine('dig', 0, 60),
    orderLine('open tube 1', 60, 65),
    orderLine('close', 90, 110, { kind: 'close', units: [] }),
  ],
  finish: { planned: 110, p50: 112, p90: 130 },
  restored: [],
  curve: [],
  outage: { firstTouch: 'open tube 1', touchAt: 60, p50: 40, p90: 70 },
  bound: 100,
  steps: 3,
  runs: 1000,
}
const kit: Kit = {
  ...EMPTY_KIT,
  people: [{ id: 'p1', name: 'Night mate', crew: 'Van 1', skills: ['digging'] }],
}

describe('words of a plan', () => {
  it('tell minutes, people and fibers', () => {
    expect([fromBegin(0), fromBegin(185.4)]).toEqual(['0:00', '3:05'])
    expect(minutesInWords(185)).toBe('3 h 05 min')
    expect(unitsInWords({ units: ['person/p1', 'splicer/1', 'splicer/2', 'cleaver/1'] }, kit)).toBe(
      'Night mate, splicer 2',
    )
  })

  it.each([
    ['1-3, 7', [1, 2, 3, 7]],
    ['7, 1 to 2, 7', [1, 2, 7]],
    ['12', [12]],
    ['13', null],
    ['3-1', null],
    ['1,,2', null],
    ['one', null],
  ])('fibers typed as "%s" are %j', (text, fibers) => {
    expect(readFibers(text, 12)).toEqual(fibers)
  })
})

describe('changes by hand', () => {
  it('put what was dragged before what then follows, or behind what then precedes', () => {
    expect(editOfMove(['a', 'b', 'c'], 2, 0)).toEqual({ kind: 'before', line: 'c', other: 'a' })
    expect(editOfMove(['a', 'b', 'c'], 0, 2)).toEqual({ kind: 'before', line: 'c', other: 'a' })
    expect(editOfMove(['a', 'b'], 1, 1)).toBeNull()
  })

  it('a later one replaces one that says the opposite, or the same', () => {
    const first = withEdit([], { kind: 'before', line: 'a', other: 'b' })
    expect(withEdit(first, { kind: 'before', line: 'b', other: 'a' })).toEqual([
      { kind: 'before', line: 'b', other: 'a' },
    ])
    const pinned = withEdit(first, { kind: 'pin', line: 'a', minutes: 5 })
    expect(withEdit(pinned, { kind: 'pin', line: 'a', minutes: 9 }).at(-1)).toEqual({
      kind: 'pin',
      line: 'a',
      minutes: 9,
    })
    expect(withEdit(pinned, { kind: 'pin', line: 'a', minutes: 9 })).toHaveLength(2)
  })
})

describe('repairs compared', () => {
  const impossible = option({ id: 'spare', name: 'Move', possible: false, whyNot: ['no spare fiber'], score: null })
  it('show figures, what is not at hand with what would do, and why another can’t be done', async () => {
    const chosen = vi.fn()
    const lacking = option({
      id: 'section',
      name: 'New section',
      lacks: [{ what: 'cable', needed: 60, there: 0, unit: 'm', substitute: 'surface cable' }],
    })
    renderPage(<OptionsTable options={[option({}), lacking, impossible]} chosen="one-closure" onChoose={chosen} />)
    const row = screen.getByRole('row', { name: /One new closure/ })
    expect(within(row).getByText('3 h 20 min')).toBeTruthy()
    expect(within(row).getByText('all at hand')).toBeTruthy()
    expect(screen.getByRole('row', { name: /New section/ }).textContent).toMatch(
      /cable: 0 of 60, surface cable would do/,
    )
    expect(screen.getByText('Not possible here: 1')).toBeTruthy()
    expect(screen.getByText(/no spare fiber/)).toBeTruthy()
    await userEvent.click(screen.getByRole('radio', { name: 'New section' }))
    expect(chosen).toHaveBeenCalledWith('section')
  })
})

describe('the loss after a repair', () => {
  it('says margins with their uncertainty, the tightest first, what is estimated and what is dark', () => {
    renderPage(<LossBars projected={[projected(1310, 6), projected(1550, 2, true)]} />)
    const rows = screen.getAllByText(/West to east/)
    expect(rows[0]!.textContent).toMatch(
      /1550 nm: margin 2\.00.±.0\.10.dB \(before: estimated from the records\), no light now/,
    )
    expect(rows[1]!.textContent).not.toMatch(/estimated|no light/)
  })
})

describe('the order of work', () => {
  it('names who does what when, pins, and takes minutes of what is done', async () => {
    const edited = vi.fn()
    const done = vi.fn()
    renderPage(
      <ScheduleChart
        order={order}
        kit={kit}
        onEdit={edited}
        done={new Map([['close', { minutes: 25, by: 'Night mate' }]])}
        onDone={done}
      />,
    )
    const items = screen.getAllByRole('listitem')
    expect(items[0]!.textContent).toMatch(/dig.*0:00 to 1:00.*at the fault: Night mate, splicer 2/)
    expect(items[1]!.textContent).not.toMatch(/at the fault/)
    expect(items[2]!.textContent).toMatch(/done.*in 25 min, planned.*20; Night mate/)
    await userEvent.click(screen.getByRole('button', { name: 'Pin where it is: open tube 1' }))
    expect(edited).toHaveBeenCalledWith({ kind: 'pin', line: 'open tube 1', minutes: 60 })
    await userEvent.click(screen.getByRole('button', { name: 'Done: dig' }))
    expect(done).toHaveBeenCalledWith(order.lines[0])
    expect(screen.queryByRole('button', { name: 'Done: close' })).toBeNull()
  })

  it('has no handles for a reader', () => {
    renderPage(<ScheduleChart order={order} kit={kit} onEdit={null} done={new Map()} onDone={null} />)
    expect(screen.queryAllByRole('button')).toEqual([])
  })
})

describe('a window', () => {
  beforeEach(() => void vi.useFakeTimers({ now: new Date('2026-11-26T12:00:00Z'), shouldAdvanceTime: true }))
  const nightly = {
    id: 'n',
    name: 'Nights',
    zone: 'CET',
    weekdays: [1, 2, 3, 4, 5],
    from: '01:00',
    to: '02:00',
    traffic: 'light' as const,
  }
  const calendar = { id: 'x', title: 'x', place: 'x', text: 'x' }
  const pick = (
    windows: (typeof nightly)[],
    chosen: Parameters<typeof WindowPicker>[0]['chosen'] = null,
    carriesTraffic = true,
  ) =>
    renderPage(
      <WindowPicker
        order={order}
        kit={{ ...kit, hours: { ...kit.hours, windows } }}
        crews={1}
        carriesTraffic={carriesTraffic}
        chosen={chosen}
        onChoose={() => {}}
        calendar={calendar}
      />,
    )

  it('must hold what touches fibers; too short for nine of ten runs it is said with the reason', () => {
    expect(needOf(order)).toMatchObject({ before: 60, rollBack: 20, firstTouch: 'open tube 1' })
    pick([nightly], { name: 'Nights', start: '2026-11-27T00:00:00.000Z', end: '2026-11-27T01:00:00.000Z' })
    expect(screen.getAllByText('tight').length).toBeGreaterThan(0)
    // An hour for 70 min: 10 over; leaving an hour before one o'clock.
    expect(screen.getByText(/passes the window's end by 10 min/)).toBeTruthy()
    expect(screen.getByText(/Leave at Fri 27 Nov 00:00/)).toBeTruthy()
    expect(
      screen.getByText(/None of these windows.*the longest lasts 1 h 00 min, 1 h 10 min are\s+needed/),
    ).toBeTruthy()
    vi.useRealTimers()
  })

  it('is asked for only where traffic runs, and its rules are led to where none are kept', () => {
    pick([], null)
    expect(screen.getByRole('link', { name: 'Enter windows and shifts' }).getAttribute('href')).toBe('/kit')
    vi.useRealTimers()
  })

  it('is not proposed on a link that is down', () => {
    pick([nightly], null, false)
    expect(screen.getByText(/The link is down: it is worked now/)).toBeTruthy()
    expect(screen.queryByRole('radio')).toBeNull()
    vi.useRealTimers()
  })
})

describe('packing', () => {
  const packingLine = (id: string, some: Partial<PackingLine> = {}): PackingLine => ({
    id,
    kind: id,
    name: id,
    group: 'part',
    count: 2,
    unit: 'piece',
    why: 'a closure',
    places: ['Van 1: 3 × small'],
    missing: 0,
    substitute: null,
    unfit: [],
    ...some,
  })
  const packing = {
    lines: [packingLine('tray'), packingLine('pigtail', { missing: 2, substitute: 'splice-on connector', places: [] })],
    cords: null,
  }
  const packed: Observation = {
    id: '01a0c0de-0000-7000-8000-0000000000aa',
    calloutId: CALLOUT.id,
    entry: { kind: 'packed', line: 'tray', substitute: null },
    observedAt: '2026-03-01T02:00:00.000Z',
    receivedAt: '2026-03-01T02:00:00.000Z',
    by: 'Night technician',
    supersedes: null,
    superseded: false,
  }

  it('is ticked into the log, replaced by what would do, and taken out again', async () => {
    const sent = stubServer({ 'GET .*observations': [packed], 'PUT .*observations.*': accepted })
    renderPage(<PackingSection account={TECHNICIAN} callout={CALLOUT} packing={packing} />)
    await screen.findByText('1 of 2 packed')
    expect(screen.getByText(/1 missing/)).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: 'Take it instead' }))
    await userEvent.click(screen.getByRole('checkbox', { name: /tray/ }))
    await waitFor(() => expect(sent.filter(({ method }) => method === 'PUT')).toHaveLength(2))
    const [replaced, out] = sent.filter(({ method }) => method === 'PUT').map(({ body }) => body)
    expect(replaced).toMatchObject({ entry: { kind: 'packed', line: 'pigtail', substitute: 'splice-on connector' } })
    expect(out).toMatchObject({ entry: { kind: 'withdrawn' }, supersedes: packed.id })
  })

  it('can’t be ticked by a reader', async () => {
    stubServer({ 'GET .*observations': [] })
    renderPage(<PackingSection account={VIEWER} callout={CALLOUT} packing={packing} />)
    await screen.findByText('0 of 2 packed')
    for (const box of screen.getAllByRole('checkbox')) expect((box as HTMLInputElement).disabled).toBe(true)
  })
})

describe('saved plans', () => {
  const saved: Plan = {
    id: '01a0c0de-0000-7000-8000-0000000000bb',
    calloutId: CALLOUT.id,
    version: 2,
    content: {
      ...FRESH_DRAFT,
      optionIds: ['temporary', 'section'],
      cable: 'b',
      chainage: 2000,
      rules: { name: 'repair plan', version: 1 },
      summary: {
        name: 'Temporary, then a section',
        finish50: 300,
        finish90: 400,
        firstCircuit: { name: 'Control', p50: 200, p90: 260 },
        margin: 4.2,
      },
    },
    at: '2026-03-01T02:00:00.000Z',
    by: 'Night technician',
    approval: null,
  }

  it('wait for a lead, whose approval goes to the newest version', async () => {
    const sent = stubServer({ 'PUT .*approval': { ...saved, approval: { by: 'x', at: saved.at, remark: '' } } })
    const first = renderPage(<PlanVersions account={TECHNICIAN} callout={CALLOUT} plans={[saved]} onOpen={() => {}} />)
    expect(screen.getByRole('row', { name: /Temporary, then a section/ }).textContent).toMatch(
      /Control: 3 h 20 min5 h 00 min; 90.% by 6 h 40 min4\.2.dBnow/,
    )
    expect(screen.queryByRole('button', { name: /Approve/ })).toBeNull()
    first.unmount()
    renderPage(<PlanVersions account={LEAD} callout={CALLOUT} plans={[saved]} onOpen={() => {}} />)
    await userEvent.type(screen.getByLabelText('Remark'), 'go')
    await userEvent.click(screen.getByRole('button', { name: 'Approve version 2' }))
    await waitFor(() => expect(sent[0]).toMatchObject({ method: 'PUT', body: { remark: 'go' } }))
    expect(sent[0]!.path).toBe(`/callouts/${CALLOUT.id}/plans/${saved.id}/approval`)
  })

  it('are gone on with as they were', () => {
    expect(draftOf(saved.content)).toEqual({ ...FRESH_DRAFT, optionId: 'section', withFirst: true })
  })
})

describe('site and crew', () => {
  const cable = plant.cables[1]!
  it('take lengths and fibers that can be, and say which can’t', async () => {
    const changed = vi.fn()
    renderPage(<SiteForm draft={FRESH_DRAFT} onChange={changed} kit={kit} cable={cable} surveyed={[1, 2]} />)
    const bench = screen.getByLabelText('To the bench, m')
    await userEvent.clear(bench)
    expect(screen.getByText('0 to 10,000 m')).toBeTruthy()
    await userEvent.type(bench, '12,5')
    expect(changed).toHaveBeenLastCalledWith({ site: { ...FRESH_DRAFT.site, toBench: 12.5 } })
    await userEvent.type(screen.getByLabelText('Fibers that are hit'), '1-13')
    expect(screen.getByText(/numbers from 1 to 12/)).toBeTruthy()
    await userEvent.tab()
    expect(changed).not.toHaveBeenCalledWith(expect.objectContaining({ hit: expect.anything() }))
    await userEvent.click(screen.getByRole('checkbox', { name: /as the cable survey found: 2 fibers/ }))
    expect(changed).toHaveBeenLastCalledWith({ hit: [1, 2] })
  })
})
