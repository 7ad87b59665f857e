import { CodedError } from '../errors/index.ts'

/** A colour order is a property of a cable's record: national standards differ. */
export type ColorOrder = 'TIA-598' | 'DIN VDE 0888'

const ORDERS: Record<ColorOrder, readonly string[]> = {
  // TIA-598-D
  'TIA-598': ['blue', 'orange', 'green', 'brown', 'slate', 'white', 'red', 'black', 'yellow', 'violet', 'rose', 'aqua'],
  // DIN VDE 0888, written from memory
  'DIN VDE 0888': [
    'red',
    'green',
    'blue',
    'yellow',
    'white',
    'grey',
    'brown',
    'violet',
    'turquoise',
    'black',
    'orange',
    'pink',
  ],
}

export function isColorOrder(name: string): name is ColorOrder {
  return Object.hasOwn(ORDERS, name)
}

export interface ColoredPosition {
  color: string
  /** Colour of the tracer thread or ring on positions 13 to 24, null on 1 to 12. */
  tracer: string | null
}

/**
 * Colour of a position (1 to 24) in a colour order.
 * Positions 13 to 24 repeat the order with a black tracer; black itself carries a yellow one (TIA-598-D).
 * @throws CodedError outside 1 to 24
 */
export function colorOfPosition(position: number, order: ColorOrder): ColoredPosition {
  if (!Number.isInteger(position) || position < 1 || position > 24)
    throw new CodedError('out-of-range', `colour position ${position} is not 1 to 24`)
  const color = ORDERS[order][(position - 1) % 12]!
  if (position <= 12) return { color, tracer: null }
  return { color, tracer: color === 'black' ? 'yellow' : 'black' }
}

/** A colour as it is said: “black with yellow tracer”. */
export function colorInWords({ color, tracer }: ColoredPosition): string {
  return tracer === null ? color : `${color} with ${tracer} tracer`
}
