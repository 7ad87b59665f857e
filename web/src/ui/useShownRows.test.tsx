import { act, render, screen } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { useShownRows } from './useShownRows.ts'

function Rows({ count, keep = null }: { count: number; keep?: number | null }) {
  // jsdom lays nothing out: rows are as high as was said, and none is measured.
  const { shown, behind, list } = useShownRows(count, 50, keep)
  return (
    <ol ref={list} style={{ paddingBottom: behind }}>
      {shown.map(({ index, gap }) => (
        <li key={index} data-index={index} style={{ marginTop: gap }}>
          row {index}
        </li>
      ))}
    </ol>
  )
}

describe('the rows of a long list', () => {
  it('stand all where they are few', () => {
    render(<Rows count={60} />)
    expect(screen.getAllByRole('listitem')).toHaveLength(60)
    expect(screen.getByRole('list').style.paddingBottom).toBe('0px')
  })

  it('are those in sight where they are many, and all of them on paper', () => {
    render(<Rows count={400} />)
    const inSight = screen.getAllByRole('listitem').length
    expect(inSight).toBeGreaterThan(5)
    expect(inSight).toBeLessThan(100)
    act(() => void dispatchEvent(new Event('beforeprint')))
    expect(screen.getAllByRole('listitem')).toHaveLength(400)
    act(() => void dispatchEvent(new Event('afterprint')))
    expect(screen.getAllByRole('listitem')).toHaveLength(inSight)
  })

  it('with one that is dragged: it stays where it was, and the rows before it keep their room', () => {
    render(<Rows count={400} keep={300} />)
    const rows = screen.getAllByRole('listitem')
    expect(rows.at(-1)!.textContent).toBe('row 300')
    expect(Number.parseFloat(rows.at(-1)!.style.marginTop)).toBeGreaterThan(50 * 200)
  })
})
