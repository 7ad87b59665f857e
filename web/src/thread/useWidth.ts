import { useEffect, useState, type RefObject } from 'react'
import { flushSync } from 'react-dom'

/** What fits between the margins of an A4 or letter page, pixels. */
const PAGE_WIDTH = 660

/** Width of an element in pixels as it is laid out, or for a page while it is printed; 0 before that. */
export function useWidth(element: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(0)
  const [printing, setPrinting] = useState(false)
  useEffect(() => {
    if (!element.current) return
    const observer = new ResizeObserver(([entry]) => setWidth(Math.floor(entry!.contentRect.width)))
    observer.observe(element.current)
    return () => observer.disconnect()
  }, [element])
  useEffect(() => {
    // The browser lays the page out as soon as these return.
    const before = () => flushSync(() => setPrinting(true))
    const after = () => setPrinting(false)
    addEventListener('beforeprint', before)
    addEventListener('afterprint', after)
    return () => {
      removeEventListener('beforeprint', before)
      removeEventListener('afterprint', after)
    }
  }, [])
  return printing ? Math.min(width, PAGE_WIDTH) : width
}
