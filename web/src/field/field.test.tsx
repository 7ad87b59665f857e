import { configureStore } from '@reduxjs/toolkit'
import type { FetchBaseQueryError } from '@reduxjs/toolkit/query'
import type { Observation } from '@cold-thread/contract'
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it, vi } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { accepted, CALLOUT, renderPage, stubServer, TECHNICIAN } from '../test/page.tsx'
import { enter } from './enter.ts'
import { field } from './fieldState.ts'
import { fieldStore } from './fieldStore.ts'
import { withKeptAnswers } from './keptAnswers.ts'
import { putEntry, type NewEntry } from './outbox.ts'
import { OutboxPage } from './OutboxPage.tsx'
import { Sender } from './sender.ts'
import { SignOutButton } from './SignOutButton.tsx'
import { withWaitingObservations } from './waitingEntries.ts'

const note = (text: string, supersedes: string | null = null): NewEntry => ({
  id: uuidv7(),
  calloutId: CALLOUT.id,
  accountId: TECHNICIAN.id,
  by: TECHNICIAN.displayName,
  enteredAt: '2026-03-01T02:00:00.000Z',
  kind: 'observation',
  observation: { entry: { kind: 'note', text }, observedAt: '2026-03-01T02:00:00.000Z', supersedes },
})

describe('answers that are kept', () => {
  const store = configureStore({ reducer: { field: field.reducer } })
  const api = { dispatch: store.dispatch } as never
  const base = vi.fn()
  const late = vi.fn()
  const ask = (request: unknown) => withKeptAnswers(base, fieldStore, late)(request as string, api, {})
  const fails = (status: FetchBaseQueryError['status']) => base.mockResolvedValueOnce({ error: { status } })

  it.each(['FETCH_ERROR', 'PARSING_ERROR', 503] as const)(
    'stand in where the server does not answer: %s',
    async (status) => {
      base.mockResolvedValueOnce({ data: ['kept'] })
      expect(await ask('callouts')).toEqual({ data: ['kept'] })
      fails(status)
      expect(await ask('callouts')).toEqual({ data: ['kept'] })
      expect(store.getState().field).toMatchObject({ link: 'down' })
      expect(store.getState().field.shownFrom).not.toBeNull()
      base.mockResolvedValueOnce({ data: ['new'] })
      await ask('callouts')
      expect(store.getState().field).toMatchObject({ link: 'up', shownFrom: null })
    },
  )

  it('do not hide what the server itself refuses, nor stand in for a write or a verdict', async () => {
    base.mockResolvedValueOnce({ data: 'kept' })
    await ask('callouts')
    fails(403)
    expect(await ask('callouts')).toEqual({ error: { status: 403 } })
    fails('FETCH_ERROR')
    expect(await ask({ url: 'callouts', method: 'PUT' })).toEqual({ error: { status: 'FETCH_ERROR' } })
    base.mockResolvedValueOnce({ data: 'restored' })
    await ask('callouts/1/verdict')
    fails('FETCH_ERROR')
    expect(await ask('callouts/1/verdict')).toEqual({ error: { status: 'FETCH_ERROR' } })
  })

  it('are shown after a while where the server only hangs; its answer counts when it comes', async () => {
    base.mockResolvedValueOnce({ data: ['kept'] })
    await ask('callouts')
    vi.useFakeTimers({ toFake: ['setTimeout'], shouldAdvanceTime: true })
    let answer: (result: object) => void = () => undefined
    base.mockReturnValueOnce(new Promise((resolve) => (answer = resolve)))
    const shown = ask('callouts')
    await vi.advanceTimersByTimeAsync(2600)
    expect(await shown).toEqual({ data: ['kept'] })
    expect(store.getState().field.link).toBe('down')
    vi.useRealTimers()
    answer({ data: ['new'] })
    await waitFor(() => expect(late).toHaveBeenCalledWith('callouts', expect.anything()))
    expect((await fieldStore.answers.get('callouts'))!.body).toEqual(['new'])
    expect(store.getState().field.link).toBe('up')
  })

  it('are no reason to fail where the device is full', async () => {
    const full = vi.spyOn(fieldStore.answers, 'put').mockRejectedValue(new DOMException('full', 'QuotaExceededError'))
    base.mockResolvedValueOnce({ data: 'read' })
    expect(await ask('kit')).toEqual({ data: 'read' })
    full.mockRestore()
  })
})

describe('entries on their way', () => {
  it('stand in the log behind what the server has, once, and supersede what they correct', async () => {
    const first = { ...note('wrong'), receivedAt: '', superseded: false }
    const known = {
      id: first.id,
      entry: { kind: 'note', text: 'wrong' },
      superseded: false,
      supersedes: null,
    } as Observation
    await putEntry(fieldStore, first)
    await putEntry(fieldStore, note('right', first.id))
    const log = await withWaitingObservations(fieldStore, CALLOUT.id, [known])
    expect(log.map(({ id, superseded, waiting }) => [id === first.id, superseded, waiting ?? false])).toEqual([
      [true, true, false],
      [false, false, true],
    ])
  })

  it('are acknowledged when they are kept, though no answer comes', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout'], shouldAdvanceTime: true })
    const sender = new Sender(fieldStore, () => new Promise(() => undefined))
    sender.account = TECHNICIAN.id
    const entered = enter(fieldStore, sender, note('a'))
    await vi.advanceTimersByTimeAsync(3100)
    expect(await entered).toEqual({ outcome: 'later' })
    expect(await fieldStore.outbox.count()).toBe(1)
    vi.useRealTimers()
  })

  it('are not acknowledged when the device can’t keep them', async () => {
    const full = vi.spyOn(fieldStore, 'transaction').mockRejectedValue(new DOMException('full', 'QuotaExceededError'))
    await expect(enter(fieldStore, new Sender(fieldStore), note('a'))).rejects.toThrow('full')
    full.mockRestore()
  })

  it('that the server refuses show that it answers: what stood from before is read anew', async () => {
    const refusing = new Sender(fieldStore, () =>
      Promise.resolve(Response.json({ code: 'invalid-request', message: 'no such node' }, { status: 422 })),
    )
    const answers: number[] = []
    const stop = refusing.start(
      () => undefined,
      (arrived) => answers.push(arrived.size),
    )
    await putEntry(fieldStore, note('first'))
    refusing.account = TECHNICIAN.id
    await refusing.flush()
    stop()
    expect(answers).toEqual([0])
    expect((await fieldStore.outbox.toArray()).map(({ state }) => state)).toEqual(['refused'])
  })

  it('of one account are never sent by another', async () => {
    const sent: string[] = []
    const sender = new Sender(fieldStore, async (request) => {
      sent.push(request.url)
      return new Response('{}', { status: 500 })
    })
    await putEntry(fieldStore, note('a'))
    sender.account = uuidv7()
    expect(await sender.flush()).toMatchObject({ stopped: null })
    expect(sent).toEqual([])
  })
})

describe('the outbox on the screen', () => {
  it('shows a refused entry with its reason; sent again it goes, taken out it asks first', async () => {
    stubServer({ 'GET /callouts': [CALLOUT], 'PUT .*observations.*': accepted })
    for (const text of ['first', 'second']) {
      const one = note(text)
      await putEntry(fieldStore, one)
      const kept = (await fieldStore.outbox.get({ id: one.id }))!
      await fieldStore.outbox.update(kept.seq, {
        state: 'refused',
        refused: { code: 'invalid-request', message: 'no such node' },
      } as never)
    }
    renderPage(<OutboxPage />)
    await screen.findByText('Note: first')
    expect(screen.getAllByText(/: no such node/)).toHaveLength(2)
    await userEvent.click(screen.getAllByRole('button', { name: 'Send again' })[0]!)
    await waitFor(() => expect(screen.queryByText('Note: first')).toBeNull())
    await userEvent.click(screen.getByRole('button', { name: 'Take it out' }))
    expect(await fieldStore.outbox.count()).toBe(1)
    await userEvent.click(screen.getByRole('button', { name: /it is lost then/ }))
    await screen.findByText(/Nothing waits/)
    expect(await fieldStore.outbox.count()).toBe(0)
  })

  it('signing out asks first where changes of a plan or the kit would be lost', async () => {
    const sent = stubServer({ 'DELETE /session': { setUp: true, account: null } })
    await fieldStore.drafts.put({ key: 'kit', draft: {} })
    renderPage(<SignOutButton />)
    await userEvent.click(screen.getByRole('button', { name: 'Sign out' }))
    expect((await screen.findByRole('dialog')).textContent).toMatch(
      /Changes are not saved.*the kit and not saved is lost/,
    )
    await userEvent.click(screen.getByRole('button', { name: 'Stay' }))
    expect(sent).toEqual([])
    expect(await fieldStore.drafts.count()).toBe(1)
  })

  it('signing out wipes the device, but not without the server', async () => {
    let up = false
    const sent = stubServer({
      'DELETE /session': () => (up ? { status: 200, body: { setUp: true, account: null } } : { status: 503, body: {} }),
    })
    await fieldStore.answers.put({ path: 'kit', body: {}, at: '2026-03-01T02:00:00.000Z' })
    renderPage(<SignOutButton />)
    await userEvent.click(screen.getByRole('button', { name: 'Sign out' }))
    await waitFor(() => expect(sent.map(({ method }) => method)).toContain('DELETE'))
    expect(await fieldStore.answers.count()).toBe(1)
    up = true
    await userEvent.click(screen.getByRole('button', { name: 'Sign out' }))
    await waitFor(async () => expect(await fieldStore.answers.count()).toBe(0))
  })
})
