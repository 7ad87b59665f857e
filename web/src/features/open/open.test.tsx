import type { LogEntry, Observation, OpenBook } from '@cold-thread/contract'
import {
  cautionsOf,
  compileSheet,
  emptyOutcome,
  factsOf,
  isSheet,
  plainDome,
  PROCEDURES,
  SIX_PORTS,
  type ClosureModel,
  type RunSheet,
} from '@cold-thread/core/open'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
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
import { TimersBar } from '../callout/TimersBar.tsx'
import { OpenStage } from './OpenStage.tsx'

const DOME = 'gel dome of the test'
const model: ClosureModel = {
  ...plainDome(DOME),
  ports: SIX_PORTS.map((port) => ({ ...port })),
  lengths: { sheath: { min: 1.5, max: 1.5 } },
  pressure: { test: 40_000, minutes: 15, mayLose: 2000 },
}
const plant = smallPlant()
plant.cables = plant.cables.map((cable) => ({ ...cable, outerDiameter: 0.014 }))
plant.nodes[1]!.closureModel = DOME
const book: OpenBook = { closures: [model], procedures: [] }

function sheetOf(work: 're-enter' | 'bring-in' = 're-enter', given: ClosureModel = model): RunSheet {
  const facts = factsOf(plant, { node: 'n1', cable: 'a', chainage: 1000 }, work, given)
  const sheet = compileSheet({ facts, procedures: PROCEDURES, model: given, given: {} })
  if (!isSheet(sheet)) throw new Error(sheet.why)
  return sheet
}

const SHEET_ID = '01a0c0de-0000-7000-8000-0000000000aa'
let sent: Sent[] = []
const did = (step: string, some: object = {}): Observation =>
  logged({ kind: 'sheet-step', sheetId: SHEET_ID, ...emptyOutcome(step), said: [], photos: [], ...some } as LogEntry)

function show(log: Observation[], account = TECHNICIAN, callout = CALLOUT, openBook = book): void {
  sent = stubServer({
    'GET /callouts/[^/]+/observations': log,
    'GET /callouts/[^/]+/plans': [],
    'GET /open-book': { book: openBook, version: 1, savedAt: null, savedBy: null },
    'PUT /callouts/[^/]+/observations(/[^/]+)?': accepted,
  })
  renderPage(<OpenStage account={account} callout={callout} plant={plant} link={plant.links[0]!} />)
}

const begun = (sheet = sheetOf()) => logged({ kind: 'sheet', sheet }, SHEET_ID)
const card = async () => within(await screen.findByRole('region', { name: 'Step' }))
const enteredStep = async (outcome: string) =>
  waitFor(async () => {
    const found = enteredIn(sent).find((entry) => entry.kind === 'sheet-step' && entry.outcome === outcome)
    expect(found).toBeTruthy()
    return found as Extract<LogEntry, { kind: 'sheet-step' }>
  })

beforeEach(async () => {
  await fieldStore.outbox.clear()
  vi.stubGlobal('scrollTo', () => undefined)
})

it('a cure takes the minutes of its sheet, and runs on above every stage', async () => {
  localStorage.clear()
  const facts = {
    ...sheetOf().facts,
    work: 'connector' as const,
    connector: 'epoxy' as const,
    ferrule: 'SC' as const,
    closure: null,
  }
  const sheet = compileSheet({ facts, procedures: PROCEDURES, model: null, given: {} })
  if (!isSheet(sheet)) throw new Error(sheet.why)
  const cure = sheet.steps.findIndex(({ id }) => id === 'adhesive.cure')
  const log = [
    begun(sheet),
    ...sheet.steps.slice(0, cure).map((step) =>
      did(step.id, {
        said: cautionsOf(step).map(({ id }) => id),
        values: Object.fromEntries(step.fields.map(({ id, least }) => [id, least ?? 'none'])),
      }),
    ),
  ]
  show(log)
  const start = (await card()).getByRole('button', { name: 'Start' }) as HTMLButtonElement
  expect(start.disabled).toBe(true)
  await userEvent.type((await card()).getByLabelText('Minutes, by its sheet'), '12,5')
  await userEvent.click(start)
  expect((await card()).getByText('12:30 left')).toBeTruthy()
  renderPage(<TimersBar />)
  expect((await screen.findByRole('region', { name: 'Timers' })).textContent).toMatch(/12:\d\d left: .*Let it cure/)
  await userEvent.click(within(screen.getByRole('region', { name: 'Timers' })).getByRole('button', { name: 'End' }))
  expect(screen.queryByRole('region', { name: 'Timers' })).toBeNull()
})

it('reads a step out with its lengths, its reason and its cautions, and stops when asked to begin again', async () => {
  const spoken: string[] = []
  const cancel = vi.fn()
  vi.stubGlobal(
    'SpeechSynthesisUtterance',
    class {
      readonly text: string
      constructor(text: string) {
        this.text = text
      }
    },
  )
  vi.stubGlobal('speechSynthesis', { speak: ({ text }: { text: string }) => spoken.push(text), cancel })
  const sheet = sheetOf()
  show([begun(sheet)])
  const at = sheet.steps.findIndex((step) => step.why !== undefined && cautionsOf(step).length > 0)
  const step = sheet.steps[at]!
  for (let i = 0; i < at; i++) await userEvent.click((await card()).getByRole('button', { name: 'Step after' }))
  cancel.mockClear()
  await userEvent.click((await card()).getByRole('button', { name: 'Read the step out' }))
  expect(spoken).toHaveLength(1)
  for (const words of [step.do, step.why!, ...cautionsOf(step).map(({ text }) => text)])
    expect(spoken[0]).toContain(words)
  // What was being said is cut short first: the step is never heard twice at once.
  expect(cancel).toHaveBeenCalledTimes(1)
})

it('a browser that can’t speak has no button for it', async () => {
  vi.stubGlobal('speechSynthesis', undefined)
  Reflect.deleteProperty(globalThis, 'speechSynthesis')
  show([begun()])
  await card()
  expect(screen.queryByRole('button', { name: 'Read the step out' })).toBeNull()
})

describe('beginning a run sheet', () => {
  it('offers the closure, compiles its sheet and enters it whole', async () => {
    show([])
    expect(await screen.findByText(/steps for a gel-sealed dome closure/)).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: 'Begin this sheet' }))
    await waitFor(async () =>
      expect(enteredIn(sent)[0]).toMatchObject({ kind: 'sheet', sheet: { name: 'Open and close Weir closure' } }),
    )
  })

  it('asks for a length that neither the closure’s table nor practice gives, and goes on with it', async () => {
    show([], TECHNICIAN, CALLOUT, { closures: [{ ...model, lengths: {} }], procedures: [] })
    await userEvent.click(await screen.findByLabelText('What is to be done'))
    await userEvent.click(await screen.findByRole('option', { name: /bring a cable in/ }))
    expect(await screen.findByText(/No length is on record for: sheath taken off/)).toBeTruthy()
    expect((screen.getByRole('button', { name: 'Begin this sheet' }) as HTMLButtonElement).disabled).toBe(true)
    await userEvent.type(screen.getByLabelText('sheath taken off, m'), '1,8')
    await waitFor(() =>
      expect((screen.getByRole('button', { name: 'Begin this sheet' }) as HTMLButtonElement).disabled).toBe(false),
    )
  })

  it('asks for the cable’s diameter where no record has it: it decides on tape and bushing', async () => {
    stubServer({
      'GET /callouts/[^/]+/observations': [],
      'GET /callouts/[^/]+/plans': [],
      'GET /open-book': { book, version: 1, savedAt: null, savedBy: null },
    })
    const plain = { ...smallPlant(), nodes: plant.nodes }
    renderPage(<OpenStage account={TECHNICIAN} callout={CALLOUT} plant={plain} link={plain.links[0]!} />)
    await userEvent.click(await screen.findByLabelText('What is to be done'))
    await userEvent.click(await screen.findByRole('option', { name: /bring a cable in/ }))
    expect(await screen.findByText(/outer diameter is not on record: measure it/)).toBeTruthy()
    await userEvent.type(screen.getByLabelText('Cable’s outer diameter, mm'), '11')
    expect(await screen.findByText('under 12.7 mm: tape and a bushing')).toBeTruthy()
    expect(await screen.findByText(/steps for a gel-sealed dome closure/)).toBeTruthy()
  })

  it('says where the operator’s own procedures no longer fit those that ship, and makes no sheet of them', async () => {
    const place = PROCEDURES.find(({ id }) => id === 'place')!
    const own = { ...place, version: 2, steps: place.steps.filter(({ id }) => id !== 'neighbours') }
    show([], TECHNICIAN, CALLOUT, { closures: [model], procedures: [own] })
    expect(await screen.findByText(/dome-open.neighbours: it waits for “place.neighbours”/)).toBeTruthy()
    expect((screen.getByRole('button', { name: 'Begin this sheet' }) as HTMLButtonElement).disabled).toBe(true)
  })

  it('has no procedure for a cable that is not described, and says what to use', async () => {
    const odd = plant.cables.map((cable) => ({ ...cable, construction: 'tight-buffered' }))
    stubServer({
      'GET /callouts/[^/]+/observations': [],
      'GET /callouts/[^/]+/plans': [],
      'GET /open-book': { book, version: 1, savedAt: null, savedBy: null },
    })
    renderPage(
      <OpenStage account={TECHNICIAN} callout={CALLOUT} plant={{ ...plant, cables: odd }} link={plant.links[0]!} />,
    )
    await userEvent.click(await screen.findByLabelText('What is to be done'))
    await userEvent.click(await screen.findByRole('option', { name: /bring a cable in/ }))
    expect(await screen.findByText(/No procedure here for a cable of construction “tight-buffered”/)).toBeTruthy()
  })

  it('is not for those who only read', async () => {
    show([], VIEWER)
    expect(await screen.findByText('No run sheet was begun on this callout.')).toBeTruthy()
  })
})

describe('a step', () => {
  it('is not done while what must be said is not said; said, one key does it', async () => {
    show([begun(), did('place.chamber', { said: ['confined'] })])
    const step = await card()
    expect(step.getByText(/press its core until no pressure/)).toBeTruthy()
    await userEvent.click(step.getByRole('button', { name: 'Done' }))
    expect(step.getByText(/To be confirmed: “No pressure and no vacuum is left”/)).toBeTruthy()
    expect(enteredIn(sent)).toEqual([])
    await userEvent.click(step.getByRole('checkbox', { name: /No pressure and no vacuum/ }))
    await userEvent.keyboard('{Escape}')
    ;(document.activeElement as HTMLElement).blur()
    await userEvent.keyboard('{Enter}')
    expect(await enteredStep('done')).toMatchObject({ step: 'dome-open.vent', said: ['pressure'] })
  })

  it('that is locked says what comes first, and can’t be done', async () => {
    show([begun(), did('place.chamber', { said: ['confined'] })])
    await card()
    await userEvent.keyboard(']')
    const step = await card()
    expect(step.getByRole('status').textContent).toMatch(/comes first: a closure under pressure can throw its dome/)
    expect((step.getByRole('button', { name: 'Done' }) as HTMLButtonElement).disabled).toBe(true)
  })

  it('outside its tolerance is done again, or has its reason', async () => {
    const sheet = sheetOf('bring-in')
    const before = sheet.steps.slice(
      0,
      sheet.steps.findIndex(({ id }) => id === 'loose-tube.strength-member'),
    )
    const log = before.map((step) =>
      did(step.id, {
        said: step.cautions ?? [],
        reason: 'tested',
        values: Object.fromEntries(
          step.fields.map((field) => [field.id, field.kind === 'text' ? 'x' : (field.least ?? 1)]),
        ),
      }),
    )
    show([begun(sheet), ...log])
    const step = await card()
    await userEvent.type(step.getByLabelText('Strength member, mm'), '70')
    await userEvent.click(step.getByRole('button', { name: 'Done' }))
    expect(step.getByRole('alert').textContent).toMatch(/Strength member: 70 mm, expected 51 to 57 mm/)
    await userEvent.clear(step.getByLabelText('Strength member, mm'))
    await userEvent.type(step.getByLabelText('Strength member, mm'), '54')
    await userEvent.click(step.getByRole('button', { name: 'Done' }))
    expect(await enteredStep('done')).toMatchObject({ values: { length: 54 } })
  })

  it('may be left out with a reason where nothing waits for it', async () => {
    const sheet = sheetOf()
    const at = sheet.steps.findIndex(({ id }) => id === 'dome-open.dome-aside')
    show([begun(sheet), ...sheet.steps.slice(0, at).map((step) => did(step.id, { said: step.cautions ?? [] }))])
    const step = await card()
    await userEvent.click(step.getByRole('button', { name: 'Leave out' }))
    await userEvent.click(step.getByRole('button', { name: 'Leave it out' }))
    expect(step.getByRole('alert').textContent).toMatch(/needs a reason/)
    await userEvent.type(step.getByLabelText('Reason'), 'the dome stays in the tent')
    await userEvent.click(step.getByRole('button', { name: 'Leave it out' }))
    expect(await enteredStep('skipped')).toMatchObject({ reason: 'the dome stays in the tent' })
  })

  it('that was done can be taken back: the entry stays, and is superseded', async () => {
    const sheet = sheetOf()
    const vent = did('dome-open.vent', { said: ['pressure'] })
    show([begun(sheet), did('place.chamber', { said: ['confined'] }), vent])
    await userEvent.click(await screen.findByRole('button', { name: /Take the valve’s cap off/ }))
    await userEvent.click((await card()).getByRole('button', { name: 'Take back' }))
    await waitFor(() => {
      const put = sent.find(({ method }) => method === 'PUT')?.body
      const [one] = Array.isArray(put) ? (put as object[]) : [put as object]
      expect(one).toMatchObject({ entry: { kind: 'withdrawn' }, supersedes: vent.id })
    })
  })
})

describe('watching the loss by hand', () => {
  async function atClosing() {
    const sheet = sheetOf()
    const at = sheet.steps.findIndex(({ id }) => id === 'dome-close.dome-on')
    const log = sheet.steps.slice(0, at).map((step) =>
      did(step.id, {
        said: step.cautions ?? [],
        reason: 'tested',
        values: Object.fromEntries(step.fields.map((field) => [field.id, field.least ?? 1])),
      }),
    )
    show([begun(sheet), ...log])
    return card()
  }

  it('0.4 dB more is flagged and asks for release; a failed try is kept', async () => {
    const step = await atClosing()
    await userEvent.type(step.getByLabelText('Power before, dBm'), '-18,20')
    await userEvent.type(step.getByLabelText('Power now, dBm'), '-18,60')
    expect(step.getByRole('status').textContent).toMatch(/release it: 0.40 dB ± 0.03 dB were added/)
    await userEvent.click(step.getByRole('button', { name: 'Done' }))
    expect(step.getByRole('alert').textContent).toMatch(/0.40 dB were added/)
    await userEvent.click(step.getByRole('button', { name: 'Note this as a failed try' }))
    await userEvent.click(step.getByRole('button', { name: 'Keep as failed' }))
    expect(await enteredStep('failed')).toMatchObject({ watch: { flagged: true } })
  })

  it('the same level holds', async () => {
    const step = await atClosing()
    await userEvent.type(step.getByLabelText('Power before, dBm'), '-18.20')
    await userEvent.type(step.getByLabelText('Power now, dBm'), '-18.22')
    await userEvent.click(step.getByRole('button', { name: 'Done' }))
    expect(await enteredStep('done')).toMatchObject({ watch: { flagged: false } })
  })
})

describe('the pressure test', () => {
  it('stops where the closure’s record has no figure', async () => {
    const plain = { ...model, pressure: null }
    const sheet = sheetOf('re-enter', plain)
    const at = sheet.steps.findIndex(({ id }) => id === 'dome-close.pressure')
    const log = sheet.steps.slice(0, at).map((step) =>
      did(step.id, {
        said: step.cautions ?? [],
        reason: 'tested',
        values: Object.fromEntries(step.fields.map((field) => [field.id, field.least ?? 1])),
      }),
    )
    show([begun(sheet), ...log])
    const step = await card()
    expect(step.getByText(/The closure’s record has no test pressure: no pressure test/)).toBeTruthy()
    await userEvent.click(step.getByRole('button', { name: 'Done' }))
    expect(step.getByText(/No figure is on record for this closure/)).toBeTruthy()
    expect(step.getByRole('button', { name: 'Leave out' })).toBeTruthy()
  })
})

it('the way of a connector is chosen by what counts and what the kit has', async () => {
  sent = stubServer({
    'GET /callouts/[^/]+/observations': [],
    'GET /callouts/[^/]+/plans': [],
    'GET /open-book': { book, version: 1, savedAt: null, savedBy: null },
    'GET /kit': {
      kit: {
        format: 'cold-thread/kit',
        version: 1,
        people: [],
        items: ['polishing set', 'connector body', 'epoxy kit', 'anaerobic kit'].map((kind) => ({
          id: kind,
          kind,
          name: kind,
          count: 1,
          wear: null,
          calibratedUntil: null,
        })),
        hours: { windows: [], shifts: [], restHours: null },
      },
      version: 1,
    },
  })
  renderPage(<OpenStage account={TECHNICIAN} callout={CALLOUT} plant={plant} link={plant.links[0]!} />)
  await userEvent.click(await screen.findByLabelText('What is to be done'))
  await userEvent.click(await screen.findByRole('option', { name: 'put a connector on a fiber' }))
  await userEvent.click(await screen.findByText('Which way?'))
  const list = within(await screen.findByRole('list', { name: 'Ways, the best first' }))
  const ways = () => list.getAllByRole('listitem').map((item) => item.querySelector('strong')!.textContent)
  expect(ways().slice(0, 2)).toEqual(['anaerobic adhesive and polish', 'epoxy and polish'])
  expect(list.getAllByText(/Not here: not in the kit/)).toHaveLength(4)
  await userEvent.click(screen.getByLabelText('What counts first'))
  await userEvent.click(await screen.findByRole('option', { name: 'loss' }))
  expect(ways()[0]).toBe('epoxy and polish')
  await userEvent.click(list.getAllByRole('button', { name: 'Take this way' })[0]!)
  expect(screen.getByLabelText('Way').textContent).toBe('epoxy and polish')
})
