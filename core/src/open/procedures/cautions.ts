/** A caution as it is shown; where life is at stake, with what the person then says. */
export interface Caution {
  text: string
  /** Said by the person who does the step; null where reading it is enough. */
  say: string | null
}

/**
 * Common practice, no published source. They stand beside local codes, the operator's rules and the makers' sheets, and
 * take the place of none; licensed trades stay licensed.
 */
export const CAUTIONS = {
  blades: {
    text: 'Cut-resistant or heavy leather gloves; cut away from the body. Rod ends are sharp, sheath halves spring.',
    say: null,
  },
  glass: {
    text: 'Eye protection, black mat, no food. Every shard goes into a closed bin or into folded tape at once.',
    say: null,
  },
  light: {
    text: 'The light can’t be seen. Treat each fiber as live until it is shown dark; never look into a fiber or connector.',
    say: null,
  },
  dark: {
    text: 'A fiber is cut, or light sent into it, only when it was shown dark with a meter or a live fiber identifier.',
    say: 'The fibers that will be cut are shown dark',
  },
  traffic: {
    text: 'Never connect an OTDR, a source or a visible light at traffic wavelengths to a fiber that carries traffic. Get the window and the desk’s word first.',
    say: 'The desk gave its word, and the window is open',
  },
  identity: {
    text: 'Wrong cable, wrong outage: two ways that do not lean on each other, before anything is cut.',
    say: 'Two independent ways name this cable',
  },
  voltage: {
    text: 'Armor, messenger, tracer wire and copper can carry a voltage, also an induced one. Proving them free of it is the work of people licensed for it where the local code says so.',
    say: 'Armor and metal parts are proved free of voltage',
  },
  power: {
    text: 'An active cable carries power: disconnect it at both ends, and see that nobody can connect it again.',
    say: 'It is disconnected at both ends',
  },
  pressure: {
    text: 'A closure under pressure can throw its dome. Vent it every time, also a new one, also after a test.',
    say: 'No pressure and no vacuum is left',
  },
  road: {
    text: 'Road traffic and passers-by: signs, cones and lights as local rules ask, high-visibility clothing.',
    say: null,
  },
  dig: {
    text: 'Buried services: locate them on site before digging, with the permits and people that local rules ask for.',
    say: 'Buried services are located on site',
  },
  confined: {
    text: 'Confined space: permit, trained people, ventilation, gas measured continuously. An alarm stops the work.',
    say: 'The gas test is passed and the entry is permitted',
  },
  height: {
    text: 'Ladder, pole, power lines near aerial cable: trained people, the operator’s distances, no lone work.',
    say: null,
  },
  arc: {
    text: 'A fusion arc ignites gas: splice at the surface, in a vehicle or tent, never in a manhole or near fuel gas.',
    say: 'The splicer stands at the surface, away from gas',
  },
  hot: { text: 'Oven and thermal stripper are hot. Alcohol burns: no flame, air moving.', say: null },
  epoxy: { text: 'Adhesives harm skin and eyes: gloves, eye protection, air moving.', say: null },
} as const satisfies Record<string, Caution>

export type CautionId = keyof typeof CAUTIONS
export const CAUTION_IDS = Object.keys(CAUTIONS) as CautionId[]

/** Shown under every sheet. */
export const DEFER =
  'Local codes, the operator’s rules and the makers’ sheets come before this sheet; licensed trades stay licensed.'
