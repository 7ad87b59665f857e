import type { PlacedFault } from '../src/plan/repairs/placed.ts'

/** A clean break in a cable's run, placed within 5 m. */
export function breakAt(cable: string, chainage: number): PlacedFault {
  return {
    chainage,
    interval95: [chainage - 5, chainage + 5],
    cable,
    betweenNodes: ['n1', 'n2'],
    places: [{ cable, from: chainage - 5, to: chainage + 5, probability: 1 }],
    goodEnoughToDig: true,
    breaks: true,
    reflects: false,
    causes: [{ cause: 'break', name: 'cut or clean break', probability: 1 }],
    loss: { '1310': null, '1550': null },
  }
}

/** A loss at a node of the link. */
export function lossAt(
  node: string,
  cable: string,
  chainage: number,
  cause: PlacedFault['causes'][number]['cause'],
  loss: number,
): PlacedFault {
  return {
    ...breakAt(cable, chainage),
    places: [{ node, from: chainage, to: chainage, probability: 1 }],
    breaks: false,
    causes: [{ cause, name: cause, probability: 1 }],
    loss: { '1310': loss, '1550': loss },
  }
}
