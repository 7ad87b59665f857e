import { useEffect, useState, type RefObject } from 'react'

/** Width of an element in pixels as it is laid out; 0 before that. */
export function useWidth(element: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(0)
  useEffect(() => {
    if (!element.current) return
    const observer = new ResizeObserver(([entry]) => setWidth(Math.floor(entry!.contentRect.width)))
    observer.observe(element.current)
    return () => observer.disconnect()
  }, [element])
  return width
}
