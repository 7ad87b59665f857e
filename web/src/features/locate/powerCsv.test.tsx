import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it } from 'vitest'
import { accepted, CALLOUT, renderPage, smallPlant, stubServer, TECHNICIAN } from '../../test/page.tsx'
import { PowerFile } from './PowerFile.tsx'
import { readPowerCsv } from './powerCsv.ts'

const plant = smallPlant()
const link = plant.links[0]!
const read = (text: string) => readPowerCsv(text, plant, link)

describe('received powers from a table', () => {
  it('name places by id or name, in any column order, with comma, semicolon or tab', () => {
    const expected = {
      readings: [
        { kind: 'power', from: 'ab', node: 'n1', expected: -12.5, measured: -31.25 },
        { kind: 'power', from: 'ba', node: 'n0', expected: -11, measured: -11.2 },
      ],
      problem: null,
    }
    expect(read('node,from,expected,measured\nn1,n0,-12.5,-31.25\nn0,n2,-11,-11.2\n')).toEqual(expected)
    expect(
      read(
        '\uFEFFMeasured (dBm);Expected (dBm);From;Place\r\n-31,25;-12,5;west panel;Weir closure\r\n-11,2;-11;East panel;n0',
      ),
    ).toEqual(expected)
    expect(read('node\tfrom\tbefore\tread\nn1\tn0\t-12.5\t−31.25\n\nn0\tn2\t-11\t-11.2\n')).toEqual(expected)
  })

  it.each([
    ['', /names no column "node"/],
    ['node,from,expected\nn1,n0,-12', /no column "measured" \(found: node, from, expected\)/],
    ['node,from,expected,measured\n', /no readings/],
    ['node,from,expected,measured\nn1,n0,-12,-30\nmoon,n0,-12,-30', /row 3: "moon" is no node/],
    ['node,from,expected,measured\nn1,n1,-12,-30', /row 2: "n1" is neither end/],
    ['node,from,expected,measured\nn1,n0,-12,bright', /row 2: "bright" is no power/],
    ['node,from,expected,measured\nn1,n0,,-30', /row 2: "" is no power/],
    ['node,from,expected,measured\nn1,n0,-12,3000', /row 2: "3000" is no power/],
  ])('with a mistake are refused as a whole, with the row: %j', (text, problem) => {
    const { readings, problem: said } = read(text)
    expect(readings).toBeNull()
    expect(said).toMatch(problem)
  })

  it('are shown as understood before they are used, each as evidence of its own', async () => {
    const sent = stubServer({ 'PUT /callouts/[^/]+/observations/[^/]+': accepted })
    let done = 0
    renderPage(<PowerFile account={TECHNICIAN} callout={CALLOUT} plant={plant} link={link} onDone={() => done++} />)
    const choose = (text: string) =>
      userEvent.upload(
        screen.getByLabelText('CSV file of powers'),
        new File([text], 'powers.csv', { type: 'text/csv' }),
      )
    await choose('node,from,expected,measured\nn9,n0,-12,-30')
    expect((await screen.findByRole('alert')).textContent).toMatch(/powers\.csv: row 2.*Nothing was taken/)
    expect(screen.queryByRole('button', { name: /Use/ })).toBeNull()
    await choose('node,from,expected,measured\nn1,n0,-12,-30\nn0,n2,-11,-11')
    const list = await screen.findByRole('list', { name: 'Powers in the file' })
    expect(
      within(list)
        .getAllByRole('listitem')
        .map((item) => item.textContent),
    ).toEqual([
      'Weir closure, from West panel: -30.0 dBm, 18.0 dB too little',
      'West panel, from East panel: -11.0 dBm, as expected',
    ])
    await userEvent.click(screen.getByRole('button', { name: 'Use these 2 readings' }))
    await waitFor(() => expect(done).toBe(1))
    expect(sent.filter(({ method }) => method === 'PUT').map(({ body }) => body)).toMatchObject([
      { entry: { kind: 'evidence', evidence: { kind: 'power', node: 'n1', measured: -30 } } },
      { entry: { kind: 'evidence', evidence: { kind: 'power', node: 'n0', measured: -11 } } },
    ])
  })
})
