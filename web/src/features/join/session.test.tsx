import type { LogEntry, Observation } from '@cold-thread/contract'
import { NO_CONDITIONS, sessionPatterns } from '@cold-thread/core/join'
import { EMPTY_KIT } from '@cold-thread/core/kit'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it } from 'vitest'
import { fieldStore } from '../../field/fieldStore.ts'
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
} from '../../test/page.tsx'
import { workerStandIn } from '../../test/workerStandIn.ts'
import { JoinStage } from './JoinStage.tsx'

// What runs in a worker, here without one.
beforeEach(() => {
  const patterns = (...of: Parameters<typeof sessionPatterns>) => Promise.resolve(sessionPatterns(...of))
  workerStandIn('patterns', { patterns })
})

const plant = smallPlant()
const SESSION_ID = '01a0c0de-0000-7000-8000-0000000000bb'
let sent: Sent[] = []

const begun = () =>
  logged(
    {
      kind: 'splice-session',
      node: 'n1',
      chainage: 1000,
      cable: 'b',
      fibers: null,
      setup: {
        splicer: null,
        cleaver: null,
        ribbon: false,
        mode: 'multimode',
        heater: 60,
        sleeve: 60,
        conditions: NO_CONDITIONS,
      },
    },
    SESSION_ID,
  )
const calibrated = (outcome: 'accepted' | 'refused' = 'accepted') =>
  logged({ kind: 'arc-calibration', sessionId: SESSION_ID, fiber: 'single-mode', outcome, conditions: NO_CONDITIONS })

function show(log: Observation[], account = TECHNICIAN): void {
  sent = stubServer({
    'GET /callouts/[^/]+/observations': log,
    'GET /callouts/[^/]+/(plans|attachments|traces)': [],
    'GET /kit': { kit: EMPTY_KIT, version: 0 },
    'PUT /callouts/[^/]+/observations(/[^/]+)?': accepted,
  })
  renderPage(<JoinStage account={account} callout={CALLOUT} plant={plant} link={plant.links[0]!} />)
}
const card = async () => within(await screen.findByRole('region', { name: 'Splice' }))
const entered = (kind: LogEntry['kind']) =>
  waitFor(() => {
    const found = enteredIn(sent).find((entry) => entry.kind === kind)
    expect(found).toBeTruthy()
    return found!
  })

beforeEach(async () => {
  await fieldStore.outbox.clear()
  localStorage.clear()
})

describe('a splicing session', () => {
  it('asks for the arc first, with single-mode fiber also where multimode will be spliced', async () => {
    show([begun()])
    expect(await screen.findByText(/also where multimode will be spliced/)).toBeTruthy()
    expect(screen.queryByRole('region', { name: 'Splice' })).toBeNull()
    await userEvent.click(screen.getByRole('button', { name: 'It was done with multimode' }))
    expect(await entered('arc-calibration')).toMatchObject({ fiber: 'multimode', outcome: 'refused' })
  })

  it('takes altitude and weather as the simulated splicer shows them', async () => {
    show([begun()])
    await userEvent.click(await screen.findByText('Altitude and weather now'))
    await userEvent.click(screen.getByRole('button', { name: 'As the simulated splicer shows them' }))
    await waitFor(() => expect((screen.getByLabelText('Altitude, m') as HTMLInputElement).value).toBe('212'))
    await userEvent.click(screen.getByRole('button', { name: 'It was accepted' }))
    expect(await entered('arc-calibration')).toMatchObject({
      conditions: { altitude: 212, temperature: 4.5, humidity: 83, pressure: 98_600 },
    })
  })

  it('advises after refusals', async () => {
    show([begun(), calibrated('refused'), calibrated('refused'), calibrated('refused')])
    expect(await screen.findByText(/Refused 3 times: clean V-grooves/)).toBeTruthy()
  })

  it('keeps an attempt with its readings and what was confirmed; the queue goes on', async () => {
    show([begun(), calibrated()])
    const step = await card()
    expect((step.getByRole('button', { name: /Splice on the simulated/ }) as HTMLButtonElement).disabled).toBe(true)
    await userEvent.click(step.getByLabelText('The sleeve is on'))
    await userEvent.click(step.getByLabelText(/These two lie in the splicer/))
    await userEvent.type(step.getByLabelText('Estimated loss, dB'), '0,14')
    await userEvent.type(step.getByLabelText('Left cleave, °'), '1.3')
    expect(step.getByRole('status').textContent).toMatch(/Redo.*left cleave 1.3° is over 1.0°/)
    await userEvent.click(step.getByRole('button', { name: 'Redo' }))
    expect(await entered('splice')).toMatchObject({
      sessionId: SESSION_ID,
      estimate: 0.14,
      cleaveLeft: 1.3,
      cleaveRight: null,
      outcome: 'redo',
      sleeve: true,
      colors: true,
      fromDevice: false,
    })
  })

  it('is judged by the limits that it was begun with', async () => {
    const { entry, ...rest } = begun()
    const setup = { ...(entry as Extract<LogEntry, { kind: 'splice-session' }>).setup, rules: 'tight' as const }
    show([{ ...rest, entry: { ...(entry as Extract<LogEntry, { kind: 'splice-session' }>), setup } }, calibrated()])
    const step = await card()
    await userEvent.type(step.getByLabelText('Estimated loss, dB'), '0.08')
    expect(step.getByRole('status').textContent).toMatch(/Redo.*estimate 0\.08 dB is over 0\.05 dB/)
  })

  it('an attempt without its sleeve is redone whatever it shows; without both colours it is not kept', async () => {
    show([begun(), calibrated()])
    const step = await card()
    await userEvent.type(step.getByLabelText('Estimated loss, dB'), '0.01')
    expect(step.getByRole('status').textContent).toMatch(/Redo.*sleeve was forgotten/)
    expect((step.getByRole('button', { name: 'Redo' }) as HTMLButtonElement).disabled).toBe(true)
    expect(step.getByText(/Confirm both ends’ colours/)).toBeTruthy()
  })

  it('what the splicer shows is read, and is still there when the page is loaded anew', async () => {
    show([begun(), calibrated()])
    const step = await card()
    await userEvent.click(step.getByLabelText('The sleeve is on'))
    await userEvent.click(step.getByLabelText(/These two lie in the splicer/))
    await userEvent.click(step.getByRole('button', { name: /Splice on the simulated/ }))
    const shown = (await step.findByText(/dB, cleaves/)).textContent
    document.body.innerHTML = ''
    show([begun(), calibrated()])
    expect((await (await card()).findByText(/dB, cleaves/)).textContent).toBe(shown)
  })

  it('a figure that is none is not kept', async () => {
    show([begun(), calibrated()])
    const step = await card()
    await userEvent.click(step.getByLabelText('The sleeve is on'))
    await userEvent.click(step.getByLabelText(/These two lie in the splicer/))
    await userEvent.type(step.getByLabelText('Estimated loss, dB'), '0.02')
    await userEvent.type(step.getByLabelText('Right cleave, °'), 'flat')
    expect((step.getByRole('button', { name: 'Accept' }) as HTMLButtonElement).disabled).toBe(true)
  })

  it('is ended with the shards seen to', async () => {
    show([begun(), calibrated()])
    const end = (await screen.findByRole('button', { name: 'End the session' })) as HTMLButtonElement
    expect(end.disabled).toBe(true)
    await userEvent.click(screen.getByLabelText('The bin with the shards is closed'))
    await userEvent.click(screen.getByLabelText(/The mat is taped and folded/))
    await userEvent.click(end)
    expect(await entered('session-end')).toMatchObject({ said: ['bin closed', 'mat taped'] })
  })

  it('who only reads sees the queue and changes nothing', async () => {
    show([begun(), calibrated()], VIEWER)
    expect(await screen.findByRole('list', { name: 'Splices in order' })).toBeTruthy()
    expect(screen.queryByRole('region', { name: 'Splice' })).toBeNull()
    expect(screen.queryByRole('button', { name: 'End the session' })).toBeNull()
  })

  const spliced = (attempt: number, some: Partial<Extract<LogEntry, { kind: 'splice' }>> = {}) =>
    logged({
      kind: 'splice',
      node: 'n1',
      chainage: 1000,
      cable: 'a',
      fiber: 1,
      attempt,
      estimate: 0.02,
      cleaveLeft: 0.3,
      cleaveRight: 0.3,
      outcome: 'redo',
      remark: '',
      sessionId: SESSION_ID,
      splice: 'a/1-b/1',
      ...some,
    })

  it('what its splices show together is advised with its evidence, and is over once it was seen to', async () => {
    const bad = Array.from({ length: 8 }, (_, i) => spliced(i + 1, { offset: 4 }))
    show([begun(), calibrated(), ...bad])
    const advice = within(await screen.findByRole('region', { name: 'Advice' }))
    expect(advice.getByRole('status').textContent).toMatch(/Clean the V-grooves/)
    expect(advice.getByText(/fibers lie beside each other by 4\.0 µm, usual 0\.5 µm/)).toBeTruthy()
    await userEvent.click(advice.getByRole('button', { name: 'V-grooves are clean' }))
    expect(await entered('session-care')).toMatchObject({ what: 'grooves' })
  })

  it('a one-way trace that seems to gain is explained, and waits; the way back is asked for next', async () => {
    show([begun(), calibrated(), spliced(1, { outcome: 'accepted', mate: { cable: 'b', fiber: 1 } })])
    const figure = await screen.findByLabelText('Loss on the trace, dB')
    const form = within(figure.closest('form')!)
    await userEvent.type(figure, '-0,15')
    expect(form.getByRole('status').textContent).toMatch(/Wait for the other way.*−0\.15 dB one way looks like a gain/)
    await userEvent.clear(figure)
    await userEvent.type(figure, '-15')
    expect((form.getByRole('button', { name: 'Keep the reading' }) as HTMLButtonElement).disabled).toBe(true)
    await userEvent.clear(figure)
    await userEvent.type(figure, '-0.15')
    await userEvent.click(form.getByRole('button', { name: 'Keep the reading' }))
    expect(await entered('trace-reading')).toEqual({
      kind: 'trace-reading',
      node: 'n1',
      chainage: 1000,
      cable: 'a',
      fiber: 1,
      way: 'ab',
      wavelength: 1550,
      loss: -0.15,
    })
    expect(await form.findByText('through b')).toBeTruthy()
  })

  it('both ways of a splice stand with their mean', async () => {
    const reading = (way: 'ab' | 'ba', loss: number) =>
      logged({ kind: 'trace-reading', node: 'n1', chainage: 1000, cable: 'a', fiber: 1, way, wavelength: 1550, loss })
    show([spliced(1, { outcome: 'accepted' }), reading('ab', -0.2), reading('ba', 0.34)], VIEWER)
    const list = within(await screen.findByRole('list', { name: 'Splices with trace readings' }))
    expect(list.getByText(/Good both ways/)).toBeTruthy()
    expect(list.getByText(/= 0\.07 dB ± 0\.03 dB, within 0\.10 dB/)).toBeTruthy()
    expect(screen.queryByLabelText('Loss on the trace, dB')).toBeNull()
  })
})
