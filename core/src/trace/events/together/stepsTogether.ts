import { studentQuantile, upperTailQuantile } from '../../../units/normal.ts'
import { meanSigma } from '../../noise/noise.ts'
import type { Working } from '../../working.ts'
import { possibleCourses, type Course } from './course.ts'
import { Basis, measure, type Model, type Placed, type Rows } from './leastSquares.ts'

/** A step that was measured together with all others of its stretch. Places in points. */
export interface StepTogether {
  /** Where its edge begins, and where that of the last step does that belongs to it. */
  start: number
  end: number
  startSigma: number
  /** dB, above 0 is loss. */
  loss: number
  lossSigma: number
}

/** Stretches of at most so many pulses: in longer ones steps stand far enough apart to be found one by one. */
export const MOST_PULSES = 200
/** They are looked through in parts of so many pulses, which overlap by so many. */
const PART_PULSES = 20
const OVERLAP_PULSES = 8
const CELLS_PER_PULSE = 8
/** How far a section's attenuation may differ from that of its neighbours, dB/m (common practice: some hundredths per km). */
const SECTIONS_DIFFER = 0.02e-3
const FALSE_ALARM = 0.01
/** Places are sought to this part of a cell. */
const FINEST = 1 / 8
const MOST_STEPS = 40
/** A step that turns out smaller than so many of its standard deviations, with the others measured, is none. */
const SURE = 3.5

/**
 * Finds and measures all steps of a stretch together, where it holds few pulses: what one pulse covers, joints beside it
 * change too, so that lines on either side of each step have no room. Steps come one after the other, each where it explains
 * most (orthogonal matching pursuit), and are measured anew by least squares with all others; at each of them the slope may
 * change by as much as sections of fiber differ.
 * @param from,to points
 * @param smallest dB
 */
export function stepsTogether(
  working: Working,
  from: number,
  to: number,
  spacing: number,
  smallest: number,
): StepTogether[] {
  const { pulsePoints } = working
  const parts = Math.max(1, Math.round((to - from) / (PART_PULSES * pulsePoints)))
  const length = (to - from) / parts
  const overlap = parts === 1 ? 0 : (OVERLAP_PULSES * pulsePoints) / 2
  // What lies in the overlap of two parts is taken from that in which it lies farther inside.
  return Array.from(
    { length: parts },
    (_, k) => [from + k * length, k + 1 === parts ? to : from + (k + 1) * length] as const,
  ).flatMap(([first, last]) => {
    const [a, b] = [Math.max(from, Math.floor(first - overlap)), Math.min(to, Math.ceil(last + overlap))]
    return stepsOfPart(working, a, b, spacing, smallest).filter(
      ({ start }) => (start >= first || first === from) && (start < last || last === to),
    )
  })
}

/** Where steps are sought, points. */
interface Room {
  from: number
  to: number
  cell: number
  pulsePoints: number
  /** χ² that a step must explain. */
  enough: number
}

function stepsOfPart(working: Working, from: number, to: number, spacing: number, smallest: number): StepTogether[] {
  const rows = rowsOf(working, from, to)
  const { pulsePoints, response, noise } = working
  const cell = Math.max(1, pulsePoints / CELLS_PER_PULSE)
  const z = upperTailQuantile(FALSE_ALARM / Math.max(2, rows.at.length))
  const enough = studentQuantile(z, noise.degreesOfFreedom) ** 2
  // At either end there is no line on that side.
  const room = { from: from + 2 * cell, to: to - Math.max(pulsePoints / 2, response.middle), cell, pulsePoints, enough }
  const [usual, ...others] = possibleCourses(working)
  let model: Model = {
    rows,
    course: usual!,
    slopePrior: 1 / (SECTIONS_DIFFER * spacing),
    pulse: pulsePoints,
    before: { at: from, constant: LEFT_FALLS * pulsePoints },
  }
  let steps = sought(model, [], room)
  const course = courseThatFits(model, steps, others, room)
  if (course) {
    model = { ...model, course }
    steps = sought(model, replaced(model, steps, room), room)
  }
  // Where nothing is lost the fiber still may attenuate otherwise from there on: that is kept for the others' sake.
  const loose = loosened(model, steps)
  return measure(loose, clustered(steps, loose, pulsePoints))
    .filter(({ height, sigma }) => Math.abs(height) >= Math.max(SURE * sigma, smallest) && Math.abs(height) < MOST_DB)
    .map(({ height, sigma, parts, atSigma }) => ({
      start: parts[0]!.at,
      end: parts.at(-1)!.at,
      startSigma: Math.hypot(atSigma, response.middleSigma, 0.29),
      loss: -height,
      lossSigma: sigma,
    }))
}

/** What an edge leaves falls by e in so many pulses (judgement). */
const LEFT_FALLS = 0.4

/** Steps one after the other, each where it explains most, until none explains enough; then each once more with all others known. */
function sought(model: Model, known: readonly Placed[], room: Room): Placed[] {
  const { enough } = room
  let steps = [...known]
  for (let round = 0; round < ROUNDS; round++) {
    const more = withMore(loosened(model, steps), steps, room)
    if (round > 0 && more.length === steps.length) break
    const loose = loosened(model, more)
    steps = needed(loose, replaced(loose, more, room), enough)
  }
  return steps
}

/** How a step comes is known to this part of its height (judgement), and within so many pulses. */
const COURSE_KNOWN = 0.01
const COMES_WITHIN = { before: 0.1, after: 1.3 }

/** Cells over which steps come weigh less: what is not known of a large one must not be told for small ones beside it. */
function loosened(model: Model, steps: readonly Placed[]): Model {
  const { rows, pulse } = model
  const weight = rows.weight.map((one, k) => {
    const off = steps.reduce((sum, { at, height }) => {
      const x = (rows.at[k]! - at) / pulse
      return x > -COMES_WITHIN.before && x < COMES_WITHIN.after ? sum + (COURSE_KNOWN * height) ** 2 : sum
    }, 0)
    return off === 0 ? one : 1 / Math.hypot(1 / one, Math.sqrt(off))
  })
  return { ...model, rows: { ...rows, weight } }
}

/** Searching and placing anew take turns so often at most. */
const ROUNDS = 2

function withMore(model: Model, known: readonly Placed[], room: Room): Placed[] {
  const { from, to, cell, pulsePoints, enough } = room
  let steps = [...known]
  while (steps.length < MOST_STEPS) {
    const base = new Basis(model, steps)
    let best: { gain: number; step: Placed | null } = { gain: enough, step: null }
    for (const at of placesBetween(from, to, 2 * cell, steps, pulsePoints / 2)) {
      const step = { at, height: 0 }
      const gain = base.gainOf(step)
      if (gain > best.gain) best = { gain, step }
    }
    if (!best.step) break
    steps = withHeights(model, refined(model, [...steps, best.step], room))
  }
  return steps
}

/** A step is sought anew within so many pulses of where it was found. */
const ANEW_PULSES = 2

/** Each step, the largest first, where it explains most with all others known, and with a faint reflection where one shows. */
function replaced(model: Model, steps: readonly Placed[], room: Room): Placed[] {
  const { from, to, cell, pulsePoints, enough } = room
  let placed = [...steps].sort((a, b) => Math.abs(b.height) - Math.abs(a.height))
  for (let k = 0; k < placed.length; k++) {
    const others = placed.filter((_, i) => i !== k)
    const base = new Basis(model, others)
    const one = placed[k]!
    const strength = (step: Placed) => base.gainOf(step) - (step.reflects ? enough : 0)
    let best = { step: one, gain: strength(one) }
    const near = placesBetween(
      Math.max(from, one.at - ANEW_PULSES * pulsePoints),
      Math.min(to, one.at + ANEW_PULSES * pulsePoints),
      2 * cell,
      others,
      pulsePoints / 2,
    )
    const tried = (step: Placed) => {
      const gain = strength(step)
      if (gain > best.gain) best = { step, gain }
    }
    for (const at of near) tried({ at, height: one.height })
    // A reflection moves the step that it stands on.
    for (let way = -2; way <= 2; way++)
      tried({ at: best.step.at + (way * pulsePoints) / 4, height: one.height, reflects: true })
    placed[k] = finest(base, best.step, room, cell)
    placed = withHeights(model, placed)
  }
  return placed
}

/** A step moved to where it explains most, in moves that halve from `first` on. */
function finest(others: Basis, step: Placed, { from, to, cell }: Room, first: number): Placed {
  let best = step
  for (let move = first; move >= FINEST * cell; move /= 2) {
    const tried = [-1, 0, 1].map((way) => ({ ...best, at: Math.min(to, Math.max(from, best.at + way * move)) }))
    const gains = tried.map((one) => others.gainOf(one))
    best = tried[gains.indexOf(Math.max(...gains))]!
  }
  return best
}

/** No step rises or falls by more, dB: in a stretch of hardly more than a pulse two of them could be made to cancel. */
const MOST_DB = 20

/** The same steps with the heights that they have all together. */
function withHeights(model: Model, steps: readonly Placed[]): Placed[] {
  return measure(
    model,
    steps.map((step) => [step]),
  ).map(({ parts: [step] }) => ({ ...step!, height: Math.min(MOST_DB, Math.max(-MOST_DB, step!.height)) }))
}

/** Steps without which χ² would rise enough: the one that is needed least goes, and the rest is asked anew. */
function needed(model: Model, steps: readonly Placed[], enough: number): Placed[] {
  let kept = [...steps]
  for (;;) {
    let least = { gain: enough, step: null as Placed | null }
    for (const step of kept) {
      const others = kept.filter((one) => one !== step)
      const gain = new Basis(model, others).gainOf(step)
      if (gain < least.gain) least = { gain, step }
    }
    if (!least.step) return kept
    kept = withHeights(
      model,
      kept.filter((one) => one !== least.step),
    )
  }
}

/** So many of the largest steps tell how steps come, and by so much more of χ² than the usual course (judgement). */
const TELLING = 3
const TOLD = 12

/** Of other courses the one that explains the largest steps best, each moved to where it does; null where none does better. */
function courseThatFits(model: Model, steps: readonly Placed[], others: readonly Course[], room: Room): Course | null {
  if (others.length === 0) return null
  const largest = [...steps].sort((a, b) => Math.abs(b.height) - Math.abs(a.height)).slice(0, TELLING)
  const explained = (course: Course) =>
    largest.reduce((sum, step) => {
      const base = basisWithout(step)
      let best = 0
      for (let way = -3; way <= 3; way++)
        best = Math.max(best, base.gainOf({ ...step, at: step.at + (way * room.pulsePoints) / 24 }, course))
      return sum + best
    }, 0)
  const bases = new Map<Placed, Basis>()
  const basisWithout = (step: Placed) => {
    const base =
      bases.get(step) ??
      new Basis(
        model,
        steps.filter((one) => one !== step),
      )
    bases.set(step, base)
    return base
  }
  let best: { course: Course | null; gain: number } = { course: null, gain: explained(model.course) + TOLD }
  for (const course of others) {
    const gain = explained(course)
    if (gain > best.gain) best = { course, gain }
  }
  return best.course
}

/** Steps that are nearer to each other than this are one joint or can't be told apart, in pulses (judgement). */
const ONE_JOINT = 0.6

/** So many steps of one sign, each so near the one before, in pulses, are one loss that is spread (judgement). */
const CROWD = 3
const CROWDED = 0.8

/** Joints, with those together that are one spread loss. */
function withCrowds(joints: readonly Placed[][], pulsePoints: number): Placed[][] {
  const signOf = (joint: readonly Placed[]) => Math.sign(joint.reduce((sum, { height }) => sum + height, 0))
  const crowds: Placed[][][] = []
  for (const joint of joints) {
    const last = crowds.at(-1)?.at(-1)
    if (last && signOf(last) === signOf(joint) && joint[0]!.at - last.at(-1)!.at < CROWDED * pulsePoints)
      crowds.at(-1)!.push(joint)
    else crowds.push([joint])
  }
  return crowds.flatMap((crowd) => (crowd.length < CROWD ? crowd : [crowd.flat()]))
}

/** What a step leaves beside it, of its size, and within so many pulses (judgement). */
const REST = 0.12
const REST_WITHIN = 1.5

/** Steps in order of place, those together that belong to one joint. */
function clustered(steps: readonly Placed[], model: Model, pulsePoints: number): Placed[][] {
  const single = withHeights(
    model,
    [...steps].sort((a, b) => a.at - b.at),
  )
  const joints: Placed[][] = []
  single.forEach((step, k) => {
    const before = single[k - 1]
    const apart = before ? (step.at - before.at) / pulsePoints : Infinity
    // A pulse that is not quite as it is taken to be leaves a little of each step beside it.
    const isRest = before !== undefined && Math.abs(step.height) < REST * Math.abs(before.height) && apart < REST_WITHIN
    if (apart < ONE_JOINT || isRest) joints.at(-1)!.push(step)
    else joints.push([step])
  })
  return withCrowds(joints, pulsePoints)
}

function rowsOf({ sums, noise, pulsePoints }: Working, from: number, to: number): Rows {
  const cell = Math.max(1, Math.floor(pulsePoints / CELLS_PER_PULSE))
  const count = Math.floor((to - from) / cell)
  const [values, at, weight] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)]
  for (let k = 0; k < count; k++) {
    const i = from + k * cell
    values[k] = sums.mean(i, i + cell)
    at[k] = sums.center(i, i + cell)
    // Neighbouring cells share the light's roughness: each counts for as much as it adds to a long mean.
    weight[k] = Math.sqrt(cell) / Math.max(1e-9, longestSigma(noise, i, cell))
  }
  return { values, at, weight }
}

function longestSigma(noise: Working['noise'], index: number, cell: number): number {
  const block = Math.min(noise.long.length - 1, Math.max(0, Math.floor(index / noise.blockSize)))
  const long = noise.long[block]!
  return Number.isFinite(long) ? long : 1e6 * meanSigma(noise, index, cell)
}

function placesBetween(from: number, to: number, step: number, steps: readonly Placed[], apart: number): number[] {
  const places: number[] = []
  for (let place = from; place < to; place += step)
    if (steps.every(({ at }) => Math.abs(at - place) > apart)) places.push(place)
  return places
}

/** Each step near the one that came last moved in turn to where all explain most together. */
function refined(model: Model, steps: readonly Placed[], room: Room): Placed[] {
  const placed = [...steps]
  const last = placed.at(-1)!.at
  for (let k = placed.length - 1; k >= 0; k--) {
    if (Math.abs(placed[k]!.at - last) > NEIGHBOURS * room.pulsePoints) continue
    const others = placed.filter((_, i) => i !== k)
    placed[k] = finest(new Basis(model, others), placed[k]!, room, 2 * room.cell)
  }
  return placed
}

/** Steps within so many pulses of each other move each other. */
const NEIGHBOURS = 4
