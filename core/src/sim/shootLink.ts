import { CodedError } from '../errors/index.ts'
import { buildThread, groupIndexOf } from '../plant/thread.ts'
import type { Direction, PlantBundle } from '../plant/types.ts'
import { encodeTrace } from '../trace/trace.ts'
import type { Damage } from './damage.ts'
import { modelOfLink, type Cords, type LinkOptics } from './linkModel.ts'
import { averagingStages, DEFAULT_INSTRUMENT, shoot, type Instrument, type ShotSettings, type Stage } from './otdr.ts'
import { seededRandom } from '../math/random.ts'

export interface LinkShot {
  direction: Direction
  wavelength: number
  cords: Cords
  /** ISO 8601 UTC; written into the file. */
  takenAt: string
  condition: 'BC' | 'CC' | 'RC' | 'OT'
  /** Seed of this shot's noise. */
  seed: number
  damages?: readonly Damage[]
  instrument?: Instrument
  settings?: Partial<Omit<ShotSettings, 'wavelength'>>
}

/**
 * Shoots a link of a plant with the simulated OTDR and writes the trace as a file.
 * @param plant the plant as it truly is (the records may differ)
 * @param stopAt averages at which averaging was stopped, one of the stages of {@link watchLink}
 * @returns SR-4731 bytes; the instrument's name says that it is simulated
 * @throws CodedError for a stage that the shot does not have
 */
export function shootLink(
  plant: PlantBundle,
  linkId: string,
  optics: LinkOptics,
  shot: LinkShot,
  stopAt?: number,
): Uint8Array {
  const { link, model, instrument, settings } = setUp(plant, linkId, optics, shot)
  const random = seededRandom(shot.seed)
  const stage =
    stopAt === undefined
      ? { ...shoot(model, instrument, settings, random), averages: settings.averages }
      : averagingStages(model, instrument, settings, random).find(({ averages }) => averages === stopAt)
  if (!stage) throw new CodedError('out-of-range', `the shot shows nothing at ${stopAt} averages`)
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const [near, far] = shot.direction === 'ab' ? [link.from, link.to] : [link.to, link.from]
  const firstStep = link.path.find((step) => 'cable' in step) as { cable: string; fiber: number }
  return encodeTrace({
    levels: stage.levels,
    firstDistance: stage.firstDistance,
    spacing: settings.spacing,
    wavelength: shot.wavelength,
    pulseWidth: settings.pulseWidth,
    groupIndex: settings.groupIndex,
    backscatter: instrument.backscatterSetting,
    averages: stage.averages,
    range: settings.range,
    takenAt: shot.takenAt,
    cableId: link.id,
    fiberId: String(firstStep.fiber),
    locationA: nameOf(near),
    locationB: nameOf(far),
    instrument: instrument.name,
    condition: shot.condition,
    comment: 'simulated',
  })
}

/** The same shot as it shows while its averages add up. */
export function watchLink(
  plant: PlantBundle,
  linkId: string,
  optics: LinkOptics,
  shot: LinkShot,
): { stages: Stage[]; settings: ShotSettings } {
  const { model, instrument, settings } = setUp(plant, linkId, optics, shot)
  return { stages: averagingStages(model, instrument, settings, seededRandom(shot.seed)), settings }
}

function setUp(plant: PlantBundle, linkId: string, optics: LinkOptics, shot: LinkShot) {
  const thread = buildThread(plant, linkId, shot.direction)
  const link = plant.links.find((candidate) => candidate.id === linkId)!
  const instrument = shot.instrument ?? DEFAULT_INSTRUMENT
  const settings = settingsFor(thread.fiberLength + shot.cords.launch + shot.cords.receive, shot)
  settings.groupIndex =
    shot.settings?.groupIndex ?? groupIndexOf(thread.cables.get(thread.pieces[0]!.cable)!, shot.wavelength)
  const model = modelOfLink(thread, optics, shot.wavelength, shot.cords, shot.damages)
  return { link, model, instrument, settings }
}

/** Settings that suit the length: a range well past the end, a pulse and spacing that still show what lies close. */
function settingsFor(length: number, shot: LinkShot): ShotSettings {
  const long = length > 15_000
  return {
    wavelength: shot.wavelength,
    pulseWidth: long ? 300e-9 : 30e-9,
    spacing: long ? 2.5 : 1,
    range: Math.max(1500, length * 1.25 + 500),
    averages: long ? 2 ** 17 : 2 ** 15,
    groupIndex: 1.468,
    ...shot.settings,
  }
}
