import type { EndFaceEntry, Observation } from '@cold-thread/contract'
import type { EndFaceGrade, EndFaceView, OnStep } from '@cold-thread/core/endFace'
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
import { workerStandIn } from '../../test/workerStandIn.ts'
import type { JudgedPicture } from '../../worker/endFaceJob.ts'
import { EndFaces } from './EndFaces.tsx'

/** What the worker answers: pictures themselves are looked at in core's tests and in the journeys. */
const answers = { file: vi.fn(), simulated: vi.fn() }
beforeEach(() => workerStandIn('endFace', answers))

const plant = smallPlant()
plant.links[0]!.ends = { from: { connector: 'SC', polish: 'UPC' }, to: { connector: 'SC', polish: 'APC' } }

const view = (some: Partial<EndFaceGrade> = {}): JudgedPicture => ({
  view: {
    picture: { width: 2, height: 2, data: new Uint8Array(4) },
    coarsened: 1,
    shown: {},
    fiber: {
      outline: { x: 1, y: 1, radius: 1, a: 0, b: 0 },
      scale: 0.4,
      scaleSigma: 0.002,
      blur: { shape: 'gaussian' as const, width: 0.9 },
    },
    features: [
      { kind: 'defect', size: 7.2, inner: 30, outer: 37.2, x: 33, y: 0, ends: null, contrast: -0.4, cut: false },
    ],
    grade: {
      verdict: 'fail',
      reasons: ['zone B (cladding): a defect of 7.2 µm, at most 5 µm'],
      zones: [],
      marks: ['over'],
      ...some,
    },
  } satisfies EndFaceView,
})
const look = (some: Partial<EndFaceEntry> = {}): Observation =>
  logged({
    kind: 'end-face',
    node: 'n0',
    side: 'plug',
    connector: 'single-mode PC',
    verdict: 'fail',
    reasons: [],
    edition: 'an edition',
    scale: 0.4,
    blur: 0.9,
    features: [{ kind: 'defect', size: 7, x: 33, y: 0, mark: 'over' }],
    picture: null,
    overruled: null,
    simulated: true,
    ...some,
  })
let sent: Sent[] = []
function show(log: Observation[], { account = TECHNICIAN, simulated = true } = {}): void {
  sent = stubServer({
    'GET /callouts/[^/]+/observations': log,
    'GET /callouts/[^/]+/attachments': [],
    'PUT /callouts/[^/]+/observations(/[^/]+)?': accepted,
  })
  const callout = { ...CALLOUT, simulated }
  renderPage(
    <EndFaces
      account={account}
      callout={callout}
      plant={plant}
      link={plant.links[0]!}
      working={account.role !== 'viewer'}
    />,
  )
}
const section = async () => within(await screen.findByRole('region', { name: 'End faces' }))
const entered = () =>
  waitFor(() => {
    const found = enteredIn(sent).find((entry) => entry.kind === 'end-face')
    expect(found).toBeTruthy()
    return found as EndFaceEntry
  })

beforeEach(async () => {
  await fieldStore.outbox.clear()
  answers.file.mockReset()
  answers.simulated.mockReset()
  // There is no drawing here.
  HTMLCanvasElement.prototype.getContext = () => null
  HTMLCanvasElement.prototype.toBlob = (done) => done(null)
})

describe('an end face', () => {
  it('says what it is doing while a picture is looked at', async () => {
    let done: (picture: JudgedPicture) => void = () => {}
    answers.simulated.mockImplementation((_look: unknown, _connector: unknown, onStep: OnStep) => {
      onStep('Looking for scratches')
      return new Promise<JudgedPicture>((resolve) => (done = resolve))
    })
    show([])
    const page = await section()
    await userEvent.click(page.getByRole('button', { name: 'Look: simulated microscope' }))
    expect(await page.findByText('Looking for scratches …')).toBeTruthy()
    expect(page.getByRole('progressbar', { name: 'Looking at the picture' }).getAttribute('aria-valuenow')).toBe('62.5')
    done(view())
    await page.findByText('zone B (cladding): a defect of 7.2 µm, at most 5 µm')
    expect(page.queryByRole('progressbar')).toBeNull()
  })

  it('is looked at, graded with its reason, and kept', async () => {
    answers.simulated.mockResolvedValue(view())
    show([])
    const page = await section()
    expect(page.getByText(/IEC 61300-3-35:2009, from memory, superseded by/)).toBeTruthy()
    await userEvent.click(page.getByRole('button', { name: 'Look: simulated microscope' }))
    expect(await page.findByText('zone B (cladding): a defect of 7.2 µm, at most 5 µm')).toBeTruthy()
    expect(page.getByText(/0.40 µm a pixel by the cladding’s 125 µm/)).toBeTruthy()
    await userEvent.click(page.getByRole('button', { name: 'Keep this look' }))
    expect(await entered()).toMatchObject({
      node: 'n0',
      side: 'plug',
      connector: 'single-mode PC',
      verdict: 'fail',
      overruled: null,
      simulated: true,
      features: [{ kind: 'defect', size: 7.2, mark: 'over' }],
    })
  })

  it('a person’s word against the table needs its reason', async () => {
    answers.file.mockResolvedValue(view())
    show([], { simulated: false })
    const page = await section()
    expect(page.queryByRole('button', { name: /simulated/ })).toBeNull()
    await userEvent.upload(
      page.getByLabelText('Picture file of the end face'),
      new File(['x'], 'end.png', { type: 'image/png' }),
    )
    await userEvent.click(await page.findByRole('button', { name: 'I say pass' }))
    const keep = page.getByRole('button', { name: 'Keep this look' }) as HTMLButtonElement
    expect(keep.disabled).toBe(true)
    await userEvent.type(page.getByLabelText('Why, against the table'), 'a reflection of the lamp')
    await userEvent.click(keep)
    expect(await entered()).toMatchObject({
      verdict: 'fail',
      overruled: { verdict: 'pass', reason: 'a reflection of the lamp' },
      simulated: false,
    })
  })

  it('a picture that can’t be judged says why, and keeps nothing', async () => {
    answers.file.mockResolvedValue({ problem: 'No fiber is found in the picture: its edge is not seen all round.' })
    show([])
    const page = await section()
    await userEvent.upload(
      page.getByLabelText('Picture file of the end face'),
      new File(['x'], 'cat.png', { type: 'image/png' }),
    )
    expect((await page.findByRole('alert')).textContent).toMatch(/No fiber is found/)
    expect(page.queryByRole('button', { name: 'Keep this look' })).toBeNull()
    answers.file.mockRejectedValue(new Error('the worker died'))
    await userEvent.upload(
      page.getByLabelText('Picture file of the end face'),
      new File(['y'], 'two.png', { type: 'image/png' }),
    )
    await waitFor(() => expect(page.getByRole('alert').textContent).toMatch(/can’t be looked at on this device/))
  })

  it('what stays after two cleanings is damage; looks of the other side do not count', async () => {
    show([look(), look(), look({ side: 'port' }), look()])
    const page = await section()
    expect((await page.findByRole('status')).textContent).toMatch(
      /stop cleaning: .*damage, not dirt. Now re-polish or replace the connector. Cleaned 2 times/,
    )
    expect(page.getAllByText(/^Look \d/)).toHaveLength(3)
  })

  it('the class comes from the link’s record; one without a table is not graded', async () => {
    answers.simulated.mockResolvedValue(view({ verdict: 'no rule', reasons: ['no table is here'], marks: [] }))
    show([])
    const page = await section()
    await userEvent.click(page.getByLabelText('Connector at'))
    await userEvent.click(await screen.findByRole('option', { name: 'East panel' }))
    expect(page.getByText(/No table is here for this class/)).toBeTruthy()
    await userEvent.click(page.getByRole('button', { name: 'Look: simulated microscope' }))
    await userEvent.click(await page.findByRole('button', { name: 'Keep this look' }))
    expect(await entered()).toMatchObject({ node: 'n2', connector: 'APC', verdict: 'no rule', edition: null })
  })

  it('readers see the looks and take none', async () => {
    show([look({ overruled: { verdict: 'pass', reason: 'lamp' } })], { account: VIEWER })
    const page = await section()
    expect(await page.findByText(/against “fail”: lamp/)).toBeTruthy()
    expect(page.queryByRole('button')).toBeNull()
  })
})
