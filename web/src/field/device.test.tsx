import { CONTRACT_HEADER, CONTRACT_VERSION } from '@cold-thread/contract'
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import Dexie from 'dexie'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { CALLOUT, renderPage, stubServer, TECHNICIAN } from '../test/page.tsx'
import { answered, storeSeen, updateWaits, versionDiffers } from './fieldState.ts'
import { fieldStore } from './fieldStore.ts'
import { OutboxLine } from './OutboxLine.tsx'
import { deliver, putEntry } from './outbox.ts'
import { fullness, isFull } from './room.ts'
import { RoomSection } from './RoomSection.tsx'
import { isClockWrong, serverSays } from './serverSays.ts'
import { TakeAlong } from './TakeAlong.tsx'
import { toTakeAlong } from './useMineAlong.ts'

const NOW = Date.parse('2026-03-01T02:00:00Z')
const MINUTE = 60_000

afterEach(() => vi.unstubAllGlobals())

describe('what an answer says besides its body', () => {
  it('is how far the device’s clock is ahead (Date, RFC 9110)', () => {
    const at = (date: string) => serverSays(new Headers({ date }), NOW).clockAhead
    expect(at('Sun, 01 Mar 2026 01:46:00 GMT')).toBe(14 * MINUTE)
    expect(at('Sun, 01 Mar 2026 02:10:00 GMT')).toBe(-10 * MINUTE)
    expect(serverSays(new Headers(), NOW).clockAhead).toBeNull()
    expect([90_000, -90_000, 180_000, -180_000].map(isClockWrong)).toEqual([false, false, true, true])
  })

  it('is whether the server speaks another version', () => {
    const of = (version: number) => serverSays(new Headers({ [CONTRACT_HEADER]: String(version) }), NOW).otherVersion
    expect([CONTRACT_VERSION - 1, CONTRACT_VERSION, CONTRACT_VERSION + 1].map(of)).toEqual([true, false, true])
    expect(serverSays(new Headers(), NOW).otherVersion).toBe(false)
  })
})

const note = {
  id: uuidv7(),
  calloutId: CALLOUT.id,
  accountId: TECHNICIAN.id,
  by: TECHNICIAN.displayName,
  enteredAt: '2026-03-01T02:00:00.000Z',
  kind: 'observation' as const,
  observation: {
    entry: { kind: 'note' as const, text: 'kept' },
    observedAt: '2026-03-01T02:00:00.000Z',
    supersedes: null,
  },
}

describe('an entry that the server refuses', () => {
  const refuse = (version: number) => async () =>
    new Response(JSON.stringify({ code: 'invalid-request', message: 'a field that nobody knows' }), {
      status: 400,
      headers: { 'content-type': 'application/json', [CONTRACT_HEADER]: String(version) },
    })
  const entry = { ...note, seq: 1, attempts: 0, state: 'waits' as const, refused: null }

  it('is refused for good by a server of the same version, and waits for a newer app else', async () => {
    expect(await deliver(entry, undefined, refuse(CONTRACT_VERSION))).toMatchObject({ outcome: 'refused' })
    expect(await deliver(entry, undefined, refuse(CONTRACT_VERSION + 1))).toEqual({ outcome: 'other-version' })
  })
})

describe('the quiet line', () => {
  it('is empty while all is well', () => {
    renderPage(<OutboxLine />)
    expect(screen.getByRole('status').textContent).toBe('')
  })

  it.each([
    [answered({ otherVersion: false, clockAhead: 14 * MINUTE }), /clock 14 min fast: the server’s time is kept/],
    [answered({ otherVersion: false, clockAhead: -14 * MINUTE }), /clock 14 min slow/],
    [storeSeen(0.93), /this device’s store is 93 % full/],
  ])('tells what concerns this device', (action, words) => {
    renderPage(<OutboxLine />, '/', [action])
    expect(screen.getByRole('status').textContent).toMatch(words)
  })

  it.each([
    [updateWaits(), /A newer version of the app is here/],
    [versionDiffers(), /another version than this app\. What is entered is kept here/],
  ])('offers a newer version, and forces none', (action, words) => {
    renderPage(<OutboxLine />, '/', [action])
    expect(screen.getByText(words)).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Load it now' })).toBeTruthy()
  })
})

describe('what comes along by itself', () => {
  it('is what is open and mine and not on this device, or not lately', () => {
    const mine = { assignedTo: TECHNICIAN.displayName, state: 'open' as const }
    const callouts = [
      { ...mine, id: 'new' },
      { ...mine, id: 'fresh' },
      { ...mine, id: 'old' },
      { ...mine, id: 'closed', state: 'closed' as const },
      { ...mine, id: 'theirs', assignedTo: 'Duty lead' },
      { ...mine, id: 'nobody’s', assignedTo: null },
    ]
    const taken = [
      { calloutId: 'fresh', at: '2026-03-01T01:50:00Z', bytes: 1 },
      { calloutId: 'old', at: '2026-03-01T01:00:00Z', bytes: 1 },
    ]
    expect(toTakeAlong(callouts, taken, TECHNICIAN.displayName, NOW)).toEqual(['new', 'old'])
  })
})

describe('taking a callout along', () => {
  const everything = {
    'GET /callouts/[^/]+/(observations|plans|traces|attachments|loss-baselines|source-checks)': [],
    'GET /callouts/[^/]+/(survey|sign-off)': null,
    'GET /callouts/[^/]+': CALLOUT,
    'GET /callouts': [CALLOUT],
    'GET /(session|plant|kit|open-book)': {},
    'GET /step-times': [],
  }
  const take = async () => {
    stubServer(everything)
    renderPage(<TakeAlong callout={CALLOUT} />, '/', [answered({ otherVersion: false, clockAhead: null })])
    await userEvent.click(await screen.findByRole('button', { name: /Take along for work without network/ }))
  }

  it('keeps all that it is worked with', async () => {
    await take()
    expect(await screen.findByText(/On this device, 0\.0 MB/)).toBeTruthy()
    expect((await fieldStore.answers.toCollection().primaryKeys()).sort()).toContain(`callouts/${CALLOUT.id}/plans`)
  })

  it('does not count where the device could not keep a part of it', async () => {
    const put = fieldStore.answers.put.bind(fieldStore.answers)
    const full = vi
      .spyOn(fieldStore.answers, 'put')
      .mockImplementation((answer) =>
        answer.path === 'plant' ? Dexie.Promise.reject(new DOMException('no room', 'QuotaExceededError')) : put(answer),
      )
    await take()
    expect((await screen.findByRole('alert')).textContent).toMatch(/kept 14 parts of 15: its store is full/)
    expect(await fieldStore.taken.count()).toBe(0)
    full.mockRestore()
  })
})

describe('room on this device', () => {
  it('is told in parts of what there is', () => {
    expect(fullness({ used: 30, most: 120 })).toBe(0.25)
    expect(fullness({ used: null, most: 120 })).toBeNull()
    expect(fullness({ used: 3, most: 0 })).toBeNull()
  })

  it('is told to be out, as the browser says it or as the store’s package wraps it', () => {
    const full = new DOMException('no room', 'QuotaExceededError')
    const wrapped = new Dexie.AbortError('transaction was aborted', full)
    expect([full, wrapped, new Error('a', { cause: full })].map(isFull)).toEqual([true, true, true])
    expect([new Dexie.AbortError('aborted'), new Error('other'), null].map(isFull)).toEqual([false, false, false])
  })

  it('is made by dropping what was taken along, never what was entered', async () => {
    stubServer({})
    vi.stubGlobal('navigator', {
      ...navigator,
      storage: {
        estimate: async () => ({ usage: 90e6, quota: 100e6 }),
        persisted: async () => false,
      },
    })
    await fieldStore.taken.put({ calloutId: CALLOUT.id, at: note.enteredAt, bytes: 12e6 })
    await fieldStore.files.put({ sha256: 'a', bytes: new ArrayBuffer(8) })
    await putEntry(fieldStore, note)
    renderPage(<RoomSection />)
    expect(await screen.findByText(/1 callout is taken along, 12 MB/)).toBeTruthy()
    expect(screen.getByText('90 MB of 100 MB in use')).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: 'Drop what was taken along' }))
    expect(await fieldStore.files.count()).toBe(1)
    await userEvent.click(screen.getByRole('button', { name: /can’t be read then/ }))
    await waitFor(async () => expect(await fieldStore.files.count()).toBe(0))
    expect(await fieldStore.outbox.count()).toBe(1)
    expect(await screen.findByText(/No callout is taken along/)).toBeTruthy()
  })
})
