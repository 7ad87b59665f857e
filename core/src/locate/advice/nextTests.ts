import type { LinkState } from '../../plant/types.ts'
import type { ThreadNode } from '../../plant/thread.ts'
import type { RankedCause } from '../posterior/causes.ts'
import type { Evidence } from '../posterior/evidence.ts'
import { placeEntropy, weigh, type Cell, type Posterior } from '../posterior/posterior.ts'
import { SUSPICION_RULES, type CauseModel } from '../posterior/suspicionRules.ts'

/** A test that would narrow the place or the cause of a fault. */
export interface NextTest {
  test: string
  /** Stable name of the kind of test. */
  kind: 'other-end' | 'other-wavelength' | 'finer-pulse' | 'clean' | 'neighbours' | 'open' | 'light' | 'history'
  minutes: number
  /** Expected gain of knowledge about place and cause, bits. */
  expectedGain: number
  precondition: string
  /** The test can hurt traffic when the precondition does not hold. */
  outageRisk: boolean
  /** What each outcome would mean. */
  why: string
}

/** What is known of a fault when the next test is chosen. */
export interface TestSituation {
  linkState: LinkState
  nodes: readonly ThreadNode[]
  groundLength: number
  breaks: boolean
  posterior: Posterior
  causes: readonly RankedCause[]
  /** m, one standard deviation of the measured place, and the part of it that measuring (not the records) causes. */
  sigma: number
  measuringSigma: number
  shot: readonly { direction: 'ab' | 'ba'; wavelength: number; pulseLength: number }[]
  evidence: readonly Evidence[]
}

/** A visit that may mend what it finds counts so many bits on top of what it tells: judgement, no source. */
const MENDS = 0.3
/** Minutes that a test takes, common practice, no source; travel is not counted. */
const MINUTES = { shot: 6, settings: 5, clean: 12, neighbour: 6, open: 45, light: 15, history: 5 }
/** Where visible light may still be seen, m of fiber (common practice: a few km at most). */
const LIGHT_REACH = 4000
/** A test that tells less than this is not worth the way to the instrument, bits. */
const SMALLEST_GAIN = 0.15

/**
 * Ranks the tests that can still be made by what they are expected to tell per minute. A test that can hurt traffic
 * never stands before one that can't; a link whose state is not known counts as live.
 */
export function rankNextTests(situation: TestSituation): NextTest[] {
  return [
    otherEnd(situation),
    otherWavelength(situation),
    finerPulse(situation),
    clean(situation),
    neighbours(situation),
    history(situation),
    ...openings(situation),
    ...lights(situation),
  ]
    .filter((test): test is NextTest => test !== null && test.expectedGain >= SMALLEST_GAIN)
    .sort(
      (a, b) => Number(a.outageRisk) - Number(b.outageRisk) || b.expectedGain / b.minutes - a.expectedGain / a.minutes,
    )
}

/** Light at traffic wavelengths may only be sent into a fiber that was shown dark. */
function needsDarkFiber(linkState: LinkState): Pick<NextTest, 'precondition' | 'outageRisk'> {
  return linkState === 'dark'
    ? { precondition: 'check the fiber for light', outageRisk: false }
    : {
        precondition: 'confirm that the fiber is dark, or use a filtered out-of-band wavelength in a window',
        outageRisk: true,
      }
}

/** A place measured once more, with independent measuring errors of the same size. */
function bitsFromSigma(before: number, after: number, weight: number): number {
  return after < before ? weight * Math.log2(before / after) : 0
}

/** Share of the belief that lies between nodes: only there a narrower interval changes where one digs. */
function shareInRuns(posterior: Posterior): number {
  return posterior.cells.reduce((sum, cell) => sum + (cell.node === null ? cell.weight : 0), 0)
}

function otherEnd({ shot, sigma, measuringSigma, breaks, posterior, linkState }: TestSituation): NextTest | null {
  const directions = new Set(shot.map((one) => one.direction))
  if (directions.size !== 1) return null
  const end = directions.has('ab') ? 'far' : 'near'
  // The far end sees the records' errors from the other side: together they pin the place between both.
  const recordSigma = Math.sqrt(Math.max(0, sigma ** 2 - measuringSigma ** 2))
  const after = Math.sqrt(measuringSigma ** 2 / 2 + recordSigma ** 2 / 2)
  const second = breaks ? 0.5 : 0.2
  return {
    kind: 'other-end',
    test: `shoot from the ${end} end`,
    minutes: MINUTES.shot,
    expectedGain: bitsFromSigma(sigma, after, 0.1 + 0.9 * shareInRuns(posterior)) + second,
    ...needsDarkFiber(linkState),
    why: breaks
      ? 'if both lengths add up to the link’s, it is one clean break and the place is pinned from both sides; if they fall short, fiber is missing or there are two breaks'
      : 'the mean of both ways is the true loss, and the place is pinned from both sides',
  }
}

function otherWavelength({ shot, causes, breaks, linkState }: TestSituation): NextTest | null {
  const wavelengths = new Set(shot.map((one) => one.wavelength))
  if (breaks || wavelengths.size !== 1) return null
  const [only] = wavelengths
  const other = only! > 1450 ? 1310 : 1550
  const outcomes = [0, 1, 2]
  // Outcomes: much more at the long wavelength, about equal, more at the short one.
  const chances = (model: CauseModel) => {
    if (!model.ratio) return [0.2, 0.6, 0.2]
    const middle = Math.log(model.ratio.median)
    const spread = Math.hypot(model.ratio.spread, 0.1)
    const above = logistic((middle - Math.log(1.5)) / spread)
    const below = logistic((Math.log(0.9) - middle) / spread)
    return [above, Math.max(0, 1 - above - below), below]
  }
  return {
    kind: 'other-wavelength',
    test: `shoot at ${other} nm as well`,
    minutes: MINUTES.shot,
    expectedGain: informationOnCause(causes, chances, outcomes.length),
    ...needsDarkFiber(linkState),
    why: 'clearly more loss at the longer wavelength is a bend or pressure; about equal is a splice or a connector; one wavelength can’t tell',
  }
}

function finerPulse({ shot, sigma, measuringSigma, posterior, linkState }: TestSituation): NextTest | null {
  const finest = Math.min(...shot.map((one) => one.pulseLength))
  if (!(finest < Infinity) || finest < 4) return null
  const recordSigma = Math.sqrt(Math.max(0, sigma ** 2 - measuringSigma ** 2))
  return {
    kind: 'finer-pulse',
    test: 'shoot again with a third of the pulse and ten times the averaging',
    minutes: MINUTES.settings,
    expectedGain: bitsFromSigma(sigma, Math.hypot(measuringSigma / 3, recordSigma), 0.1 + 0.9 * shareInRuns(posterior)),
    ...needsDarkFiber(linkState),
    why: 'a shorter pulse places the edge more sharply and shows what hides in the dead zone',
  }
}

function clean({ causes, posterior, nodes, linkState }: TestSituation): NextTest | null {
  const connector = nodes
    .filter((node) => node.joint === 'connector')
    .map((node) => ({ node, share: shareAt(posterior, node.id) }))
    .sort((a, b) => b.share - a.share)[0]
  if (!connector || connector.share < 0.05) return null
  const gone = (model: CauseModel) => (model.cause === 'connector' ? 0.8 : model.cause === 'wrong-patch' ? 0.3 : 0.02)
  return {
    kind: 'clean',
    test: `clean and inspect at ${connector.node.name}, then measure again`,
    minutes: MINUTES.clean,
    // It tells, and where dirt is the cause it mends.
    expectedGain:
      informationOnCause(causes, (model) => [gone(model), 1 - gone(model)], 2) +
      MENDS * (causes.find((ranked) => ranked.cause === 'connector')?.probability ?? 0) * connector.share,
    precondition:
      linkState === 'dark'
        ? 'check the fiber for light'
        : 'unplugging interrupts traffic: a window and the desk’s word',
    outageRisk: linkState !== 'dark',
    why: 'at a panel dirt comes first: if the loss goes, it was the connection; if it stays, look beyond it',
  }
}

function neighbours({ causes, evidence }: TestSituation): NextTest | null {
  if (evidence.some((item) => item.kind === 'neighbours')) return null
  return {
    kind: 'neighbours',
    test: 'shoot a dark neighbour fiber of the same tube',
    minutes: MINUTES.neighbour,
    expectedGain: informationOnCause(causes, (model) => [model.neighbours, 1 - model.neighbours], 2),
    precondition: 'a neighbour shown dark',
    outageRisk: false,
    why: 'if its neighbours are hurt too it is the cable; if this fiber is alone it is a splice, a tray or a connector',
  }
}

function history({ causes, evidence }: TestSituation): NextTest | null {
  if (evidence.some((item) => item.kind === 'growth')) return null
  return {
    kind: 'history',
    test: 'ask the desk how the received power changed',
    minutes: MINUTES.history,
    expectedGain: informationOnCause(causes, ({ growth }) => [growth.sudden, growth.slow, growth.weather], 3),
    precondition: 'none',
    outageRisk: false,
    why: 'sudden is a cut, a pull or somebody’s work; slow is water or pressure; with the weather is ice, heat or damp',
  }
}

function openings({ nodes, posterior, evidence }: TestSituation): NextTest[] {
  const done = new Set(evidence.flatMap((item) => (item.kind === 'opened' ? [item.node] : [])))
  return nodes
    .filter((node) => node.joint === 'splice' && !done.has(node.id))
    .map((node) => ({ node, share: shareAt(posterior, node.id) }))
    .filter(({ share }) => share > 0.03)
    .map(({ node, share }) => ({
      kind: 'open' as const,
      test: `open and look at ${node.name}`,
      minutes: MINUTES.open,
      expectedGain: binaryEntropy(share) + MENDS * share,
      precondition: 'moving a tray can disturb live fibers in it: tell the desk first',
      outageRisk: true,
      why: `the fault is there with ${(100 * share).toFixed(0)} %; nothing found moves the suspicion to its neighbours`,
    }))
}

function lights({ nodes, posterior, breaks, groundLength, evidence, linkState }: TestSituation): NextTest[] {
  if (!breaks) return []
  const before = placeEntropy(posterior)
  return nodes
    .filter((node) => Math.min(node.ground, groundLength - node.ground) < LIGHT_REACH && node.nodeKind !== 'handhole')
    .filter((node) => node.ground > 0 && node.ground < groundLength)
    .filter(
      (node) => !evidence.some((item) => item.kind === 'light' && 'node' in item.place && item.place.node === node.id),
    )
    .map((node): NextTest => {
      const from = node.ground < groundLength / 2 ? 'near' : 'far'
      const passes = (cell: Cell) => (from === 'near' ? cell.ground > node.ground : cell.ground < node.ground)
      const seen = posterior.cells.reduce((sum, cell) => sum + (passes(cell) ? cell.weight : 0), 0)
      const yes = weigh(posterior, (cell) => (passes(cell) ? 0.85 : 0.03)).posterior
      const no = weigh(posterior, (cell) => (passes(cell) ? 0.15 : 0.97)).posterior
      return {
        kind: 'light',
        test: `visible light from the ${from} end: look at ${node.name}`,
        minutes: MINUTES.light,
        expectedGain: Math.max(0, before - seen * placeEntropy(yes) - (1 - seen) * placeEntropy(no)),
        precondition: 'only on a fiber proved dark; never look into it: on a white card or from the side',
        outageRisk: linkState !== 'dark',
        why: `seen there, the break lies beyond ${node.name}; not seen, before it or out of reach of the light`,
      }
    })
}

function shareAt(posterior: Posterior, node: string): number {
  return posterior.cells.reduce((sum, cell) => sum + (cell.node === node ? cell.weight : 0), 0)
}

function binaryEntropy(p: number): number {
  return p <= 0 || p >= 1 ? 0 : -p * Math.log2(p) - (1 - p) * Math.log2(1 - p)
}

/** Mutual information of the cause and a test's outcome, bits. */
function informationOnCause(
  causes: readonly RankedCause[],
  chances: (model: CauseModel) => number[],
  outcomes: number,
): number {
  const models = causes.map((ranked) => ({
    p: ranked.probability,
    chance: chances(SUSPICION_RULES.causes.find((model) => model.cause === ranked.cause)!),
  }))
  let bits = 0
  for (let k = 0; k < outcomes; k++) {
    const whole = models.reduce((sum, { p, chance }) => sum + p * chance[k]!, 0)
    for (const { p, chance } of models)
      if (p * chance[k]! > 0 && whole > 0) bits += p * chance[k]! * Math.log2(chance[k]! / whole)
  }
  return Math.max(0, bits)
}

function logistic(x: number): number {
  return 1 / (1 + Math.exp(-1.7 * x))
}
