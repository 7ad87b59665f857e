import { describePlace } from '../../plant/describe.ts'
import type { Link, PlantBundle } from '../../plant/types.ts'
import { metres } from '../../units/index.ts'
import type { Fault } from '../locate.ts'

/** A fault as it is told: without the probability along the thread. */
type ToldFault = Omit<Fault, 'posterior'>

/** Where a fault is, in the words that a person drives by. */
export function faultPlaceInWords(plant: PlantBundle, fault: ToldFault): string {
  const likeliest = fault.places[0]
  if (likeliest?.node !== undefined && likeliest.probability >= 0.5)
    return `at ${plant.nodes.find((node) => node.id === likeliest.node)?.name ?? likeliest.node}`
  const where = describePlace(plant, fault.routeId, fault.cable, fault.chainage)
  if (Math.abs(where.offset) < 1) return `at ${where.reference}`
  return `${metres(Math.abs(where.offset))} from ${where.reference}${where.towards ? ` towards ${where.towards}` : ''}`
}

/** Whether a fault is, more likely than not, at a panel: indoors, where nobody digs. */
export function isAtPanel(plant: PlantBundle, fault: ToldFault): boolean {
  const [likeliest] = fault.places
  return (
    likeliest !== undefined &&
    likeliest.probability >= 0.5 &&
    plant.nodes.some((node) => node.id === likeliest.node && node.kind === 'panel')
  )
}

/** One line for the operations desk. */
export function statusLine(plant: PlantBundle, link: Link, faults: readonly ToldFault[]): string {
  return `${link.name}: ${faultsInWords(plant, faults)}.`
}

/** Every fault with its place, size and likeliest cause. */
export function faultsInWords(plant: PlantBundle, faults: readonly ToldFault[]): string {
  if (faults.length === 0) return 'no fault seen against the baseline'
  const parts = faults.map((fault) => {
    const [low, high] = fault.interval95
    const cause = fault.causes[0]
    const losses = Object.entries(fault.loss)
      .filter(([, loss]) => loss !== null)
      .map(([wavelength, loss]) => `${loss!.toFixed(2)} dB at ${wavelength} nm`)
    return [
      `${fault.breaks ? 'break' : 'added loss'} ${faultPlaceInWords(plant, fault)}, chainage ${metres(fault.chainage)}`,
      high - low < 0.5 ? '' : `95 % within ${metres(low)} to ${metres(high)}`,
      losses.join(', '),
      cause && fault.untold === null
        ? `likely ${cause.name} (${(100 * cause.probability).toFixed(0)} %)`
        : (fault.untold ?? ''),
      fault.goodEnoughToDig || isAtPanel(plant, fault) ? '' : 'not good enough to dig',
    ]
      .filter((part) => part !== '')
      .join('; ')
  })
  return parts.join('. ')
}
