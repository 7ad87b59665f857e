import type { Attachment } from '@cold-thread/contract'
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { fieldStore } from '../../field/fieldStore.ts'
import { accepted, CALLOUT, renderPage, stubServer, TECHNICIAN, VIEWER } from '../../test/page.tsx'
import { Attachments } from './Attachments.tsx'

const LIST = `GET /callouts/${CALLOUT.id}/attachments`
const photo = (name: string, bytes: number[] = [1, 2, 3]) =>
  new File([new Uint8Array(bytes)], name, { type: 'image/png' })

beforeEach(() => {
  vi.stubGlobal('URL', Object.assign(URL, { createObjectURL: () => 'blob:shown', revokeObjectURL: () => undefined }))
})

describe('photos and files', () => {
  it('are kept on this device and shown while no network is there', async () => {
    stubServer({ [LIST]: [], 'PUT .*': () => ({ status: 503, body: { code: 'database-down', message: 'down' } }) })
    renderPage(<Attachments account={TECHNICIAN} callout={CALLOUT} />)
    await userEvent.type(await screen.findByLabelText('What it shows'), 'post beside the cable')
    await userEvent.upload(screen.getByLabelText('Photo'), photo('a.png'))
    expect(await screen.findByRole('img', { name: 'post beside the cable' })).toBeTruthy()
    expect((screen.getByLabelText('What it shows') as HTMLInputElement).value).toBe('')
    const [waiting] = await fieldStore.outbox.toArray()
    // SHA-256 of the bytes 1, 2, 3 by the operating system's sha256sum.
    expect(waiting).toMatchObject({
      kind: 'attachment',
      facts: {
        fileName: 'a.png',
        caption: 'post beside the cable',
        sha256: '039058c6f2c0cb492c533b0a4d14ef77cc0f78abccced5287d84a1a2011cfb81',
      },
    })
  })

  it('go with their hash, several at once, and are gone from the outbox', async () => {
    const sent = stubServer({ [LIST]: [], 'PUT .*': accepted })
    renderPage(<Attachments account={TECHNICIAN} callout={CALLOUT} />)
    await userEvent.upload(await screen.findByLabelText('Files'), [photo('a.png'), photo('b.png', [9])])
    await waitFor(() => expect(sent.filter(({ method }) => method === 'PUT')).toHaveLength(2))
    await waitFor(async () => expect(await fieldStore.outbox.count()).toBe(0))
  })

  it('over the limit are refused with their size, and what was typed stays', async () => {
    stubServer({ [LIST]: [] })
    renderPage(<Attachments account={TECHNICIAN} callout={CALLOUT} />)
    await userEvent.type(await screen.findByLabelText('What it shows'), 'scan')
    const large = new File([new Uint8Array(21_000_000)], 'large.pdf', { type: 'application/pdf' })
    await userEvent.upload(screen.getByLabelText('Files'), large)
    expect((await screen.findByRole('alert')).textContent).toMatch(/large\.pdf has 21 MB; 20 MB are the most/)
    expect((screen.getByLabelText('What it shows') as HTMLInputElement).value).toBe('scan')
    expect(await fieldStore.outbox.count()).toBe(0)
  })

  const kept: Attachment = {
    id: CALLOUT.id,
    calloutId: CALLOUT.id,
    fileName: 'report.pdf',
    caption: '',
    takenAt: '2026-03-01T02:00:00.000Z',
    sha256: 'a'.repeat(64),
    mediaType: 'application/octet-stream',
    bytes: 3,
    addedAt: '2026-03-01T02:00:00.000Z',
    addedBy: 'Duty lead',
    withdrawn: false,
  }

  it('are taken out only when that is confirmed', async () => {
    const sent = stubServer({ [LIST]: [kept], 'DELETE .*': { ...kept, withdrawn: true } })
    renderPage(<Attachments account={TECHNICIAN} callout={CALLOUT} />)
    await userEvent.click(await screen.findByRole('button', { name: 'Take out report.pdf' }))
    await userEvent.click(screen.getByRole('button', { name: 'Keep it' }))
    expect(sent.some(({ method }) => method === 'DELETE')).toBe(false)
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    await userEvent.click(screen.getByRole('button', { name: 'Take out report.pdf' }))
    await userEvent.click(screen.getByRole('button', { name: 'Take it out' }))
    await waitFor(() => expect(sent.some(({ path }) => path === `/attachments/${kept.id}`)).toBe(true))
  })

  it('can be read and not changed by who only reads', async () => {
    stubServer({ [LIST]: [kept] })
    renderPage(<Attachments account={VIEWER} callout={CALLOUT} />)
    expect(await screen.findByText(/Duty lead/)).toBeTruthy()
    expect(screen.queryByRole('button')).toBeNull()
  })
})
