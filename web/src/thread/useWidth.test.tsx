import { act, render } from '@testing-library/react'
import { useRef } from 'react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { useWidth } from './useWidth.ts'

function Shown() {
  const element = useRef<HTMLDivElement>(null)
  return <div ref={element}>{useWidth(element)}</div>
}

afterEach(() => vi.unstubAllGlobals())

describe('the width that lanes are drawn for', () => {
  /** Renders into an element laid out so wide, and returns what is shown. */
  const laidOut = (width: number) => {
    vi.stubGlobal(
      'ResizeObserver',
      class {
        constructor(private readonly report: (entries: { contentRect: { width: number } }[]) => void) {}
        observe() {
          this.report([{ contentRect: { width } }])
        }
        disconnect() {}
      },
    )
    const { container } = render(<Shown />)
    return () => container.textContent
  }

  it('is the element’s own, in whole pixels', () => {
    expect(laidOut(1246.7)()).toBe('1246')
  })

  it('is a page’s while it is printed, from the moment the browser asks, and the element’s again afterwards', () => {
    const shown = laidOut(1246)
    dispatchEvent(new Event('beforeprint'))
    expect(shown()).toBe('660')
    act(() => void dispatchEvent(new Event('afterprint')))
    expect(shown()).toBe('1246')
  })

  it('of a phone prints as it is', () => {
    const shown = laidOut(358)
    dispatchEvent(new Event('beforeprint'))
    expect(shown()).toBe('358')
  })
})
