import { median } from 'simple-statistics'
import { mismatchLoss } from '../modeField.ts'
import { onChart, type Charted } from './chart.ts'
import { addedUp, begunAt, evenOdds, logMix, logSum, logT5, normalNodes, type Possible } from './evidence.ts'
import { SESSION, USUAL_FIGURES, usualOf, type Usual } from './usual.ts'
import { fibersOfSplice, readingsOf, type WatchedAttempt } from './watched.ts'

/** Of each splice at which something may have begun, last of all not yet: a likelihood, as a logarithm. */
export type ByBeginning = readonly number[]

/** A machine's usual work, as sessions are held against it. */
export interface UsualWork {
  usual: Record<Charted, Usual>
  /** Share of splices whose ends looked bad, and of those that broke. */
  bad: number
  broke: number
  /** How much of the loss offset and angles make, by the machine's own splices. */
  couplings: readonly Possible<Coupling>[]
}

/** Loss that grows with the square of offset and angle (Marcuse 1977), dB a µm² and a degree²; the rest's usual on the chart. */
interface Coupling {
  offset: number
  angle: number
  center: number
}

/** Shares are counted as if so many healthy splices had been seen before: 3 % bad ends, 0.5 % broken (judgement). */
const BEFORE = { count: 40, bad: 0.03, broke: 0.005 } as const

/** What earlier splices of a machine tell. */
export function usualWork(reference: readonly WatchedAttempt[]): UsualWork {
  const usual = {
    loss: usualOf('loss', reference),
    angle: usualOf('angle', reference),
    offset: usualOf('offset', reference),
  }
  const share = (of: readonly ('good' | 'bad' | 'held' | 'broke' | null)[], what: string, usually: number) => {
    const told = of.filter((one) => one !== null)
    return (told.filter((one) => one === what).length + usually * BEFORE.count) / (told.length + BEFORE.count)
  }
  return {
    usual,
    bad: share(
      reference.map(({ gap }) => gap),
      'bad',
      BEFORE.bad,
    ),
    broke: share(
      reference.map(({ proof }) => proof),
      'broke',
      BEFORE.broke,
    ),
    couplings: couplingsOf(usual.loss, reference),
  }
}

/** Part of the offset that is left after alignment is a tenth to half, of an end's angle a tenth to a third (judgement). */
const OFFSET_COUPLINGS = [0, 0.004, 0.015, 0.05]
const ANGLE_COUPLINGS = [0, 0.008, 0.025]
/** So much less likely ones than the likeliest are left out. */
const UNLIKELY = 3

function couplingsOf(usual: Usual, reference: readonly WatchedAttempt[]): Possible<Coupling>[] {
  const rows = reference.flatMap((attempt) =>
    fibersOfSplice(attempt).flatMap((fiber) =>
      fiber.estimate === null
        ? []
        : [{ y: onChart('loss', fiber.estimate), offset: squaredOffset(attempt), angle: squaredAngles(fiber) }],
    ),
  )
  const all = OFFSET_COUPLINGS.flatMap((offset) =>
    ANGLE_COUPLINGS.map((angle) => {
      let center = usual.center
      if (rows.length < 10) return { value: { offset, angle, center }, log: 0 }
      // The usual loss is what is left without them: twice over, as it is in both.
      const shift = usual.center - median(rows.map(({ y }) => y))
      const rest = () =>
        rows.map((row) => row.y - Math.log1p((offset * row.offset + angle * row.angle) / Math.exp(center)))
      center = median(rest()) + shift
      center = median(rest()) + shift
      const log = rest().reduce((sum, one) => sum + logT5((one - center + shift) / usual.sigma), 0)
      return { value: { offset, angle, center }, log: log / (1 + usual.together) }
    }),
  )
  const most = Math.max(...all.map(({ log }) => log))
  const kept = all.filter(({ log }) => log > most - UNLIKELY)
  const whole = logSum(kept.map(({ log }) => log))
  return kept.map(({ value, log }) => ({ value, log: log - whole }))
}

function squaredOffset({ offset }: WatchedAttempt): number {
  return (offset ?? 0) ** 2
}

function squaredAngles({ cleaveLeft, cleaveRight }: { cleaveLeft: number | null; cleaveRight: number | null }): number {
  return (cleaveLeft ?? 0) ** 2 + (cleaveRight ?? 0) ** 2
}

/** Readings of a splice that go together count for less than so many. */
function weightOf(count: number, { together }: Usual): number {
  return 1 / (1 + (count - 1) * together)
}

/** A healthy session may change in itself, as another hand or another reel comes: so often (judgement). */
const HEALTHY_CHANGE = 0.3
const CHANGE_NODES = [-2, -0.8, 0.8, 2]

/**
 * Healthy work: a session stands off from what is usual as sessions do, and may change once by as much.
 * @param at log likelihood of each splice with the usual shifted by so much
 */
function healthy(at: (shift: number) => number[], usual: Usual, series: Charted): number {
  const changes = normalNodes(USUAL_FIGURES[series].sessions, CHANGE_NODES)
  return logSum(
    normalNodes(usual.between).flatMap((session) => {
      const before = at(session.value)
      const same = session.log + Math.log1p(-HEALTHY_CHANGE) + before.reduce((sum, one) => sum + one, 0)
      return [
        same,
        ...changes.map(
          (change) =>
            session.log +
            change.log +
            Math.log(HEALTHY_CHANGE) +
            logSum(begunAt(before, at(session.value + change.value), SESSION)),
        ),
      ]
    }),
  )
}

/** What offsets say of healthy work and of a groove that is not clean; null where none is read. */
export function offsetLikelihoods(
  attempts: readonly WatchedAttempt[],
  { usual }: UsualWork,
): { healthy: number; grooves: ByBeginning } | null {
  const { center, sigma, between } = usual.offset
  const rows = attempts.map((attempt) => readingsOf('offset', attempt).map((reading) => onChart('offset', reading)))
  if (rows.every((row) => row.length === 0)) return null
  const at = (shift: number) =>
    rows.map((row) => row.reduce((sum, y) => sum + logT5((y - center - shift) / sigma) - Math.log(sigma), 0))
  // A particle lifts a fiber by several times what it usually lies off, in most of the loads.
  const particles = evenOdds([1.3, 1.7, 2.4, 3.5, 5.5, 9]).flatMap((times) =>
    evenOdds([0.6, 0.9]).map((seats) => ({ times: times.value, seats: seats.value, log: times.log + seats.log })),
  )
  return {
    healthy: healthy(at, usual.offset, 'offset'),
    grooves: addedUp(
      normalNodes(between).flatMap((session) => {
        const before = at(session.value)
        return particles.map(({ times, seats, log }) => {
          const lifted = at(session.value + Math.log(times))
          const after = before.map((one, i) => (rows[i]!.length === 0 ? 0 : logMix(seats, lifted[i]!, one)))
          return { log: session.log + log, at: begunAt(before, after, SESSION) }
        })
      }),
    ),
  }
}

/** An end that was handled badly has so much more angle, degrees: some of what an exponential distribution holds. */
const SPOILED = [0.25, 0.9, 2.4]
/** So much of healthy work's bad pictures are ends handled badly, and so many of those are seen in a picture (judgement). */
const BY_HAND = 0.5
const SEEN = 0.7

/** How ends are made: angles shifted on the chart and more widely spread, some ends spoiled, pictures bad without it. */
interface Ends {
  shift: number
  wider: number
  spoiled: number
  /** Of spoiled ends seen in the picture. */
  seen: number
  bad: number
}

/**
 * What angles and pictures of the ends say of healthy work, of a blade that is worn and of a hand that spoils some ends;
 * null where no angle is read: a picture alone tells neither.
 */
export function endLikelihoods(
  attempts: readonly WatchedAttempt[],
  { usual, bad }: UsualWork,
): { healthy: number; blade: ByBeginning; hand: ByBeginning } | null {
  const { center, sigma, between } = usual.angle
  const rows = attempts.map((attempt) => readingsOf('angle', attempt).map((reading) => onChart('angle', reading)))
  if (rows.every((row) => row.length === 0)) return null
  const ends = attempts.map((attempt) => 2 * fibersOfSplice(attempt).length)
  const at = (of: Ends): number[] => {
    const level = Math.exp(center + of.shift)
    const middles = SPOILED.map((more) => Math.log(level + more))
    return rows.map((row, i) => {
      const weight = weightOf(row.length, usual.angle)
      const unread = ends[i]! - row.length
      // A picture is good where nothing else spoils it and no spoiled end is seen: of each end a factor.
      let all = 0
      let good = Math.log1p(-of.bad) + unread * Math.log1p(-of.spoiled * of.seen)
      for (const y of row) {
        const sound = weight * logT5((y - center - of.shift) / (sigma * of.wider))
        const spoilt =
          weight * (logSum(middles.map((middle) => logT5((y - middle) / sigma))) - Math.log(SPOILED.length))
        const scale = weight * Math.log(sigma * of.wider)
        all += logMix(of.spoiled, spoilt, sound) - scale
        good += logSum([Math.log1p(-of.spoiled) + sound, Math.log(of.spoiled * (1 - of.seen)) + spoilt]) - scale
      }
      const { gap } = attempts[i]!
      return gap === null ? all : gap === 'good' ? good : all + Math.log(-Math.expm1(Math.min(-1e-9, good - all)))
    })
  }
  const usually = (shift: number): Ends => ({
    shift,
    wider: 1,
    spoiled: (BY_HAND * bad) / median(ends) / SEEN,
    seen: SEEN,
    bad: (1 - BY_HAND) * bad,
  })
  const worn = evenOdds([1.3, 1.6, 2, 2.5, 3.2, 4.2]).flatMap((times) =>
    evenOdds([1, 1.3]).flatMap((wider) =>
      evenOdds([0, 0.1]).map((more) => ({
        times: times.value,
        wider: wider.value,
        more: more.value,
        log: times.log + wider.log + more.log,
      })),
    ),
  )
  const careless = evenOdds([0.12, 0.25, 0.4]).flatMap((often) =>
    evenOdds([0.4, 0.8]).map((seen) => ({ often: often.value, seen: seen.value, log: often.log + seen.log })),
  )
  const sessions = normalNodes(between).map((session) => ({ ...session, before: at(usually(session.value)) }))
  const begun = (before: readonly number[], log: number, after: Ends) => ({
    log,
    at: begunAt(before, at(after), SESSION),
  })
  return {
    healthy: healthy((shift) => at(usually(shift)), usual.angle, 'angle'),
    blade: addedUp(
      sessions.flatMap(({ value, before, log: ofSession }) =>
        worn.map(({ times, wider, more, log }) => {
          const as = usually(value + Math.log(times))
          return begun(before, ofSession + log, { ...as, wider, bad: as.bad + more * (1 - as.bad) })
        }),
      ),
    ),
    hand: addedUp(
      sessions.flatMap(({ value, before, log: ofSession }) =>
        careless.map(({ often, seen, log }) =>
          begun(before, ofSession + log, { ...usually(value), spoiled: often, seen }),
        ),
      ),
    ),
  }
}

/** What may raise a session's losses beside what offset and angles make. */
export interface LossCause {
  /** An arc that is not right, or anything that no reading shows: by several times the usual loss, by a part of it, or not. */
  shift: 'much' | 'little' | null
  /** Mode fields of the records that differ. */
  modeFields: boolean
  /** A hand that spoils ends: of a ribbon whose picture is bad more than one. */
  hand: boolean
}

/** A fiber with an end that looks bad loses several times the usual, more or less, in most cases (judgement). */
const MOST_SPOILT = 0.7
/** Of a ribbon's fibers, where a hand spoils ends (judgement). */
const BY_HAND_SPOILT = 0.4
const RAISED = 1
const SPREAD = 0.8

/** How much more is lost, in times of the usual loss: by an arc that is not right, by ends that nobody looked at (judgement). */
const MUCH = [0.4, 0.7, 1.2, 2, 3.5]
const LITTLE = [0.15, 0.4, 1]
/** How much of a computed mismatch a splicer shows. */
const SHOWN_MISMATCH = [0.45, 0.7, 0.95, 1.2]

/** Loss that the records' mode fields make at each splice, dB; 0 where they tell of none. */
export function predictedMismatch({ modeFields }: WatchedAttempt): number {
  return modeFields ? mismatchLoss(...modeFields) : 0
}

/** What the estimates say with one of the causes, or with none, by its beginning. */
export function lossLikelihood(
  attempts: readonly WatchedAttempt[],
  { usual, couplings }: UsualWork,
  { shift, modeFields, hand }: LossCause,
): ByBeginning {
  const { sigma, between } = usual.loss
  const rows = attempts.map((attempt) =>
    fibersOfSplice(attempt).flatMap((fiber) =>
      fiber.estimate === null
        ? []
        : [{ y: onChart('loss', fiber.estimate), offset: squaredOffset(attempt), angle: squaredAngles(fiber) }],
    ),
  )
  // An end that looks bad explains its own loss: one of the splice's fibers, nobody says which.
  const spoilt = attempts.map((attempt) => {
    if (attempt.gap !== 'bad') return 0
    const one = 1 / fibersOfSplice(attempt).length
    return Math.min(MOST_SPOILT, hand ? Math.max(BY_HAND_SPOILT, one) : one)
  })
  const predicted = attempts.map(predictedMismatch)
  const shown = modeFields ? evenOdds(SHOWN_MISMATCH) : [{ value: 0, log: 0 }]
  const shifts =
    shift === null
      ? []
      : evenOdds(shift === 'much' ? MUCH : LITTLE).flatMap((times) =>
          evenOdds([1, 1.7]).map((wider) => ({ times: times.value, wider: wider.value, log: times.log + wider.log })),
        )
  const healthyRows: number[] = []
  const changed: { log: number; at: number[] }[] = []
  for (const { value: coupling, log: ofCoupling } of couplings)
    for (const { value: part, log: ofPart } of shown) {
      const level = Math.exp(coupling.center)
      const at = (off: number, more = 0, wider = 1) =>
        rows.map((row, i) => {
          const weight = weightOf(row.length, usual.loss)
          let sum = 0
          for (const { y, offset, angle } of row) {
            const extra = coupling.offset * offset + coupling.angle * angle + part * predicted[i]! + more * level
            const over = y - coupling.center - off - Math.log1p(extra / level)
            const sound = logT5(over / (sigma * wider)) - Math.log(wider)
            sum -= Math.log(sigma)
            sum +=
              spoilt[i] === 0
                ? sound
                : logMix(spoilt[i]!, logT5((over - RAISED) / SPREAD) + Math.log(sigma / SPREAD), sound)
          }
          return weight * sum
        })
      const log = ofCoupling + ofPart
      if (shift === null) healthyRows.push(log + healthy((off) => at(off), usual.loss, 'loss'))
      else
        for (const session of normalNodes(between)) {
          const before = at(session.value)
          for (const { times, wider, log: ofShift } of shifts)
            changed.push({
              log: log + session.log + ofShift,
              at: begunAt(before, at(session.value, times, wider), SESSION),
            })
        }
    }
  return shift === null ? [logSum(healthyRows)] : addedUp(changed)
}

/** Shares of refused calibrations and of joints that break: usual, with bad ends, with an arc that is not right (judgement). */
const REFUSED = { usual: [0.06, 0.12, 0.2], ends: [0.12, 0.25], arc: [0.3, 0.5] } as const
const BROKE = { usual: [1], ends: [1, 3], arc: [3, 8] } as const

/** What refused calibrations and broken joints say, by what is wrong. */
export function arcLikelihood(
  attempts: readonly WatchedAttempt[],
  { broke }: UsualWork,
  refused: number,
  wrong: keyof typeof REFUSED,
): number {
  const pulled = attempts.filter(({ proof }) => proof !== null)
  const broken = pulled.filter(({ proof }) => proof === 'broke').length
  const ofRefused = REFUSED[wrong].map((share) => refused * Math.log(share) + Math.log1p(-share))
  const ofBroken = BROKE[wrong].map((times) => {
    const share = Math.min(0.5, broke * times)
    return broken * Math.log(share) + (pulled.length - broken) * Math.log1p(-share)
  })
  return logSum(ofRefused) - Math.log(ofRefused.length) + logSum(ofBroken) - Math.log(ofBroken.length)
}
