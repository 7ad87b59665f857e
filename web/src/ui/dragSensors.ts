import {
  KeyboardCode,
  KeyboardSensor,
  PointerSensor,
  TouchSensor,
  useSensor,
  useSensors,
  type DndContextProps,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core'

/** By arrow key, whether a place lies that way, from the middles: a place across counts by its distance only. */
const THAT_WAY: Record<string, (dx: number, dy: number) => boolean> = {
  [KeyboardCode.Left]: (dx, dy) => dx < 0 && -dx >= Math.abs(dy),
  [KeyboardCode.Right]: (dx, dy) => dx > 0 && dx >= Math.abs(dy),
  [KeyboardCode.Up]: (dx, dy) => dy < 0 && -dy >= Math.abs(dx),
  [KeyboardCode.Down]: (dx, dy) => dy > 0 && dy >= Math.abs(dx),
}

/** An arrow key takes what is dragged to the next place that way: one press a port or tray, not one a few pixels. */
const toNextPlace: KeyboardCoordinateGetter = (event, { context }) => {
  const thatWay = THAT_WAY[event.code]
  const dragged = context.collisionRect
  if (!thatWay || !dragged) return undefined
  event.preventDefault()
  const [x, y] = [dragged.left + dragged.width / 2, dragged.top + dragged.height / 2]
  const over = context.over?.id
  let best: { left: number; top: number } | null = null
  let nearest = Infinity
  for (const { id } of context.droppableContainers.getEnabled()) {
    const rect = context.droppableRects.get(id)
    if (!rect || id === over) continue
    const [dx, dy] = [rect.left + rect.width / 2 - x, rect.top + rect.height / 2 - y]
    const distance = Math.hypot(dx, dy)
    if (!thatWay(dx, dy) || distance >= nearest) continue
    nearest = distance
    best = { left: rect.left + (rect.width - dragged.width) / 2, top: rect.top + (rect.height - dragged.height) / 2 }
  }
  return best ? { x: best.left, y: best.top } : undefined
}

/** Mouse, finger and keys for what is dragged from place to place; a tap or a scroll is no drag. */
export function useDragSensors(): ReturnType<typeof useSensors> {
  return useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 150, tolerance: 8 } }),
    useSensor(KeyboardSensor, { coordinateGetter: toNextPlace }),
  )
}

/**
 * What a screen reader says while something is dragged.
 * @param what in words, by its id
 * @param where in words, by its id
 */
export function spokenDrag(
  what: (id: string) => string,
  where: (id: string) => string,
): DndContextProps['accessibility'] {
  return {
    screenReaderInstructions: {
      draggable: 'Space picks it up, the arrow keys take it to another place, space lays it down, Escape leaves it.',
    },
    announcements: {
      onDragStart: ({ active }) => `${what(String(active.id))} picked up`,
      onDragOver: ({ active, over }) =>
        over ? `${what(String(active.id))} over ${where(String(over.id))}` : `${what(String(active.id))} over no place`,
      onDragEnd: ({ active, over }) =>
        over
          ? `${what(String(active.id))} now in ${where(String(over.id))}`
          : `${what(String(active.id))} left where it was`,
      onDragCancel: ({ active }) => `${what(String(active.id))} left where it was`,
    },
  }
}
