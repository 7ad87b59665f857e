import type { Callout } from '@cold-thread/contract'
import { screen, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { CALLOUT, renderPage } from '../../test/page.tsx'
import { CauseStatistics } from './CauseStatistics.tsx'

const closed = (cause: Callout['cause'], hours: number, more: Partial<Callout> = {}): Callout => ({
  ...CALLOUT,
  state: 'closed',
  openedAt: '2026-03-01T00:00:00.000Z',
  closedAt: new Date(Date.UTC(2026, 2, 1, hours)).toISOString(),
  cause,
  ...more,
})

describe('what closed callouts were', () => {
  it('counts causes, most first, with the median of how long they were open', () => {
    renderPage(
      <CauseStatistics
        callouts={[
          closed('crush', 3),
          closed('break', 2),
          closed('break', 9),
          closed('break', 5),
          closed(null, 1),
          closed('water', 1, { simulated: true }),
          CALLOUT,
        ]}
      />,
    )
    const rows = within(screen.getByRole('list', { name: 'Causes of closed callouts' })).getAllByRole('listitem')
    expect(rows.map(({ textContent }) => textContent)).toEqual([
      'cut or clean break: 3 of 4, open for 5 h 00 min in the middle',
      'crushed or pressed cable: 1 of 4, open for 3 h 00 min in the middle',
    ])
    expect(screen.getByText(/of 1 more it is not known\. Practice is not counted/)).toBeTruthy()
  })

  it('is not there before anything is known', () => {
    renderPage(<CauseStatistics callouts={[CALLOUT, closed(null, 2)]} />)
    expect(screen.queryByRole('region')).toBeNull()
  })
})
