import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it, vi } from 'vitest'
import { smallPlant } from '../../../test/page.tsx'
import { guessColumns, readLossTable, textsOf } from './lossCsv.ts'
import { LossFile } from './LossFile.tsx'

const [link] = smallPlant().links
const linkOf = (id: string, name: string, fiber: number) => ({
  ...link!,
  id,
  name,
  path: link!.path.map((step) => ('fiber' in step ? { ...step, fiber } : step)),
})
const links = [linkOf('pumps', 'Pumps', 5), linkOf('radio', 'Radio, towpath', 6), linkOf('gate', 'Gate', 7)]
const read = (text: string, columns?: { link: number; figure: number }) => {
  const table = readLossTable(text)!
  return textsOf(table, columns ?? guessColumns(table, links), links)
}

describe('a table of readings', () => {
  it('is read whatever its order of columns, separators and decimals', () => {
    const texts = { pumps: '-18,4', radio: '-19.1 dBm', gate: '12,5 µW' }
    expect(read('time;level;link\n02:10;-18,4;Pumps\n02:12;-19.1 dBm;radio\n02:13;12,5 µW;gate')).toEqual({ texts })
    expect(read('Pumps\t-18,4\n"Radio, towpath"\t-19.1 dBm\nGate\t12,5 µW')).toEqual({ texts })
  })

  it('finds links by the numbers of their fibers', () => {
    expect(read('Fiber,dBm\nF005,-18\n6,-19')).toEqual({ texts: { pumps: '-18', radio: '-19' } })
  })

  it.each([
    ['link,dBm\nPumps,-18\nDam,-19', 'line 3: “Dam” is no link that is tested here'],
    ['link,dBm\nPumps,-18\nGate,-19\npumps,-18.1', 'line 4: Pumps is there twice'],
    ['link,dBm\nPumps,-18\nGate,bright', 'line 3: “bright” is no figure of a meter'],
    ['Pumps,-18\nGate', 'line 2: “” is no figure of a meter'],
  ])('%j is refused as a whole, with its line', (text, problem) => {
    expect(read(text, { link: 0, figure: 1 })).toEqual({ problem })
  })

  it('of one column, or of none, is no table', () => {
    expect(readLossTable('-18\n-19')).toBeNull()
    expect(readLossTable('')).toBeNull()
  })

  it('its columns can be set by hand; only what can be read is put into the fields', async () => {
    const onTexts = vi.fn()
    render(<LossFile links={links} onTexts={onTexts} />)
    const file = new File(['link,before,after\nPumps,-17,-18\nGate,-17.5,-18.5'], 'night.csv', { type: 'text/csv' })
    await userEvent.upload(screen.getByLabelText('CSV file of readings'), file)
    await userEvent.click(await screen.findByRole('combobox', { name: 'Column of the reading' }))
    await userEvent.click(screen.getByRole('option', { name: 'link' }))
    expect(screen.getByRole('alert').textContent).toMatch(/night\.csv, line 2: “Pumps” is no figure/)
    expect((screen.getByRole('button', { name: /^Put/ }) as HTMLButtonElement).disabled).toBe(true)
    await userEvent.click(screen.getByRole('combobox', { name: 'Column of the reading' }))
    await userEvent.click(screen.getByRole('option', { name: 'after' }))
    await userEvent.click(screen.getByRole('button', { name: 'Put 2 readings into their fields' }))
    expect(onTexts).toHaveBeenCalledExactlyOnceWith({ pumps: '-18', gate: '-18.5' })
  })
})
