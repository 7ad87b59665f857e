import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it, vi } from 'vitest'
import { smallPlant } from '../../../test/page.tsx'
import { guessColumns, pastedTexts, readLossTable, textsOf, type LossColumns } from './lossCsv.ts'
import { LossFile } from './LossFile.tsx'

const [link] = smallPlant().links
const linkOf = (id: string, name: string, fiber: number) => ({
  ...link!,
  id,
  name,
  path: link!.path.map((step) => ('fiber' in step ? { ...step, fiber } : step)),
})
const links = [linkOf('pumps', 'Pumps', 5), linkOf('radio', 'Radio, towpath', 6), linkOf('gate', 'Gate', 7)]
const read = (text: string, columns?: LossColumns) => {
  const table = readLossTable(text)!
  return textsOf(table, columns ?? guessColumns(table, links), links, 1310)
}

describe('a table of readings', () => {
  it('is read whatever its order of columns, separators and decimals', () => {
    const texts = { pumps: '-18,4', radio: '-19.1 dBm', gate: '12,5 µW' }
    expect(read('time;level;link\n02:10;-18,4;Pumps\n02:12;-19.1 dBm;radio\n02:13;12,5 µW;gate')).toEqual({
      texts,
      others: [],
    })
    expect(read('Pumps\t-18,4\n"Radio, towpath"\t-19.1 dBm\nGate\t12,5 µW')).toEqual({ texts, others: [] })
  })

  it('finds links by the numbers of their fibers', () => {
    expect(read('Fiber,dBm\nF005,-18\n6,-19')).toMatchObject({ texts: { pumps: '-18 dBm', radio: '-19 dBm' } })
  })

  it('a column’s name gives its unit: a loss in dB is no level', () => {
    const one = (text: string) => (read(text) as { texts: object }).texts
    expect(one('link;loss (dB)\nPumps;0,42')).toEqual({ pumps: '0,42 dB' })
    expect(one('link,power_uW\nPumps,12.5')).toEqual({ pumps: '12.5 uW' })
    expect(one('link,level,loss_dB\nPumps,7,0.42')).toEqual({ pumps: '0.42 dB' })
  })

  it('rows of another wavelength than the reference’s are left out and counted, with or without a header', () => {
    const rows = 'pumps,1310,-18\npumps,1550,-17.5\ngate,1310 nm,-19\ngate,1550,-18.2'
    const found = { texts: { pumps: '-18', gate: '-19' }, others: [{ wavelength: 1550, rows: 2 }] }
    expect(read(rows)).toEqual(found)
    expect(read(`link,wavelength_nm,level\n${rows}`)).toEqual(found)
  })

  it('one whose wavelength is missing is refused with its line', () => {
    expect(read('link,nm,level\npumps,1310,-18\ngate,,-19')).toEqual({ problem: 'line 3: “” is no wavelength in nm' })
  })

  it.each([
    ['link,dBm\nPumps,-18\nDam,-19', 'line 3: “Dam” is no link that is tested here'],
    ['link,dBm\nPumps,-18\nGate,-19\npumps,-18.1', 'line 4: Pumps is there twice'],
    ['link,dBm\nPumps,-18\nGate,bright', 'line 3: “bright” is no figure of a meter'],
    ['Pumps,-18\nGate', 'line 2: “” is no figure of a meter'],
  ])('%j is refused as a whole, with its line', (text, problem) => {
    expect(read(text, { link: 0, figure: 1, wavelength: null })).toEqual({ problem })
  })

  it('of one column, or of none, is no table', () => {
    expect(readLossTable('-18\n-19')).toBeNull()
    expect(readLossTable('')).toBeNull()
  })

  it('its columns can be set by hand; only what can be read is put into the fields', async () => {
    const onTexts = vi.fn()
    render(<LossFile links={links} wavelength={1310} onTexts={onTexts} />)
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

describe('a pasted table', () => {
  it('goes by the links that it names, whatever their order, its head left out', () => {
    expect(pastedTexts('Fiber\tdBm\nF6\t-19\nF5\t-18,4\n', links, 2)).toEqual({
      texts: { radio: '-19', pumps: '-18,4' },
    })
  })

  it('without names it goes row by row from its field on', () => {
    expect(pastedTexts('-18\ndark', links, 1)).toEqual({ texts: { radio: '-18', gate: 'dark' } })
    expect(pastedTexts('a;-18\nb;-19', links, 0)).toEqual({ texts: { pumps: '-18', radio: '-19' } })
  })

  it.each([
    ['Pumps\t-18\ngate\t-19\npumps\t-18', 'row 3: Pumps is there twice'],
    ['Pumps\t-18\ngate\t-19\nDam\t-18', 'row 3: “Dam” is no link that is tested here'],
    ['-18\n-19\n-20\n-21', '4 rows were pasted, from here on there are 3'],
  ])('%j: nothing is taken, and why', (text, problem) => {
    expect(pastedTexts(text, links, 0)).toEqual({ problem })
  })
})

it('the rows that are left out are told beside the button', async () => {
  render(<LossFile links={links} wavelength={1310} onTexts={() => undefined} />)
  const file = new File(['link,nm,dBm\nPumps,1310,-18\nPumps,1550,-17\nGate,1550,-17'], 'night.csv')
  await userEvent.upload(screen.getByLabelText('CSV file of readings'), file)
  expect(await screen.findByText(/2 at 1550 nm: left out, the reference is of 1310 nm/)).toBeTruthy()
  expect(screen.getByRole('button', { name: 'Put 1 reading into its field' })).toBeTruthy()
})
