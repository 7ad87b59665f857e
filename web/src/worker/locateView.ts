import {
  groundMap,
  findLinkEnds,
  locateFaults,
  withNominalWavelengths,
  type Calibration,
  type LocateResult,
  type Shot,
} from '@cold-thread/core/locate'
import { measuredLosses } from '@cold-thread/core/prove'
import type { PlantBundle, Thread } from '@cold-thread/core/plant'
import { analyzeTrace, decodeTrace } from '@cold-thread/core/trace'
import { groundOf } from './polyline.ts'
import { suspicionOf } from './suspicion.ts'
import { buildPyramid } from './pyramid.ts'
import type { DifferenceCurve, LocateRequest, LocateView, TraceCurve, TraceInput } from './view.ts'

/** Everything the Locate stage shows, from the stored files: decode, analyze, compare, place, lay on the ground. */
export function locateView(request: LocateRequest): LocateView {
  const begun = performance.now()
  const { plant, linkId, evidence } = request
  // One name for each wavelength, so that curves, differences and losses are found by it.
  const [baseline, given] = withNominalWavelengths(request.baseline.map(toShot), request.present.map(toShot))
  const result = locateFaults({ plant, linkId, baseline, present: given, evidence })
  const { present } = result
  // Directions may have been put right and traces of other fibers left out: what was read stays the same.
  const idOf = (shot: Shot) => request.present[given.findIndex(({ analysis }) => analysis === shot.analysis)]!.id
  const thread = result.calibrated.threads.ab
  const curves = [
    ...baseline.map((shot, i) => traceCurve(result.calibrated, shot, request.baseline[i]!.id, 'baseline')),
    ...present.map((shot) => presentCurve(result, shot, idOf(shot))),
  ]
  return {
    ...plantOf(plant, thread),
    traces: curves.map((curve, k) => withTwoWay(curve, [...baseline, ...present][k]!, result)),
    differences: result.pairings.map((pairing) => differenceCurve(result, pairing)),
    faults: result.faults.map(({ posterior, ...fault }) => ({
      ...fault,
      ground: groundAtChainage(thread, fault.chainage),
      suspicion: suspicionOf(posterior),
    })),
    ghosts: result.ghosts,
    measured: measuredLosses(plant, linkId, baseline),
    warnings: result.warnings,
    milliseconds: performance.now() - begun,
  }
}

/** Adds to a trace's events what both ends say of them together. */
function withTwoWay(curve: TraceCurve, shot: Shot, { bothWays }: LocateResult): TraceCurve {
  const both = bothWays.find(({ ab, ba }) => ab === shot || ba === shot)
  if (!both) return curve
  const byIndex = new Map(both.events.map((event) => [shot === both.ab ? event.ab : event.ba, event]))
  return {
    ...curve,
    events: curve.events.map((event, k) => {
      const twoWay = byIndex.get(k)
      return twoWay ? { ...event, twoWay } : event
    }),
  }
}

function groundAtChainage(thread: Thread, chainage: number): number {
  const first = thread.nodes[0]!
  return Math.abs(chainage - first.chainage)
}

function toShot(input: TraceInput): Shot {
  const { name, direction, launch, receive } = input
  return { name, direction, launch, receive, analysis: analyzeTrace(decodeTrace(new Uint8Array(input.bytes))) }
}

function traceCurve(calibration: Calibration, shot: Shot, id: string, role: TraceCurve['role']): TraceCurve {
  const { trace, events } = shot.analysis
  const map = groundMap(calibration, shot.direction, trace, findLinkEnds(shot, calibration.threads[shot.direction]))
  return {
    id,
    role,
    direction: shot.direction,
    wavelength: trace.wavelength,
    first: trace.firstDistance,
    spacing: trace.spacing,
    map,
    pyramid: buildPyramid(trace.levels),
    events: events.map((event) => ({ ...event, ground: groundOf(map, event.distance) })),
  }
}

/** A present trace lies where its alignment with the baseline puts it: its own far end may be missing. */
function presentCurve(result: LocateResult, shot: Shot, id: string): TraceCurve {
  const curve = traceCurve(result.calibrated, shot, id, 'present')
  const pairing = result.pairings.find((candidate) => candidate.present === shot)
  if (!pairing) return curve
  const { baseline, comparison, ends } = pairing
  const onBaseline = groundMap(result.calibrated, shot.direction, baseline.analysis.trace, ends)
  const scale = shot.analysis.trace.groupIndex / baseline.analysis.trace.groupIndex
  const map = {
    distance: onBaseline.distance.map((distance) => (distance - comparison.alignment.offset) / scale),
    ground: onBaseline.ground,
  }
  return { ...curve, map, events: curve.events.map((event) => ({ ...event, ground: groundOf(map, event.distance) })) }
}

function differenceCurve(result: LocateResult, pairing: LocateResult['pairings'][number]): DifferenceCurve {
  const { baseline, present, comparison, ends } = pairing
  const { difference } = comparison
  // Where the pulses leave different transitions there is nothing to compare: a gap is drawn.
  const shown = difference.values.map((value, i) => (difference.use[i] === 1 ? value : NaN))
  const map = groundMap(result.calibrated, present.direction, baseline.analysis.trace, ends)
  return {
    direction: present.direction,
    wavelength: present.analysis.trace.wavelength,
    first: difference.firstDistance,
    spacing: difference.spacing,
    map,
    pyramid: buildPyramid(shown),
    limits: comparison.detectionLimit.map(({ from, to, loss }) => {
      const [a, b] = [groundOf(map, from), groundOf(map, to)].sort((p, q) => p - q) as [number, number]
      return { from: a, to: b, loss }
    }),
  }
}

function plantOf(
  plant: PlantBundle,
  thread: Thread,
): Pick<LocateView, 'groundLength' | 'rulers' | 'chainageAtZero' | 'chainageSign' | 'nodes' | 'spans' | 'landmarks'> {
  const first = thread.nodes[0]!
  const sign = thread.nodes.at(-1)!.chainage >= first.chainage ? 1 : -1
  const toGround = (chainage: number) => sign * (chainage - first.chainage)
  const slackAt = (node: string) =>
    thread.pieces
      .filter((piece) => piece.kind === 'coil' && piece.node === node)
      .reduce((sum, piece) => sum + piece.sheathTo - piece.sheathFrom, 0)
  const route = plant.routes.find((candidate) => candidate.id === first.routeId)
  const used = new Set(thread.pieces.map((piece) => piece.cable))
  return {
    groundLength: thread.groundLength,
    rulers: {
      ground: [0, ...thread.pieces.map((piece) => piece.groundTo)],
      sheath: [0, ...thread.pieces.map((piece) => piece.sheathTo)],
      optical: [0, ...thread.pieces.map((piece) => piece.fiberTo)],
    },
    chainageAtZero: first.chainage,
    chainageSign: sign,
    nodes: thread.nodes.map((node) => ({
      id: node.id,
      name: node.name,
      nodeKind: node.nodeKind,
      joint: node.joint,
      ground: node.ground,
      chainage: node.chainage,
      slack: slackAt(node.id),
    })),
    spans: [...used].flatMap((id) => {
      const cable = thread.cables.get(id)!
      return (cable.spans ?? []).map((span) => {
        const [from, to] = [toGround(span.from), toGround(span.to)].sort((a, b) => a - b) as [number, number]
        return { from, to, environment: span.environment, cable: id }
      })
    }),
    landmarks: (route?.landmarks ?? [])
      .map((mark) => ({ name: mark.name, ground: toGround(mark.chainage) }))
      .filter((mark) => mark.ground >= 0 && mark.ground <= thread.groundLength),
  }
}
