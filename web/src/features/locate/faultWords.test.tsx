import { faultPlaceInWords, isAtPanel, statusLine, type NextTest, type RankedCause } from '@cold-thread/core/locate'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it, vi } from 'vitest'
import { renderPage, smallPlant } from '../../test/page.tsx'
import type { FaultView, LocateView, TraceCurve } from '../../worker/view.ts'
import { CausesList } from './CausesList.tsx'
import { EventTable } from './EventTable.tsx'
import { NextTestsList } from './NextTestsList.tsx'
import { MarkerReadout } from '../../thread/MarkerReadout.tsx'

const plant = smallPlant()
const link = plant.links[0]!

function fault(change: Partial<FaultView> = {}): FaultView {
  return {
    routeId: 'r',
    chainage: 1542,
    interval95: [1536, 1548],
    cable: 'b',
    betweenNodes: ['n1', 'n2'],
    nearest: { node: 'n1', offset: 542 },
    places: [{ cable: 'b', from: 1530, to: 1555, probability: 1 }],
    goodEnoughToDig: true,
    breaks: true,
    reflects: false,
    untold: null,
    causes: [{ cause: 'break', name: 'cut or clean break', probability: 0.91, because: [] }],
    nextTests: [],
    loss: { '1550': null },
    lossSigma: { '1550': null },
    opticalDistance: { ab: 1560, ba: 1480 },
    opticalSigma: { ab: 3, ba: 3 },
    fiber: 1560,
    fiberSigma: 3,
    ground: 1542,
    suspicion: { nodes: [], runs: [], most: 0 },
    ...change,
  }
}

describe('a place in words', () => {
  it('counts from the nearest named point towards the next', () => {
    expect(faultPlaceInWords(plant, fault())).toBe('142\u00a0m from Mill gate towards East panel')
  })

  it('is a node’s name where a node holds half of the belief or more', () => {
    const places = [{ node: 'n1', from: 1000, to: 1000, probability: 0.7 }]
    expect(faultPlaceInWords(plant, fault({ places, chainage: 1000 }))).toBe('at Weir closure')
  })
})

describe('the line for the desk', () => {
  it('says what, where, how sure and why it may be', () => {
    const line = statusLine(plant, link, [fault()])
    expect(line).toMatch(/^West to east: break 142.m from Mill gate/)
    expect(line).toMatch(/95 % within 1.536.m to 1.548.m/)
    expect(line).toMatch(/likely cut or clean break \(91 %\)/)
    expect(line).not.toMatch(/not good enough/)
  })

  it('warns where the place is not good enough to dig', () => {
    expect(statusLine(plant, link, [fault({ goodEnoughToDig: false })])).toMatch(/not good enough to dig/)
  })

  it('says nothing of digging where the fault is at a panel', () => {
    const places = [{ node: 'n0', from: 0, to: 0, probability: 0.98 }]
    expect(statusLine(plant, link, [fault({ places, chainage: 0, goodEnoughToDig: false })])).not.toMatch(/dig/)
    expect(isAtPanel(plant, fault({ places }))).toBe(true)
    expect(isAtPanel(plant, fault({ places: [{ ...places[0]!, probability: 0.4 }] }))).toBe(false)
    expect(isAtPanel(plant, fault({ places: [{ node: 'n1', from: 1000, to: 1000, probability: 0.9 }] }))).toBe(false)
  })

  it('gives measured losses with their wavelengths and leaves others out', () => {
    const line = statusLine(plant, link, [fault({ breaks: false, loss: { '1310': 0.412, '1550': null } })])
    expect(line).toMatch(/added loss .*0\.41 dB at 1310 nm/)
    expect(line).not.toMatch(/1550/)
  })

  it('of a sound link says so', () => {
    expect(statusLine(plant, link, [])).toBe('West to east: no fault seen against the baseline.')
  })
})

describe('causes', () => {
  it('are ranked with their reasons, three at most', () => {
    const causes: RankedCause[] = ['a', 'b', 'c', 'd'].map((name, i) => ({
      cause: (['break', 'crush', 'pull', 'water'] as const)[i]!,
      name,
      probability: 0.4 - 0.1 * i,
      because: i === 0 ? ['no light passes'] : [],
    }))
    renderPage(<CausesList causes={causes} />)
    const items = within(screen.getByRole('list', { name: 'Causes' })).getAllByRole('listitem')
    expect(items).toHaveLength(3)
    expect(items[0]!.textContent).toMatch(/a40 %no light passes/)
  })
})

describe('next tests', () => {
  const test = (change: Partial<NextTest>): NextTest => ({
    kind: 'other-end',
    test: 'shoot from the far end',
    minutes: 6,
    expectedGain: 1.2,
    precondition: 'check the fiber for light',
    outageRisk: false,
    why: 'pins the place',
    ...change,
  })

  it('that can hurt traffic stay locked until their precondition is confirmed', async () => {
    renderPage(<NextTestsList tests={[test({ outageRisk: true, precondition: 'confirm that the fiber is dark' })]} />)
    expect(screen.getByText('Locked')).toBeTruthy()
    await userEvent.click(screen.getByRole('checkbox', { name: /confirm that the fiber is dark/ }))
    expect(screen.queryByText('Locked')).toBeNull()
    expect(screen.getByText('Released by you')).toBeTruthy()
  })

  it('without risk name what comes first, with minutes and gain', () => {
    renderPage(<NextTestsList tests={[test({})]} />)
    expect(screen.queryByRole('checkbox')).toBeNull()
    expect(screen.getByText('6 min, 1.2 bit')).toBeTruthy()
    expect(screen.getByText('First: check the fiber for light.')).toBeTruthy()
  })

  it('none left says so', () => {
    renderPage(<NextTestsList tests={[]} />)
    expect(screen.getByText(/clear enough to go and look/)).toBeTruthy()
  })
})

describe('the event table', () => {
  const event = (change: Partial<TraceCurve['events'][number]>): TraceCurve['events'][number] => ({
    distance: 1000,
    distanceSigma: 0.4,
    extent: 0,
    kind: 'step',
    loss: 0.123,
    lossSigma: 0.0001,
    reflectance: null,
    reflectanceSigma: null,
    saturated: false,
    begins: 990,
    settled: 1010,
    ground: 900,
    ...change,
  })
  const trace = (role: 'baseline' | 'present', events: TraceCurve['events']): TraceCurve => ({
    id: role,
    role,
    direction: 'ab',
    wavelength: 1550,
    first: 0,
    spacing: 1,
    map: { distance: [0, 1], ground: [0, 1] },
    pyramid: { low: [], high: [] },
    events,
  })
  const view = (events: TraceCurve['events']) =>
    ({ traces: [trace('baseline', []), trace('present', events)] }) as unknown as LocateView

  it('shows the present trace first, each figure with its uncertainty, never a zero one', () => {
    renderPage(<EventTable view={view([event({})])} onChoose={() => {}} />)
    const row = screen.getAllByRole('row')[1]!
    expect(row.textContent).toMatch(/step1000\.0 ± 0\.40\.123 ± 0\.001–/)
  })

  it('gives the reason where a figure is missing, and a bound as a bound', () => {
    const events = [
      event({ loss: null, lossSigma: null, why: { loss: 'overlap' } }),
      event({ kind: 'reflective', distance: 1200, reflectance: -14.7, saturated: true, bound: { reflectance: 'min' } }),
    ]
    renderPage(<EventTable view={view(events)} onChoose={() => {}} />)
    expect(screen.getByText('runs into a neighbouring event')).toBeTruthy()
    expect(screen.getByText('≥ -14.7')).toBeTruthy()
  })

  it('gives the loss of crowded events together, as the bound that it is', () => {
    const together = { loss: 0.512, sigma: 0.004, events: 2 }
    renderPage(
      <EventTable
        view={view([event({ loss: null, lossSigma: null, why: { loss: 'overlap' }, together })])}
        onChoose={() => {}}
      />,
    )
    expect(screen.getAllByRole('row')[1]!.textContent).toMatch(/≤ 0\.512 ± 0\.0042 events together/)
  })

  it('of thousands of events draws those in sight, and says how many there are', async () => {
    vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(360)
    vi.spyOn(Element.prototype, 'clientWidth', 'get').mockReturnValue(800)
    vi.spyOn(HTMLElement.prototype, 'offsetHeight', 'get').mockReturnValue(44)
    const many = Array.from({ length: 5000 }, (_, k) => event({ distance: 10 * k, ground: 10 * k }))
    renderPage(<EventTable view={view(many)} onChoose={() => {}} />)
    expect(screen.getByRole('table').getAttribute('aria-rowcount')).toBe('5001')
    await waitFor(() => expect(screen.getAllByRole('row').length).toBeGreaterThan(5))
    const rows = screen.getAllByRole('row')
    expect(rows.length).toBeLessThan(60)
    expect(rows[1]!.textContent).toMatch(/step0\.0/)
    vi.restoreAllMocks()
  })

  it('explains a ghost and a spread loss', () => {
    const events = [
      event({ kind: 'ghost', loss: null, lossSigma: null, echoOf: ['1000 m', 'the port'] }),
      event({ distance: 1500, extent: 120.4 }),
    ]
    renderPage(<EventTable view={view(events)} onChoose={() => {}} />)
    expect(screen.getByText('ghost: echo of 1000 m, the port')).toBeTruthy()
    expect(screen.getByText('step, spread over 120 m')).toBeTruthy()
  })

  it('a person’s marks stand beside the computed events with who and when, and can be undone', async () => {
    const mark = (id: string, action: 'added' | 'struck', distance: number, remark: string) => ({
      id,
      calloutId: 'c',
      entry: { kind: 'mark' as const, traceId: 'present', action, distance, remark },
      observedAt: '2026-03-01T02:10:00.000Z',
      receivedAt: '2026-03-01T02:10:00.000Z',
      by: 'Night technician',
      supersedes: null,
      superseded: false,
    })
    const [onMark, onTakeBack] = [vi.fn(), vi.fn()]
    renderPage(
      <EventTable
        view={view([event({}), event({ distance: 2000, ground: 1900 })])}
        onChoose={() => {}}
        marks={[mark('m1', 'struck', 1000.2, ''), mark('m2', 'added', 1500, 'old bend')]}
        onMark={onMark}
        onTakeBack={onTakeBack}
      />,
    )
    expect(screen.getByText(/struck by Night technician/)).toBeTruthy()
    expect(screen.getByText('mark: old bend')).toBeTruthy()
    await userEvent.click(screen.getAllByRole('button', { name: 'Undo' })[0]!)
    expect(onTakeBack).toHaveBeenCalledWith('m1')
    await userEvent.click(screen.getByRole('button', { name: 'Strike out' }))
    expect(onMark).toHaveBeenCalledWith({ traceId: 'present', action: 'struck', distance: 2000, remark: '' })
    await userEvent.click(screen.getByRole('button', { name: 'Move' }))
    const place = screen.getByLabelText('Stands at, m')
    await userEvent.clear(place)
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Move it' }).disabled).toBe(true)
    await userEvent.type(place, '2004,5{Enter}')
    expect(onMark).toHaveBeenLastCalledWith({
      traceId: 'present',
      action: 'moved',
      distance: 2000,
      to: 2004.5,
      remark: '',
    })
    await userEvent.type(screen.getByLabelText('Mark at, m'), '1234,5')
    await userEvent.type(screen.getByLabelText('What you see there'), 'faint step')
    await userEvent.click(screen.getByRole('button', { name: 'Add the mark' }))
    expect(onMark).toHaveBeenLastCalledWith({
      traceId: 'present',
      action: 'added',
      distance: 1234.5,
      remark: 'faint step',
    })
  })

  it('an event that a person moved shows both places, and who says so', () => {
    const moved = {
      id: 'm3',
      calloutId: 'c',
      entry: {
        kind: 'mark' as const,
        traceId: 'present',
        action: 'moved' as const,
        distance: 1000,
        to: 1006,
        remark: '',
      },
      observedAt: '2026-03-01T02:10:00.000Z',
      receivedAt: '2026-03-01T02:10:00.000Z',
      by: 'Night technician',
      supersedes: null,
      superseded: false,
    }
    renderPage(<EventTable view={view([event({})])} onChoose={() => {}} marks={[moved]} />)
    expect(screen.getAllByRole('row')[1]!.textContent).toMatch(
      /1000\.0 ± 0\.4moved to 1006\.0.*moved by Night technician/,
    )
  })

  it('offers no marks to who may not work', () => {
    renderPage(<EventTable view={view([event({})])} onChoose={() => {}} />)
    expect(screen.queryByRole('button', { name: 'Strike out' })).toBeNull()
    expect(screen.queryByLabelText('Mark at, m')).toBeNull()
  })

  it('a row chosen by mouse or by Enter is shown on the thread', async () => {
    const choose = vi.fn()
    renderPage(<EventTable view={view([event({})])} onChoose={choose} />)
    const row = screen.getAllByRole('row')[1]!
    await userEvent.click(row)
    row.focus()
    await userEvent.keyboard('{Enter}')
    expect(choose.mock.calls).toEqual([[900], [900]])
  })
})

describe('between two markers', () => {
  const levels = Float32Array.from({ length: 1000 }, (_, i) => -5 - 0.0002 * i)
  const trace = {
    id: 't',
    role: 'present',
    direction: 'ab',
    wavelength: 1550,
    first: 0,
    spacing: 1,
    map: { distance: [0, 1000], ground: [0, 990] },
    pyramid: { low: [levels], high: [levels] },
    events: [],
  } as unknown as TraceCurve

  it('says what to do until both are placed', () => {
    const page = renderPage(<MarkerReadout markers={[]} traces={[trace]} />)
    expect(screen.getByText('Click the first place on the thread.')).toBeTruthy()
    page.unmount()
    renderPage(<MarkerReadout markers={[10]} traces={[trace]} />)
    expect(screen.getByText('Click the second place.')).toBeTruthy()
  })

  it('reads loss and attenuation with their uncertainties: 0.2 dB/km', () => {
    renderPage(<MarkerReadout markers={[99, 594]} traces={[trace]} />)
    const cells = within(screen.getByRole('row', { name: /present →/ })).getAllByRole('cell')
    expect(cells[1]!.textContent).toBe('500.0')
    expect(cells[2]!.textContent).toMatch(/^0\.100 ± /)
    expect(cells[4]!.textContent).toMatch(/^0\.200 ± 0\.001/)
    expect(screen.getByText(/495.m of ground/)).toBeTruthy()
  })

  it('too close says so instead of a figure', () => {
    renderPage(<MarkerReadout markers={[100, 102]} traces={[trace]} />)
    expect(screen.getByText(/too close or outside/)).toBeTruthy()
  })
})
