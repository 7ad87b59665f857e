import { useWindowVirtualizer, type Range } from '@tanstack/react-virtual'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import { flushSync } from 'react-dom'

/** Shorter lists are laid out whole. */
const WHOLE = 60
const OVERSCAN = 8

/** The rows of a long list that are laid out. */
export interface ShownRows {
  /** Which, in order, and how many pixels of others that are not laid out lie before each. */
  shown: { index: number; gap: number }[]
  /** Pixels behind the last one. */
  behind: number
  /** For the list's own element. */
  list: React.RefObject<HTMLOListElement | null>
  /** For each row, which carries its index as `data-index`. */
  measure(row: Element | null): void
}

/**
 * Lays out only the rows of a page's long list that are in sight, so that a list of thousands scrolls and is sorted like
 * one of twenty. On paper all of them stand.
 * @param rowHeight pixels of a typical row, until it is measured
 * @param keep a row that stays though it is out of sight, as one that is dragged
 */
export function useShownRows(count: number, rowHeight: number, keep: number | null): ShownRows {
  const list = useRef<HTMLOListElement>(null)
  const [top, setTop] = useState(0)
  const printing = usePrinting()
  const whole = count <= WHOLE || printing
  useLayoutEffect(() => {
    if (whole) return
    const read = () => setTop(Math.round(list.current!.getBoundingClientRect().top + window.scrollY))
    read()
    // What stands above the list may grow or shrink at any time.
    const observer = new ResizeObserver(read)
    observer.observe(document.body)
    return () => observer.disconnect()
  }, [whole])
  const virtualizer = useWindowVirtualizer({
    count: whole ? 0 : count,
    estimateSize: () => rowHeight,
    overscan: OVERSCAN,
    scrollMargin: top,
    rangeExtractor: (range) => withKept(range, keep),
  })
  if (whole)
    return { shown: Array.from({ length: count }, (_, index) => ({ index, gap: 0 })), behind: 0, list, measure }
  let end = top
  const shown = virtualizer.getVirtualItems().map((item) => {
    const gap = item.start - end
    end = item.end
    return { index: item.index, gap }
  })
  return { shown, behind: top + virtualizer.getTotalSize() - end, list, measure: virtualizer.measureElement }
}

function measure(): void {
  // A list that is laid out whole has no use for its rows' heights.
}

function withKept({ startIndex, endIndex, overscan, count }: Range, keep: number | null): number[] {
  const from = Math.max(0, startIndex - overscan)
  const to = Math.min(count - 1, endIndex + overscan)
  const rows = Array.from({ length: to - from + 1 }, (_, k) => from + k)
  return keep === null || (keep >= from && keep <= to) ? rows : [...rows, keep].sort((a, b) => a - b)
}

/** Whether the page is being laid out for paper. */
function usePrinting(): boolean {
  const [printing, setPrinting] = useState(false)
  useEffect(() => {
    const begin = () => flushSync(() => setPrinting(true))
    const end = () => setPrinting(false)
    addEventListener('beforeprint', begin)
    addEventListener('afterprint', end)
    return () => {
      removeEventListener('beforeprint', begin)
      removeEventListener('afterprint', end)
    }
  }, [])
  return printing
}
