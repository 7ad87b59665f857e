import type { LogEntry, Observation } from '@cold-thread/contract'
import type { Proof, ProofCause } from '@cold-thread/core/prove'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it } from 'vitest'
import { fieldStore } from '../../field/fieldStore.ts'
import {
  accepted,
  CALLOUT,
  enteredIn,
  LEAD,
  logged,
  renderPage,
  smallPlant,
  stubServer,
  TECHNICIAN,
  VIEWER,
  type Sent,
} from '../../test/page.tsx'
import { ProveStage } from '../prove/ProveStage.tsx'
import { CloseStage } from './CloseStage.tsx'

const plant = smallPlant()
const link = plant.links[0]!
const EVIDENCE = 'a'.repeat(64)
const proof = (some: Partial<Proof> = {}): Proof => ({
  verdict: 'restored',
  added: 0,
  rules: { name: 'standard', version: 1 },
  events: [],
  total: {},
  causes: [],
  reasons: ['every joint and the total read as in the baseline, within limits'],
  next: [],
  warnings: [],
  ...some,
})
let sent: Sent[] = []

function show(
  page: 'close' | 'prove',
  { log = [], account = TECHNICIAN, said = proof() }: { log?: Observation[]; account?: typeof LEAD; said?: Proof } = {},
): void {
  sent = stubServer({
    'GET /callouts/[^/]+/sign-off': null,
    'GET /callouts/[^/]+/verdict': { proof: said, evidence: EVIDENCE },
    'GET /callouts/[^/]+/as-built': {
      changes: [{ cable: 'c', words: ['new closure at 700 m'] }],
      baselines: ['after-ab-1550.sor'],
      others: [{ link: 'Beside it', baselines: ['a.sor', 'b.sor'] }],
    },
    'GET /callouts/[^/]+/traces': [],
    'GET /callouts/[^/]+/observations': log,
    'GET /kit': { kit: { items: [] }, version: 0 },
    'PUT /callouts/[^/]+/observations(/[^/]+)?': accepted,
  })
  const props = { account, callout: CALLOUT, plant, link }
  renderPage(page === 'close' ? <CloseStage {...props} /> : <ProveStage {...props} />)
}

beforeEach(() => fieldStore.outbox.clear())

describe('signing', () => {
  it('a technician signs provisionally, over the evidence that was shown', async () => {
    show('close')
    await userEvent.type(await screen.findByLabelText('Remark'), ' done at three ')
    await userEvent.click(screen.getByRole('button', { name: /^Sign provisionally as/ }))
    await waitFor(() => expect(enteredIn(sent)).toHaveLength(1))
    expect(enteredIn(sent)[0]).toEqual({
      kind: 'provisional-sign-off',
      evidence: EVIDENCE,
      verdict: 'restored',
      remark: 'done at three',
    })
  })

  it.each([
    ['the same evidence', EVIDENCE, 'Nothing has changed since.'],
    ['other evidence', 'b'.repeat(64), 'has changed since: 1 entry of the log'],
  ])('a lead sees who signed at night, over %s', async (_name, evidence, words) => {
    const signature = logged({ kind: 'provisional-sign-off', evidence, verdict: 'restored', remark: '' } as LogEntry)
    const later = { ...logged({ kind: 'note', text: 'door open' }), receivedAt: '2099-01-01T00:00:00.000Z' }
    show('close', { account: LEAD, log: evidence === EVIDENCE ? [signature] : [signature, later] })
    const status = await screen.findByText(/Signed provisionally by/)
    expect(status.textContent).toContain(words)
    expect(screen.getByRole('button', { name: /^Sign as/ })).toBeTruthy()
  })

  it('who neither works nor leads is told that it waits, and signs nothing', async () => {
    show('close', { account: VIEWER })
    await screen.findByText('Waiting for a lead to sign.')
    expect(screen.queryByRole('button', { name: /Sign/ })).toBeNull()
  })

  it('a repair that is not proved has nothing to sign', async () => {
    show('close', { account: LEAD, said: proof({ verdict: 'not-restored', next: ['clean the panel'] }) })
    await screen.findByText(/Only a proved repair.*clean the panel/)
    expect(screen.queryByRole('button', { name: /^Sign/ })).toBeNull()
  })

  it('says what signing changes in the record, and which traces become the baseline', async () => {
    show('close', { account: LEAD })
    const changes = within(await screen.findByRole('region', { name: 'What signing changes in the record' }))
    expect(changes.getByText('new closure at 700 m')).toBeTruthy()
    expect(
      changes.getByText(/Other links whose fibers are restored get a new baseline, too: Beside it \(2 traces\)/),
    ).toBeTruthy()
    expect(changes.getByText(/Becomes the link’s baseline: after-ab-1550\.sor\. The old one is kept\./)).toBeTruthy()
  })
})

describe('a verdict', () => {
  const cause = (some: Partial<ProofCause>): ProofCause => ({
    cause: 'poor-joint',
    place: 'Weir closure',
    node: 'n1',
    chainage: 1000,
    excess: 0.6,
    next: 'redo the splice at Weir closure',
    minutes: 45,
    refutes: true,
    reason: 'Weir closure: 0.65 dB at 1550 nm',
    ...some,
  })

  it('says what to do next with what it gives and how long it takes, in the order of the verdict', async () => {
    const first = cause({ next: 'clean the panel', minutes: 10, excess: null })
    show('prove', {
      said: proof({
        verdict: 'not-restored',
        causes: [first, cause({})],
        next: [first.next, cause({}).next, 'shoot from the other end as well'],
      }),
    })
    const steps = within(await screen.findByRole('list', { name: 'Next' })).getAllByRole('listitem')
    expect(steps.map(({ textContent }) => textContent)).toEqual([
      'clean the panel: light again, about 10 min',
      'redo the splice at Weir closure: up to 0.60 dB, about 45 min',
      'shoot from the other end as well',
    ])
  })

  it('where light comes out is kept, and a swapped pair is said', async () => {
    const swapped = (link: string, arrivesAt: string) => logged({ kind: 'continuity', link, way: 'ab', arrivesAt })
    show('prove', { log: [swapped(link.id, 'm'), swapped('m', link.id)] })
    const section = within(await screen.findByRole('region', { name: 'Continuity' }))
    expect((await section.findAllByText(/the pair is swapped\. Next: swap/)).length).toBeGreaterThan(0)
    await userEvent.click(section.getByRole('button', { name: 'Keep it' }))
    await waitFor(() => expect(enteredIn(sent)).toHaveLength(1))
    expect(enteredIn(sent)[0]).toEqual({ kind: 'continuity', link: link.id, way: 'ab', arrivesAt: link.id })
  })

  it('draws the link, and shows what does not hold by itself when asked', async () => {
    const event = (place: string, chainage: number, lossAfter: number, holds: 'yes' | 'no') => ({
      wavelength: 1550,
      chainage,
      node: place,
      place,
      kind: 'splice' as const,
      joints: 1,
      status: 'unchanged' as const,
      lossBefore: 0.03,
      lossAfter,
      lossTwoWay: lossAfter,
      lossSigma: 0.005,
      change: lossAfter - 0.03,
      changeSigma: 0.007,
      reflectanceBefore: null,
      reflectanceAfter: null,
      limit: 0.08,
      limitSource: 'baseline',
      holds,
    })
    show('prove', {
      said: proof({
        verdict: 'not-restored',
        events: [event('Weir closure', 1000, 0.5, 'no'), event('Lock closure', 2000, 0.04, 'yes')],
        total: { '1550': { before: 2, after: 2.5, afterSigma: 0.01, allowed: 2.2 } },
      }),
    })
    await screen.findByRole('img', { name: 'The link with its losses at 1550 nm: 2 places, 1 over their limit' })
    const rows = () => screen.getAllByRole('row', { name: /closure/ }).map((row) => row.textContent)
    expect(rows()).toHaveLength(2)
    expect(screen.getByRole('img', { name: 'was 0.030 dB, is 0.500 dB, allowed 0.08 dB' })).toBeTruthy()
    await userEvent.click(screen.getByRole('switch', { name: 'Only what does not hold, 1' }))
    expect(rows()).toHaveLength(1)
    expect(rows()[0]).toContain('+0.470')
  })
})
