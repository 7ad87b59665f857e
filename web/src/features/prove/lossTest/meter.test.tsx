import type { LogEntry, Observation } from '@cold-thread/contract'
import { EMPTY_KIT, type Kit } from '@cold-thread/core/kit'
import { act, render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { fieldStore } from '../../../field/fieldStore.ts'
import {
  accepted,
  CALLOUT,
  enteredIn,
  logged,
  renderPage,
  smallPlant,
  stubServer,
  TECHNICIAN,
  type Sent,
} from '../../../test/page.tsx'
import type { PowerMeter } from '../../../devices/powerMeter.ts'
import { LossTest } from './LossTest.tsx'
import { MeterStream } from './MeterStream.tsx'

/** A meter whose readings the test sends. */
class HeldMeter implements PowerMeter {
  readonly rate = 4
  send: (level: number) => void = () => undefined
  stopped = false
  listen(onReading: (level: number) => void): () => void {
    this.send = onReading
    return () => {
      this.stopped = true
    }
  }
}

describe('a meter that is read', () => {
  const show = () => {
    const meter = new HeldMeter()
    const onSteady = vi.fn()
    render(<MeterStream meter={meter} what="Link 1" onSteady={onSteady} onStop={() => undefined} />)
    const send = (...levels: number[]) => act(() => levels.forEach((level) => meter.send(level)))
    return { meter, onSteady, send }
  }

  it('is taken once it has come to rest, and no sooner', () => {
    const { onSteady, send } = show()
    send(-14.4, -14.1, -14.3, -14.2, -14.22)
    expect(screen.getByText(/it swings by 0\.30 dB: lay the cords out loose/)).toBeTruthy()
    expect(onSteady).not.toHaveBeenCalled()
    send(-14.21, -14.22, -14.21, -14.21)
    expect(onSteady).toHaveBeenCalledExactlyOnceWith(-14.21)
    send(-14.2, -14.2)
    expect(onSteady).toHaveBeenCalledTimes(1)
  })

  it('what can’t be a level is said, and nothing of it is taken', () => {
    const { onSteady, send } = show()
    send(4096, 4096, 4096, 4096, 4096, Number.NaN)
    expect(screen.getByText(/sends what can’t be a reading: nothing is taken/)).toBeTruthy()
    expect(onSteady).not.toHaveBeenCalled()
  })

  it('a silent one is said to be silent', () => {
    vi.useFakeTimers()
    try {
      show()
      act(() => vi.advanceTimersByTime(4100))
      expect(screen.getByText(/The meter is silent/)).toBeTruthy()
    } finally {
      vi.useRealTimers()
    }
  })
})

describe('on the loss test', () => {
  const plant = smallPlant()
  const link = { ...plant.links[0]!, ends: panel('LC', 'UPC') }
  let sent: Sent[] = []
  beforeEach(() => fieldStore.outbox.clear())
  const show = (log: Observation[], kit: Kit = EMPTY_KIT) => {
    sent = stubServer({
      'GET /callouts/[^/]+/observations': log,
      'GET /kit': { kit, version: 1 },
      'PUT /callouts/[^/]+/observations(/[^/]+)?': accepted,
    })
    renderPage(<LossTest account={TECHNICIAN} callout={CALLOUT} plant={{ ...plant, links: [link] }} link={link} />)
  }
  const REFERENCE = '01a0c0de-0000-7000-8000-0000000000cc'
  const reference = logged(
    {
      kind: 'loss-reference',
      method: 'one-cord',
      wavelength: 1310,
      level: -10,
      source: null,
      meter: null,
      cords: '',
      referenceGrade: true,
      encircledFlux: null,
    } as LogEntry,
    REFERENCE,
  )

  it('draws the cords that the link’s ends want, and says what the kit lacks', async () => {
    show([], { ...EMPTY_KIT, items: [cord('2 m SC/UPC to LC/UPC', 1)] })
    expect(await screen.findByRole('img', { name: 'cord SC/UPC to LC/UPC' })).toBeTruthy()
    expect(screen.getByText('only 1 in the kit')).toBeTruthy()
    expect(screen.getByText(/meter cap 2\.5 mm; single-mode, as the link/)).toBeTruthy()
  })

  it('cords of another core are none of the link’s', async () => {
    const multimode = { ...cord('2 m OM4', 2), fits: ['SC/UPC', 'LC/UPC', 'OM4'] }
    show([], { ...EMPTY_KIT, items: [multimode] })
    expect(await screen.findByText('none in the kit')).toBeTruthy()
  })

  it('a cord of the kit is chosen by name and shows how often it was mated', async () => {
    show([], { ...EMPTY_KIT, items: [cord('2 m SC/UPC to LC/UPC', 3)] })
    await userEvent.click(await screen.findByLabelText('Test cords and adapters, by their names'))
    await userEvent.click(await screen.findByRole('option', { name: '2 m SC/UPC to LC/UPC' }))
    expect(screen.getByText('2 m SC/UPC to LC/UPC: 140 of 300 matings')).toBeTruthy()
  })

  it('a multimode cord on a single-mode link is refused before the reference is set', async () => {
    show([], { ...EMPTY_KIT, items: [{ ...cord('2 m OM4', 2), fits: ['LC/UPC', 'OM4'] }] })
    await userEvent.click(await screen.findByLabelText('Test cords and adapters, by their names'))
    await userEvent.click(await screen.findByRole('option', { name: '2 m OM4' }))
    expect(screen.getByText(/2 m OM4 is multimode, core 50 µm, the link single-mode/)).toBeTruthy()
  })

  it('a cord read both ways round names its bad end before it is kept', async () => {
    show([reference])
    await userEvent.click(await screen.findByText('Which end is bad?'))
    await userEvent.type(screen.getByLabelText('Cable or cord'), 'patch 7')
    await userEvent.type(screen.getByLabelText('First end at the launch cord'), '-11,2')
    await userEvent.type(screen.getByLabelText('Turned round'), '93.3 µW')
    expect(screen.getByText('1.20 dB, turned 0.30 dB: the first end is the worse one')).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: 'Keep both readings' }))
    await waitFor(() => expect(enteredIn(sent)).toHaveLength(1))
    expect(enteredIn(sent)[0]).toMatchObject({
      kind: 'turned-reading',
      referenceId: REFERENCE,
      what: 'patch 7',
      first: -11.2,
    })
  })
})

function panel(connector: string, polish: string) {
  const end = { connector, polish }
  return { from: end, to: end } as NonNullable<ReturnType<typeof smallPlant>['links'][number]['ends']>
}

function cord(name: string, count: number) {
  return {
    id: 'c1',
    kind: 'test cord',
    name,
    count,
    place: 'van',
    fits: ['LC/UPC', 'SC/UPC'],
    wear: { used: 140, due: 300, unit: 'matings' },
  } as unknown as Kit['items'][number]
}
