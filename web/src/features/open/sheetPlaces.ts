import type { OpenBook } from '@cold-thread/contract'
import type { Ferrule } from '@cold-thread/core/join'
import type { Work } from '@cold-thread/core/open'
import { buildThread, type PlantBundle } from '@cold-thread/core/plant'
import { metres } from '@cold-thread/core/units'
import type { StageProps } from '../callout/stageProps.ts'

export interface PlaceChoice {
  id: string
  name: string
  node: string | null
  chainage: number
  cables: string[]
  panel: boolean
}

/** Where a sheet can be for: joints and panels of the link, and where the plan puts the repair. */
export function placesOf(
  { plant, link }: StageProps,
  planned: { cable: string; chainage: number } | null,
): PlaceChoice[] {
  const thread = buildThread(plant, link.id)
  const cablesAt = (chainage: number) => [
    ...new Set(
      link.path.flatMap((step) => {
        const cable = 'cable' in step ? plant.cables.find(({ id }) => id === step.cable) : undefined
        return cable && chainage >= cable.from && chainage <= cable.to ? [cable.id] : []
      }),
    ),
  ]
  const nodes = thread.nodes
    .filter(({ id, joint }) => joint !== 'through' || plant.nodes.find((node) => node.id === id)?.kind === 'closure')
    .map(({ id, name, chainage }) => ({
      id,
      name,
      node: id,
      chainage,
      cables: cablesAt(chainage),
      panel: plant.nodes.find((node) => node.id === id)?.kind === 'panel',
    }))
  const own =
    planned === null || nodes.some(({ chainage }) => Math.abs(chainage - planned.chainage) < 1)
      ? []
      : [
          {
            id: 'planned',
            name: `the repair at ${metres(planned.chainage)}`,
            node: null,
            chainage: planned.chainage,
            cables: [planned.cable],
            panel: false,
          },
        ]
  return [...own, ...nodes].filter(({ cables }) => cables.length > 0)
}

export function firstWork(place: PlaceChoice): Work {
  if (place.panel) return 'panel'
  return place.node === null ? 'bring-in' : 're-enter'
}

/** The model that a place's closure has; one of the operator's sheets for a new closure. */
export function modelsFor(place: PlaceChoice, plant: PlantBundle, book: OpenBook): string[] {
  const recorded = plant.nodes.find(({ id }) => id === place.node)?.closureModel
  return [...new Set([...(recorded === undefined ? [] : [recorded]), ...book.closures.map(({ model }) => model)])]
}

/** What a new connector will be mated with, by the link's record. */
export function mateAt({ from, to, ends }: StageProps['link'], node: string | null): Ferrule | null {
  if (!ends || node === null) return null
  return node === from ? ends.from : node === to ? ends.to : null
}
