import { scaleLinear, select, zoom, zoomIdentity, zoomTransform, type ScaleLinear, type ZoomBehavior } from 'd3'
import { useCallback, useEffect, useMemo, useRef, useState, type RefObject } from 'react'

/** The one ruler of all lanes: ground metres to pixels, zoomed and panned together. */
export interface Ruler {
  scale: ScaleLinear<number, number>
  /** The same from frame to frame, so that what only moves the ruler is not drawn anew with it. */
  move: RulerMoves
}

export interface RulerMoves {
  /** Shows a stretch of ground. */
  show(from: number, to: number): void
  zoomBy(factor: number): void
  panBy(pixels: number): void
}

const CLOSEST_METRES = 20

export function useRuler(surface: RefObject<HTMLElement | null>, width: number, whole: [number, number]): Ruler {
  const [transform, setTransform] = useState(zoomIdentity)
  const behavior = useRef<ZoomBehavior<HTMLElement, unknown> | null>(null)
  const [from, to] = whole
  const full = useMemo(() => scaleLinear([from, to], [0, width]), [from, to, width])

  useEffect(() => {
    const element = surface.current
    if (!element || width === 0) return
    const zooming = zoom<HTMLElement, unknown>()
      .scaleExtent([1, (to - from) / CLOSEST_METRES])
      .extent([
        [0, 0],
        [width, 1],
      ])
      .translateExtent([
        [0, -Infinity],
        [width, Infinity],
      ])
      .on('zoom', (event: { transform: typeof zoomIdentity }) => setTransform(event.transform))
    behavior.current = zooming
    const selection = select(element)
    selection.call(zooming).on('dblclick.zoom', null)
    return () => {
      selection.on('.zoom', null)
    }
  }, [surface, width, from, to])

  const scale = useMemo(() => transform.rescaleX(full), [transform, full])
  const call = useCallback(
    (change: (zooming: ZoomBehavior<HTMLElement, unknown>, element: HTMLElement) => void) => {
      if (behavior.current && surface.current) change(behavior.current, surface.current)
    },
    [surface],
  )
  const move = useMemo(
    (): RulerMoves => ({
      show: (a, b) =>
        call((zooming, element) => {
          const k = (to - from) / Math.max(CLOSEST_METRES, b - a)
          const middle = full((a + b) / 2)
          select(element).call(zooming.transform, zoomIdentity.translate(width / 2 - k * middle, 0).scale(k))
        }),
      zoomBy: (factor) => call((zooming, element) => select(element).call(zooming.scaleBy, factor)),
      panBy: (pixels) =>
        call((zooming, element) => select(element).call(zooming.translateBy, pixels / zoomTransform(element).k, 0)),
    }),
    [call, full, from, to, width],
  )
  return { scale, move }
}
