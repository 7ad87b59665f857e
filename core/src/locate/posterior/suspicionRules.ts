/** What kind of change a fault is, before its cause is asked for. */
export type FaultNature = 'break' | 'loss' | 'reflection'

export type Cause =
  'break' | 'crush' | 'pull' | 'macrobend' | 'water' | 'bad-splice' | 'connector' | 'wrong-patch' | 'aging'

/** Kinds of places along a thread. */
export type PlaceClass = 'splice' | 'connector' | 'coil' | 'run'

/** What is left of a fiber's end reflects as flat glass does, less, or nothing that shows. */
export type BrokenFace = 'flat' | 'rough' | 'none'

/** A face reflects −14.7 dB where it is flat and square to the fiber (Fresnel); what is under −50 dB shows as none (judgement). */
export function brokenFace(reflectance: number | null): BrokenFace {
  return reflectance === null || reflectance < -50 ? 'none' : reflectance > -20 ? 'flat' : 'rough'
}

export type Growth = 'sudden' | 'slow' | 'weather'

/** What a cause does, as chances and typical figures. */
export interface CauseModel {
  cause: Cause
  name: string
  /** Share among all faults, before anything was measured. */
  prior: number
  /** Chance that no light passes. */
  breaks: number
  /** Chance of a clear reflection where light passes; and how the glass reflects where none does: adds up to 1. */
  reflects: { passing: number; broken: Record<BrokenFace, number> }
  /** Where it happens; adds up to 1. */
  places: Record<PlaceClass, number>
  /**
   * Loss at 1550 nm over loss at 1310 nm, between which it grows exponentially with wavelength: median and spread of its
   * logarithm; null where it says nothing.
   */
  ratio: { median: number; spread: number } | null
  growth: Record<Growth, number>
  /** Chance that dark neighbours in the tube are hurt too. */
  neighbours: number
}

/** Weights and chances that suspicion is computed with. Data, so that an operator can keep a book of its own. */
export interface SuspicionRules {
  name: string
  version: number
  source: string
  /** How likely a fault is in a joint, as the metres of run that are as likely. */
  jointMetres: Record<FaultNature, number>
  /** Metres of run that a passed coil or hand-hole counts for beyond its own fiber. */
  passedNodeMetres: number
  /** Weight of a metre of run by environment. */
  environment: Record<string, number>
  causes: CauseModel[]
}

/**
 * Judgement, no published source: cables are cut between nodes, added loss grows at splices and most of all at
 * connectors. Wavelength behaviour after common practice: the loss of a bend doubles every 50 to 100 nm (5 to 28 times as
 * much at 1550 as at 1310 nm; after Marcuse, Journal of the Optical Society of America 66 (1976) 216, from memory), splices are
 * alike at both or up to 1.3 times larger at 1310 nm, what presses on many places grows with wavelength less than one bend does.
 */
export const SUSPICION_RULES: SuspicionRules = {
  name: 'suspicion',
  version: 1,
  source: 'common practice and judgement, no published source',
  jointMetres: { break: 15, loss: 400, reflection: 2000 },
  passedNodeMetres: 5,
  environment: { duct: 1, buried: 1.5, aerial: 3, crossing: 2, bridge: 2, indoor: 0.5 },
  causes: [
    {
      cause: 'break',
      name: 'cut or clean break',
      prior: 0.3,
      breaks: 0.98,
      reflects: { passing: 0.2, broken: { flat: 0.25, rough: 0.35, none: 0.4 } },
      places: { splice: 0.05, connector: 0.02, coil: 0.08, run: 0.85 },
      ratio: null,
      growth: { sudden: 0.97, slow: 0.01, weather: 0.02 },
      neighbours: 0.9,
    },
    {
      cause: 'crush',
      name: 'crushed or pressed cable',
      prior: 0.12,
      breaks: 0.35,
      reflects: { passing: 0.05, broken: { flat: 0.03, rough: 0.22, none: 0.75 } },
      places: { splice: 0.05, connector: 0.02, coil: 0.13, run: 0.8 },
      ratio: { median: 1.3, spread: 0.2 },
      growth: { sudden: 0.7, slow: 0.15, weather: 0.15 },
      neighbours: 0.8,
    },
    {
      cause: 'pull',
      name: 'pulled cable',
      prior: 0.05,
      breaks: 0.75,
      reflects: { passing: 0.1, broken: { flat: 0.15, rough: 0.3, none: 0.55 } },
      places: { splice: 0.2, connector: 0.05, coil: 0.15, run: 0.6 },
      ratio: { median: 2.5, spread: 0.8 },
      growth: { sudden: 0.9, slow: 0.05, weather: 0.05 },
      neighbours: 0.9,
    },
    {
      cause: 'macrobend',
      name: 'tight bend',
      prior: 0.14,
      breaks: 0.03,
      reflects: { passing: 0.01, broken: { flat: 0.01, rough: 0.04, none: 0.95 } },
      places: { splice: 0.4, connector: 0.15, coil: 0.25, run: 0.2 },
      ratio: { median: 9, spread: 0.5 },
      growth: { sudden: 0.75, slow: 0.1, weather: 0.15 },
      neighbours: 0.3,
    },
    {
      cause: 'water',
      name: 'water or pressure on the fiber',
      prior: 0.06,
      breaks: 0.03,
      reflects: { passing: 0.02, broken: { flat: 0.01, rough: 0.04, none: 0.95 } },
      places: { splice: 0.35, connector: 0.02, coil: 0.18, run: 0.45 },
      ratio: { median: 2.5, spread: 0.6 },
      growth: { sudden: 0.05, slow: 0.6, weather: 0.35 },
      neighbours: 0.8,
    },
    {
      cause: 'bad-splice',
      name: 'bad splice',
      prior: 0.12,
      breaks: 0.08,
      reflects: { passing: 0.1, broken: { flat: 0.05, rough: 0.3, none: 0.65 } },
      places: { splice: 0.97, connector: 0.01, coil: 0.01, run: 0.01 },
      ratio: { median: 0.88, spread: 0.12 },
      growth: { sudden: 0.5, slow: 0.4, weather: 0.1 },
      neighbours: 0.1,
    },
    {
      cause: 'connector',
      name: 'dirty or damaged connector',
      prior: 0.16,
      breaks: 0.05,
      reflects: { passing: 0.75, broken: { flat: 0.35, rough: 0.5, none: 0.15 } },
      places: { splice: 0.01, connector: 0.97, coil: 0.01, run: 0.01 },
      ratio: { median: 1, spread: 0.12 },
      growth: { sudden: 0.6, slow: 0.35, weather: 0.05 },
      neighbours: 0.15,
    },
    {
      cause: 'wrong-patch',
      name: 'wrong patch or unplugged connector',
      prior: 0.04,
      breaks: 0.85,
      reflects: { passing: 0.5, broken: { flat: 0.75, rough: 0.2, none: 0.05 } },
      places: { splice: 0.01, connector: 0.97, coil: 0.01, run: 0.01 },
      ratio: { median: 1, spread: 0.3 },
      growth: { sudden: 0.98, slow: 0.01, weather: 0.01 },
      neighbours: 0.1,
    },
    {
      cause: 'aging',
      name: 'aging of fiber or joint',
      prior: 0.01,
      breaks: 0.01,
      reflects: { passing: 0.05, broken: { flat: 0.02, rough: 0.1, none: 0.88 } },
      places: { splice: 0.4, connector: 0.3, coil: 0.05, run: 0.25 },
      ratio: { median: 1.15, spread: 0.2 },
      growth: { sudden: 0.02, slow: 0.93, weather: 0.05 },
      neighbours: 0.6,
    },
  ],
}
