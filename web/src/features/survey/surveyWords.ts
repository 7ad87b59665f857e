import { ranges } from '@cold-thread/core/fiber'
import type { CableSurveyRecord } from '@cold-thread/contract'
import type { PlantBundle } from '@cold-thread/core/plant'
import { metres } from '@cold-thread/core/units'

export type SurveyedPlace = CableSurveyRecord['places'][number]
type Group = CableSurveyRecord['groups'][number]

/** "tube 3 (green)" */
export function groupInWords(group: Group): string {
  return `${group.word} ${group.number}${group.color ? ` (${group.color})` : ''}`
}

/** Which fibers a place takes, the groups first: "tube 3 (green)", "fibers 4, 7–9", "all 144 fibers read". */
export function fibersInWords(survey: CableSurveyRecord, place: SurveyedPlace): string {
  if (place.pattern === 'whole-cable')
    return `the whole cable, ${count(place.fibers.length)} of ${survey.fibers.length} read`
  const byNumber = new Map(survey.groups.map((group) => [group.number, group]))
  const whole = place.whole.map((number) => byNumber.get(number)!)
  const others = place.fibers.filter((fiber) => !whole.some((group) => fiber >= group.first && fiber <= group.last))
  const parts = whole.map((group) => {
    const hit = place.fibers.filter((fiber) => fiber >= group.first && fiber <= group.last).length
    return `${groupInWords(group)}, ${count(hit)} of ${group.last - group.first + 1}`
  })
  if (others.length > 0) parts.push(`${others.length === 1 ? 'fiber' : 'fibers'} ${ranges(others)}`)
  return parts.join('; ')
}

function count(fibers: number): string {
  return `${fibers} ${fibers === 1 ? 'fiber' : 'fibers'}`
}

/** "at Weir closure" or "at 33 140 m". */
export function placeInWords(plant: PlantBundle, place: SurveyedPlace): string {
  const best = place.places[0]
  if (best?.node !== undefined && best.probability >= 0.5)
    return `at ${plant.nodes.find((node) => node.id === best.node)?.name ?? best.node}`
  return `at ${metres(place.chainage)}`
}

/** "10 lose light, 2 broken" */
export function harmInWords(survey: CableSurveyRecord, place: SurveyedPlace): string {
  const states = survey.fibers.filter(({ fiber }) => place.fibers.includes(fiber))
  const broken = states.filter(({ state }) => state === 'broken').length
  const lossy = states.length - broken
  return [broken > 0 ? `${broken} broken` : '', lossy > 0 ? `${lossy} with added loss` : ''].filter(Boolean).join(', ')
}
