import { isCableStep } from '@cold-thread/core/plant'
import { metres } from '@cold-thread/core/units'
import { useLocated } from '../locate/useLocated.ts'
import type { StageProps } from '../callout/stageProps.ts'

/** Where a splice may be made. */
export interface Site {
  key: string
  label: string
  node: string | null
  chainage: number
  cable: string
  fiber: number
}

/** Where a splice may be made: the located place first, once it is known, then the joints of the link. */
export function useSites({ callout, plant, link }: Pick<StageProps, 'callout' | 'plant' | 'link'>): {
  sites: Site[]
  locating: boolean
} {
  const located = useLocated({ callout, plant })
  const fiberIn = (cable: string) => link.path.filter(isCableStep).find((step) => step.cable === cable)?.fiber ?? 1
  const joints: Site[] = link.path.flatMap((step, j): Site[] => {
    if (isCableStep(step)) return []
    const node = plant.nodes.find((candidate) => candidate.id === step.node)!
    const after = link.path[j + 1]
    if (!after || !isCableStep(after)) return []
    return [
      {
        key: step.node,
        label: node.name,
        node: step.node,
        chainage: node.chainage,
        cable: after.cable,
        fiber: after.fiber,
      },
    ]
  })
  if (located.status !== 'ready') return { sites: joints, locating: located.status === 'working' }
  const faults = located.view.faults.flatMap((fault): Site[] => {
    const likeliest = fault.places[0]
    if (likeliest?.node !== undefined && likeliest.probability >= 0.5) {
      const joint = joints.find((candidate) => candidate.node === likeliest.node)
      return joint ? [{ ...joint, label: `${joint.label}, the located fault` }] : []
    }
    const chainage = Math.round(fault.chainage)
    return [
      {
        key: `fault ${chainage}`,
        label: `New closure at the located fault, ${metres(chainage)}`,
        node: null,
        chainage,
        cable: fault.cable,
        fiber: fiberIn(fault.cable),
      },
    ]
  })
  const others = joints.filter((joint) => !faults.some((fault) => fault.node === joint.node))
  return { sites: [...faults, ...others], locating: false }
}
