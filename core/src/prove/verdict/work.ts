import type { LoggedEntry } from '../../log/standing.ts'
import { isCableStep } from '../../plant/check.ts'
import type { Link } from '../../plant/types.ts'

/** A joint of the log: at a node of the record, or at the chainage of a new closure. */
export interface LoggedJoint {
  node: string | null
  chainage: number
  cable: string
  fiber: number
  /** Fibers of a ribbon. */
  fibers: number
}

/** Where the log tells of work on a link. */
export interface Work {
  /** Chainages off the record at which a joint was made in the link's fiber. */
  newJoints: readonly number[]
  /** Nodes at which a joint of the link was made anew, or a connector cleaned. */
  redone: readonly string[]
  /** Joints that were made in other fibers only. */
  others: readonly { node: string | null; chainage: number; words: string }[]
}

/** Joints of a log that stand. */
export function acceptedJoints(log: readonly LoggedEntry[]): LoggedJoint[] {
  return log.flatMap(({ entry, superseded }) => {
    const one = entry as Partial<LoggedJoint> & { kind: string; outcome?: string; ribbon?: readonly unknown[] }
    if (superseded || one.kind !== 'splice' || one.outcome !== 'accepted') return []
    const { node = null, chainage = 0, cable = '', fiber = 0, ribbon } = one
    return [{ node, chainage, cable, fiber, fibers: Math.max(1, ribbon?.length ?? 1) }]
  })
}

/** Joints of one place are within so much of each other, m: people write down the same closure differently. */
const SAME_CLOSURE = 3

/** Closures off the record that joints were made in, by cable and place, in the order of their chainages. */
export function newClosures(
  joints: readonly LoggedJoint[],
): { cable: string; chainage: number; joints: LoggedJoint[] }[] {
  const closures: ReturnType<typeof newClosures> = []
  for (const joint of joints) {
    const { node, cable, chainage } = joint
    if (node !== null) continue
    const home = closures.find((one) => one.cable === cable && Math.abs(one.chainage - chainage) <= SAME_CLOSURE)
    if (home) home.joints.push(joint)
    else closures.push({ cable, chainage, joints: [joint] })
  }
  return closures.sort((a, b) => a.chainage - b.chainage)
}

/**
 * Chainages off the record where the log says that a joint was made: a new closure in a cable's run.
 * @param log of one callout
 */
export function newJointsIn(log: readonly LoggedEntry[]): number[] {
  return [...new Set(acceptedJoints(log).flatMap(({ node, chainage }) => (node === null ? [chainage] : [])))]
}

/** What a callout's log tells of work on a link, and on other fibers. */
export function workOn(link: Pick<Link, 'path'>, log: readonly LoggedEntry[]): Work {
  const steps = link.path.filter(isCableStep)
  const joints = acceptedJoints(log)
  const isOwn = ({ cable, fiber, fibers }: LoggedJoint) =>
    steps.some((step) => step.cable === cable && step.fiber >= fiber && step.fiber < fiber + fibers)
  const own = joints.filter(isOwn)
  const cleaned = log.flatMap(({ entry, superseded }) => {
    const one = entry as { kind: string; node?: string }
    return !superseded && one.kind === 'cleaning' && one.node ? [one.node] : []
  })
  const at = ({ node, chainage }: LoggedJoint) => node ?? chainage
  const others = new Map(
    joints.filter((joint) => !own.some((mine) => at(mine) === at(joint))).map((joint) => [at(joint), joint] as const),
  )
  return {
    newJoints: [...new Set(own.flatMap(({ node, chainage }) => (node === null ? [chainage] : [])))],
    redone: [...new Set([...own.flatMap(({ node }) => node ?? []), ...cleaned])],
    others: [...others.values()].map(({ node, chainage, cable, fiber, fibers }) => ({
      node,
      chainage,
      words: `fiber ${fibers === 1 ? fiber : `${fiber} to ${fiber + fibers - 1}`} of cable ${cable}`,
    })),
  }
}
