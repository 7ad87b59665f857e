import type { CableSurveyRecord } from '@cold-thread/contract'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { CALLOUT, renderPage, smallPlant, stubServer, TECHNICIAN, VIEWER } from '../../test/page.tsx'
import { workerStandIn } from '../../test/workerStandIn.ts'
import { SurveyPage } from './SurveyPage.tsx'
import { ranges } from '@cold-thread/core/fiber'
import { fibersInWords } from './surveyWords.ts'

const identify = vi.fn()
beforeEach(() => workerStandIn('core', { identify }))

const place = {
  fibers: [1, 2, 3, 4],
  breaks: true,
  loss: 1.4,
  chainage: 1000,
  ground: 1000,
  interval95: [1000, 1000] as [number, number],
  places: [{ node: 'n1', from: 1000, to: 1000, probability: 0.97 }],
  extent: [1000, 1000] as [number, number],
  pattern: 'one-group',
  whole: [1],
  partly: [],
  meaning: 'one tube alone',
  first: 'open the nearest closure',
  withoutBaseline: 3,
}
const SURVEY: CableSurveyRecord = {
  cable: 'a',
  groups: [
    { number: 1, word: 'tube', color: 'blue', first: 1, last: 4 },
    { number: 2, word: 'tube', color: 'orange', first: 5, last: 8 },
  ],
  fibers: [1, 2, 3, 4, 5, 6].map((fiber) => ({
    fiber,
    state: fiber === 2 ? 'broken' : fiber < 5 ? 'lossy' : 'sound',
    compared: fiber === 5,
    litFrom: fiber === 2 ? 1000 : 3000,
    litTo: null,
    damages: fiber < 5 ? [{ ground: 1000, loss: fiber === 2 ? null : 1.4 }] : [],
  })),
  places: [place],
  missing: [7, 8, 12],
}

const plantRecord = { version: 1, bundle: smallPlant(), savedAt: '2026-03-01T00:00:00.000Z', savedBy: 'Records desk' }

function open(answers: Record<string, unknown>, account = TECHNICIAN) {
  const sent = stubServer({ 'GET /callouts/[^/]+': CALLOUT, 'GET /plant': plantRecord, ...answers })
  renderPage(
    <Routes>
      <Route path="/callouts/:id/survey" element={<SurveyPage account={account} />} />
    </Routes>,
    `/callouts/${CALLOUT.id}/survey`,
  )
  return sent
}

describe('words of a survey', () => {
  it('numbers in a row become ranges', () => {
    expect(ranges([9, 4, 7, 8, 12, 13])).toBe('4, 7–9, 12, 13')
  })

  it('a whole group is named by its colour, single fibers by their numbers', () => {
    expect(fibersInWords(SURVEY, place)).toBe('tube 1 (blue), 4 fibers of 4')
    expect(fibersInWords(SURVEY, { ...place, fibers: [1, 2, 3, 4, 6], pattern: 'scattered' })).toBe(
      'tube 1 (blue), 4 fibers of 4; fiber 6',
    )
    expect(fibersInWords(SURVEY, { ...place, fibers: [1, 2, 3, 4, 5, 6], pattern: 'whole-cable' })).toBe(
      'the whole cable, 6 fibers of 6 read',
    )
  })
})

describe('the page of a survey', () => {
  it('says first what is hit, where, what it means and what to do, with its doubts', async () => {
    open({ 'GET /callouts/[^/]+/survey': SURVEY })
    expect(await screen.findByText('Tube 1 (blue), 4 fibers of 4, at Weir closure')).toBeTruthy()
    expect(screen.getByText('1 broken, 3 with added loss; one tube alone.')).toBeTruthy()
    expect(screen.getByText('First: open the nearest closure.')).toBeTruthy()
    expect(screen.getByText(/3 of these fibers have no baseline/)).toBeTruthy()
    expect(screen.getByText('2 of 6 fibers read are sound. No trace of 3 fibers: 7, 8, 12.')).toBeTruthy()
  })

  it('hands its place to the link’s own fault, once', async () => {
    const log: unknown[] = []
    const sent = open({
      'GET /callouts/[^/]+/survey': SURVEY,
      'GET /callouts/[^/]+/observations': () => ({ status: 200, body: log }),
      'PUT /callouts/[^/]+/observations/[^/]+': ({ body }: { body: object }) => {
        const entry = { id: '1', calloutId: CALLOUT.id, receivedAt: '2026-03-01T02:10:00.000Z', by: 'Night', ...body }
        log.push({ ...entry, superseded: false })
        return { status: 200, body: log[0] }
      },
    })
    await userEvent.click(await screen.findByRole('button', { name: 'Use for this link’s fault' }))
    await screen.findByText(/Used as evidence for this link’s fault/)
    expect(sent.find(({ method }) => method === 'PUT')!.body).toMatchObject({
      entry: {
        evidence: { kind: 'neighbours', affected: true, traced: { fibers: 4, chainage: 1000, within: 0 } },
      },
    })
    expect(screen.queryByRole('button', { name: /Use for/ })).toBeNull()
  })

  it('walks from fiber to fiber by keyboard, and a tube is named beside its fibers', async () => {
    open({ 'GET /callouts/[^/]+/survey': SURVEY })
    const chart = await screen.findByRole('img', { name: /6 fibers by distance/ })
    for (const key of ['ArrowDown', 'ArrowDown']) fireEvent.keyDown(chart, { key })
    expect(
      screen.getByText(/^Fiber 2, tube 1 \(blue\), fiber 2 in it: broken 1.000.m along \(without a baseline\)/),
    ).toBeTruthy()
    fireEvent.keyDown(chart, { key: 'ArrowUp' })
    expect(screen.getByText(/^Fiber 1, .*1\.40 dB added/)).toBeTruthy()
  })

  it('is taken out of the evidence only after a second press', async () => {
    const sent = open({ 'GET /callouts/[^/]+/survey': SURVEY, 'DELETE /callouts/[^/]+/survey': null })
    await userEvent.click(await screen.findByRole('button', { name: 'Take these traces out' }))
    expect(sent.some(({ method }) => method === 'DELETE')).toBe(false)
    await userEvent.click(screen.getByRole('button', { name: 'Yes, take 6 fibers out' }))
    await waitFor(() => expect(sent.some(({ method }) => method === 'DELETE')).toBe(true))
  })

  it('offers a reader nothing to change', async () => {
    open({ 'GET /callouts/[^/]+/survey': SURVEY }, VIEWER)
    expect(await screen.findByText(/2 of 6 fibers read are sound/)).toBeTruthy()
    expect(screen.queryByRole('button', { name: /Take these traces out|Choose/ })).toBeNull()
  })
})

describe('many files at once', () => {
  beforeEach(() => {
    identify.mockImplementation((fileName: string) =>
      fileName === 'notes.sor'
        ? { problem: 'this is no trace' }
        : {
            facts: {
              fileName,
              fiberId: /[1-9]/.exec(fileName)?.[0] ?? '',
              locationA: 'West panel',
              locationB: 'East panel',
              wavelength: 1550,
            },
          },
    )
  })
  const file = (name: string) => {
    const one = new File(['x'], name)
    // jsdom has no arrayBuffer() on files.
    return Object.assign(one, { arrayBuffer: () => Promise.resolve(new ArrayBuffer(1)) })
  }

  it('are shown with their fibers before anything is sent; a doubtful one takes a number by hand', async () => {
    const sent = open({
      'GET /callouts/[^/]+/survey': null,
      'PUT /callouts/[^/]+/survey/[^/]+': (one: { path: string }) =>
        sent.filter(({ method }) => method === 'PUT').length === 2
          ? { status: 422, body: { code: 'trace-refused', message: 'the trace is cut off' } }
          : { status: 200, body: { path: one.path } },
    })
    const picker = await screen.findByLabelText('Trace files of the cable')
    fireEvent.change(picker, { target: { files: ['F1.sor', 'F2.sor', 'F3.sor', 'spare.sor', 'notes.sor'].map(file) } })
    expect(await screen.findByText(/files matched to their fibers/)).toBeTruthy()
    expect(screen.getByText('notes.sor: this is no trace')).toBeTruthy()
    expect(screen.getByText('no fiber number in the file or its name')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Send 3 traces, leave 1 out' })).toBeTruthy()
    expect(sent.filter(({ method }) => method === 'PUT')).toHaveLength(0)

    await userEvent.type(screen.getByLabelText('Fiber of spare.sor'), '7')
    await userEvent.click(screen.getByRole('button', { name: 'Send 4 traces' }))
    expect(await screen.findByText('3 of 4 files are in.')).toBeTruthy()
    expect(screen.getByText(/the trace is cut off/)).toBeTruthy()
    expect(sent.filter(({ method }) => method === 'PUT')).toHaveLength(4)
  })
})
