import type { Proof, ProofEvent } from '@cold-thread/core/prove'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it } from 'vitest'
import { errorText } from '../api/errorText.ts'
import { CALLOUT, renderPage, smallPlant, stubServer, TECHNICIAN, VIEWER } from '../test/page.tsx'
import { BoardPage } from './callouts/BoardPage.tsx'
import { nextStep } from './callouts/nextStep.ts'
import { JoinStage } from './join/JoinStage.tsx'
import { ReadingsTable } from './prove/ReadingsTable.tsx'
import { VerdictLine } from './prove/VerdictLine.tsx'
import { SignInPage } from './signIn/SignInPage.tsx'

const plant = smallPlant()
plant.links[0]!.circuits = [{ name: 'Control', priority: 1 }]
plant.links.push({ ...plant.links[0]!, id: 'm', name: 'Office', circuits: [{ name: 'Office', priority: 4 }] })
const record = { bundle: plant, version: 1 }

describe('the board', () => {
  it('puts the most urgent circuit first and says what each callout waits for', async () => {
    stubServer({
      'GET /callouts': [
        { ...CALLOUT, id: '01a0c0de-0000-7000-8000-00000000000d', linkId: 'm', title: 'Office is slow' },
        CALLOUT,
        { ...CALLOUT, id: '01a0c0de-0000-7000-8000-00000000000e', state: 'proving', title: 'Repaired' },
      ],
      'GET /plant': record,
    })
    renderPage(<BoardPage account={TECHNICIAN} />)
    const open = screen.getByRole('region', { name: 'Find the fault' })
    await waitFor(() => {
      const titles = within(open)
        .getAllByRole('link')
        .map((link) => link.textContent ?? '')
      expect(titles[0]).toMatch(/Link is down/)
      expect(titles[1]).toMatch(/Office is slow/)
    })
    expect(within(open).getAllByText('Next: shoot the link and place the fault')).toHaveLength(2)
    expect(screen.getByText('Next: measure again and prove the repair')).toBeTruthy()
    expect(nextStep({ ...CALLOUT, shot: true })).toBe('Next: plan the repair')
    expect(nextStep({ ...CALLOUT, shot: true, plan: 'saved' })).toBe('Next: a lead approves the plan')
    expect(nextStep({ ...CALLOUT, shot: true, plan: 'approved' })).toBe('Next: carry out the approved plan')
  })

  it('offers a new callout only to who may open one', async () => {
    stubServer({ 'GET /callouts': [], 'GET /plant': record })
    const first = renderPage(<BoardPage account={TECHNICIAN} />)
    await screen.findByRole('button', { name: 'New callout' })
    first.unmount()
    renderPage(<BoardPage account={VIEWER} />)
    expect(screen.queryByRole('button', { name: 'New callout' })).toBeNull()
  })

  it('without a plant leads to its import', async () => {
    stubServer({ 'GET /callouts': [], 'GET /plant': { bundle: null, version: 0 } })
    renderPage(<BoardPage account={TECHNICIAN} />)
    expect((await screen.findByRole('link', { name: 'Import the plant' })).getAttribute('href')).toBe('/plant')
  })
})

describe('signing in', () => {
  it('sends name and password, and shows the server’s refusal', async () => {
    const sent = stubServer({
      'POST /session': () => ({
        status: 401,
        body: { code: 'wrong-credentials', message: 'Name or password is wrong.' },
      }),
    })
    renderPage(<SignInPage />)
    await userEvent.type(screen.getByLabelText('Name'), 'tech')
    await userEvent.type(screen.getByLabelText('Password'), 'not the one')
    await userEvent.click(screen.getByRole('button', { name: 'Sign in' }))
    await screen.findByRole('alert')
    expect(sent[0]!.body).toEqual({ name: 'tech', password: 'not the one' })
  })

  it('asks for what is missing before it asks the server', async () => {
    const sent = stubServer({})
    renderPage(<SignInPage />)
    await userEvent.click(screen.getByRole('button', { name: 'Sign in' }))
    await screen.findByText('Your sign-in name')
    expect(sent).toEqual([])
  })
})

describe('the readings', () => {
  const event = (change: Partial<ProofEvent>): ProofEvent => ({
    wavelength: 1550,
    chainage: 1000,
    node: 'n1',
    place: 'Weir closure',
    kind: 'splice',
    joints: 1,
    status: 'unchanged',
    lossBefore: 0.05,
    lossAfter: 0.06,
    lossTwoWay: 0.06,
    lossSigma: 0.004,
    change: 0.01,
    changeSigma: 0.006,
    reflectanceBefore: null,
    reflectanceAfter: null,
    limit: 0.1,
    limitSource: 'baseline',
    holds: 'yes',
    ...change,
  })
  const proof = (events: ProofEvent[]): Proof => ({
    verdict: 'restored',
    added: 0,
    rules: { name: 'standard', version: 1 },
    events,
    total: { '1550': { before: 2, after: 2.02, afterSigma: 0.01, allowed: 2.2 } },
    causes: [],
    reasons: [],
    next: [],
    warnings: [],
  })

  it.each([
    ['yes', 'holds'],
    ['close', 'close'],
    ['no', 'over'],
    ['unknown', 'not measured'],
  ] as const)('tell "%s" by a word, not by colour alone', (holds, word) => {
    renderPage(<ReadingsTable proof={proof([event({ holds })])} />)
    const row = screen.getByRole('row', { name: /Weir closure/ })
    expect(within(row).getByText(word)).toBeTruthy()
  })

  it('mark a joint that is new and one that changed', () => {
    renderPage(
      <ReadingsTable
        proof={proof([
          event({ node: null, place: '1 200 m', status: 'new', chainage: 1200 }),
          event({ status: 'changed' }),
        ])}
      />,
    )
    expect(screen.getByText('splice, new')).toBeTruthy()
    expect(screen.getByText('splice, changed')).toBeTruthy()
  })

  it('show a dash where nothing was measured before, never a zero', () => {
    renderPage(<ReadingsTable proof={proof([event({ lossBefore: null })])} />)
    expect(within(screen.getByRole('row', { name: /Weir closure/ })).getAllByRole('cell')[2]!.textContent).toBe('–')
  })
})

it.each([
  ['restored', 'Restored'],
  ['not-restored', 'Not restored'],
  ['cannot-tell', 'Can’t tell yet'],
] as const)('the verdict %s reads "%s"', (verdict, words) => {
  renderPage(<VerdictLine verdict={verdict} />)
  expect(screen.getByText(words)).toBeTruthy()
})

describe('the log of the bench', () => {
  const props = { account: VIEWER, callout: CALLOUT, plant, link: plant.links[0]! }
  const entry = (id: string, what: object) => ({
    id,
    calloutId: CALLOUT.id,
    entry: what,
    observedAt: '2026-03-01T02:10:00.000Z',
    receivedAt: '2026-03-01T02:10:00.000Z',
    by: 'Night technician',
    supersedes: null,
    superseded: false,
  })

  it('judges each attempt with its reasons and leaves evidence to Locate', async () => {
    const attempt = {
      kind: 'splice',
      node: 'n1',
      chainage: 1000,
      cable: 'b',
      fiber: 5,
      attempt: 1,
      estimate: 0.18,
      cleaveLeft: 1.4,
      cleaveRight: 0.3,
      outcome: 'redo',
      remark: '',
    }
    stubServer({
      'GET /callouts/[^/]+/observations': [
        entry('01a0c0de-0000-7000-8000-0000000000a1', attempt),
        entry('01a0c0de-0000-7000-8000-0000000000a2', { kind: 'evidence', evidence: { kind: 'growth', how: 'slow' } }),
      ],
    })
    renderPage(<JoinStage {...props} />)
    await screen.findByText(/Weir closure, b fiber 5/)
    expect(screen.getByText(/1\.4° is over 1\.0°/)).toBeTruthy()
    expect(screen.queryByText(/grew slowly/)).toBeNull()
  })
})

describe('errors in one sentence', () => {
  it.each([
    [{ status: 400, data: { code: 'invalid-request', message: 'no such node' } }, 'no such node'],
    [{ status: 'FETCH_ERROR', error: 'x' }, /does not answer/],
    [new Error('out of range'), 'out of range'],
    [42, /Something went wrong/],
  ])('%o', (error, words) => {
    expect(errorText(error)).toMatch(words)
  })
})
