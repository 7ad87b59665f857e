import type { OpenBook } from '@cold-thread/contract'
import { SIX_PORTS } from '@cold-thread/core/open'

/** The closures' sheets of the demo: every figure in them is made up. */
export const THRUSHMERE_OPEN_BOOK: OpenBook = {
  closures: [
    {
      model: 'gel-sealed dome, six ports',
      kind: 'gel-dome',
      ports: SIX_PORTS.map((port) => ({ ...port, least: 0.009, most: port.habit === 'drop' ? 0.0135 : 0.022 })),
      bushingBelow: 0.0127,
      trays: { count: 4, splices: 24, groups: 6 },
      lengths: {
        sheath: { min: 1.9, max: 1.9 },
        'basket-slack': { min: 1, max: 1.2 },
        'tray-slack': { min: 0.8, max: 1 },
      },
      storingRadius: 0.03,
      pressure: { test: 35_000, minutes: 15, mayLose: 2000 },
      source: 'sheet of the Thrushmere Navigation, made up for the demo',
    },
  ],
  procedures: [],
}
