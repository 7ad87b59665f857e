import type { Corrections, NewCorrection, RecordFindings } from '@cold-thread/contract'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it } from 'vitest'
import { renderPage, smallPlant, stubServer, type Sent } from '../../test/page.tsx'
import { CableRecords } from './CableRecords.tsx'

const plant = smallPlant()
// A thousandth of 13.8 is not 0.0138 in binary: what nobody touched must not be told as a change.
plant.cables[0]!.outerDiameter = 0.0138
const FINDING: RecordFindings[number] = {
  calloutId: '01a0c0de-0000-7000-8000-000000000001',
  title: 'Weir link down',
  at: '2026-03-01T03:00:00.000Z',
  by: 'Night technician',
  cable: 'a',
  words: ['fibers: 9, on record 12'],
  changes: { fiberCount: 9, tubeSize: 9 },
  reason: 'three were never pulled in',
}

function show(findings: RecordFindings, keeper = true, corrections: Corrections = []): Sent[] {
  const sent = stubServer({
    'GET /plant/findings': findings,
    'GET /plant/corrections': corrections,
    'POST /plant/corrections': { bundle: plant, version: 8 },
  })
  renderPage(<CableRecords plant={plant} version={7} keeper={keeper} />)
  return sent
}
const corrected = (sent: Sent[]) =>
  waitFor(() => {
    const post = sent.find(({ method }) => method === 'POST')
    expect(post).toBeTruthy()
    return post!.body as NewCorrection
  })

describe('cables by the record', () => {
  it('what was found otherwise is put right as it was counted, with the reason that was given on site', async () => {
    const sent = show([FINDING])
    expect(await screen.findByText(/fibers: 9, on record 12. three were never pulled in/)).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: 'Put the record right' }))
    const dialog = within(await screen.findByRole('dialog'))
    expect((dialog.getByLabelText('Fibers') as HTMLInputElement).value).toBe('9')
    expect(dialog.getByText(/Will say: fibers: 9, on record 12/)).toBeTruthy()
    expect(dialog.queryByText(/Numbers then mean other fibers/)).toBeNull()
    await userEvent.click(dialog.getByRole('button', { name: 'Correct it' }))
    // What nobody touched is not sent: it stays as it is on record, also where it is not there.
    expect(await corrected(sent)).toEqual({
      cable: 'a',
      changes: { fiberCount: 9, tubeSize: 9 },
      reason: 'three were never pulled in',
      version: 7,
    })
  })

  it('another size of tube gives fibers other colours: the first that moves is named', async () => {
    show([])
    await userEvent.click(await screen.findByRole('button', { name: 'Correct the record of a' }))
    const dialog = within(await screen.findByRole('dialog'))
    const size = dialog.getByLabelText('Fibers to a tube, module or bundle')
    await userEvent.clear(size)
    await userEvent.type(size, '6')
    // Fiber 7 of twelve to a tube is the red one (TIA-598-D); of six it is the first of the second tube.
    expect(
      dialog.getByText(/fiber 7 is tube 1 blue, .*red.* on record, and would be tube 2 orange, .*blue/),
    ).toBeTruthy()
  })

  it('the record stands with a reason of the keeper’s own', async () => {
    const sent = show([FINDING])
    await userEvent.click(await screen.findByRole('button', { name: 'The record stands' }))
    const dialog = within(await screen.findByRole('dialog'))
    await userEvent.click(dialog.getByRole('button', { name: 'Let it stand' }))
    expect((await dialog.findByRole('alert')).textContent).toContain('say why')
    await userEvent.type(dialog.getByLabelText('Reason'), 'counted by two')
    await userEvent.click(dialog.getByRole('button', { name: 'Let it stand' }))
    expect(await corrected(sent)).toMatchObject({ changes: {}, reason: 'counted by two' })
  })

  it.each([
    ['Fibers', '4.5', 'fibers: a whole number'],
    ['Fibers to a tube, module or bundle', '0', 'to a tube: a whole number'],
    ['Outer diameter, mm', 'thick', 'outer diameter: from 1 to 200 mm'],
  ])('%s of “%s” is refused where it stands', async (label, text, fault) => {
    const sent = show([])
    await userEvent.click(await screen.findByRole('button', { name: 'Correct the record of a' }))
    const dialog = within(await screen.findByRole('dialog'))
    await userEvent.clear(dialog.getByLabelText(label))
    await userEvent.type(dialog.getByLabelText(label), text)
    await userEvent.type(dialog.getByLabelText('Reason'), 'seen on site')
    await userEvent.click(dialog.getByRole('button', { name: 'Correct it' }))
    expect((await dialog.findByRole('alert')).textContent).toContain(fault)
    expect(sent.some(({ method }) => method === 'POST')).toBe(false)
  })

  it('who does not keep records sees what was found and corrected, and changes nothing', async () => {
    show([FINDING], false, [
      { id: FINDING.calloutId, cable: 'b', words: [], reason: 'counted by two', at: FINDING.at, by: 'Records' },
    ])
    expect(await screen.findByText(/found otherwise/)).toBeTruthy()
    expect(await screen.findByText(/looked at, the record stands. counted by two/)).toBeTruthy()
    expect(screen.queryByRole('button')).toBeNull()
  })
})
