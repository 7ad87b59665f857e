import type { Direction, PlantBundle } from '@cold-thread/core/plant'
import { judgeTrunk, type LoggedTrunk, type LossFigure, type Proof, type ReceivedPower } from '@cold-thread/core/prove'

const FIELDS = [
  'wavelength_nm',
  'chainage_m',
  'place',
  'kind',
  'status',
  'loss_before_dB',
  'loss_after_dB',
  'loss_two_way_dB',
  'loss_sigma_dB',
  'reflectance_before_dB',
  'reflectance_after_dB',
  'limit_dB',
  'limit_source',
  'holds',
  'orl_before_dB',
  'orl_after_dB',
  'return_loss_dB',
  'power_before_dBm',
  'power_after_dBm',
] as const
type Row = Partial<Record<(typeof FIELDS)[number], string | number | null>>

/** What was read for a proof: of traces, by source and meter, of trunks, and what the receivers saw. */
export interface Readings {
  proof: Proof
  losses: readonly LossFigure[]
  trunks: readonly LoggedTrunk[]
  received: readonly ReceivedPower[]
  plant: PlantBundle
}

/** Readings of a proof as rows under a header with units; figures unrounded, empty where not measured. */
export function readingsTable({ proof, losses, trunks, received, plant }: Readings): {
  fields: string[]
  data: (string | number | null)[][]
} {
  const rows = [
    ...proof.events.map((event): Row => ({
      wavelength_nm: event.wavelength,
      chainage_m: event.chainage,
      place: event.place,
      kind: event.kind,
      status: event.status,
      loss_before_dB: event.lossBefore,
      loss_after_dB: event.lossAfter,
      loss_two_way_dB: event.lossTwoWay,
      loss_sigma_dB: event.lossSigma,
      reflectance_before_dB: event.reflectanceBefore,
      reflectance_after_dB: event.reflectanceAfter,
      limit_dB: event.limit,
      limit_source: event.limitSource,
      holds: event.holds,
    })),
    ...Object.entries(proof.total).map(([wavelength, total]): Row => ({
      wavelength_nm: Number(wavelength),
      place: 'whole link',
      kind: 'total',
      loss_before_dB: total.before,
      loss_after_dB: total.after,
      loss_two_way_dB: total.after,
      loss_sigma_dB: total.afterSigma,
      limit_dB: total.allowed,
      limit_source: total.allowed === null ? '' : total.before === null ? 'budget' : 'baseline + what the repair adds',
      orl_before_dB: total.orlBefore,
      orl_after_dB: total.orlAfter,
    })),
    ...losses.map(({ reading, wavelength, name, from, loss, sigma, budget, word }): Row => ({
      wavelength_nm: wavelength,
      place: `${name}, from ${from}`,
      kind: 'loss test',
      loss_after_dB: loss,
      loss_sigma_dB: sigma,
      limit_dB: budget.allowed,
      limit_source: `budget, ${reading.reference.method} reference`,
      holds: word,
    })),
    ...trunks.flatMap((test) => {
      const { allowed, sigma, channels } = judgeTrunk(test)
      return channels.map(({ channel, word }): Row => {
        const { at, loss, returnLoss } = test.channels[channel - 1]!
        const out = at === null ? '' : at === 0 ? ', out nowhere' : `, out at ${at}`
        return {
          wavelength_nm: test.wavelength,
          place: `${test.trunk}, ${test.end} end, channel ${channel}${out}`,
          kind: 'trunk channel',
          loss_after_dB: loss,
          loss_sigma_dB: loss === null ? null : sigma,
          limit_dB: allowed,
          limit_source: 'two mated pairs',
          holds: word,
          return_loss_dB: returnLoss,
        }
      })
    }),
    ...received.map(({ link, way, wavelength, before, after }): Row => ({
      wavelength_nm: wavelength,
      place: receiverOf(plant, link, way),
      kind: 'received power',
      power_before_dBm: before,
      power_after_dBm: after,
    })),
  ]
  return { fields: [...FIELDS], data: rows.map((row) => FIELDS.map((field) => row[field] ?? null)) }
}

/** Where the receiver of a link is that light of a way comes to. */
function receiverOf({ links, nodes }: PlantBundle, linkId: string, way: Direction): string {
  const link = links.find(({ id }) => id === linkId)
  if (!link) return linkId
  const node = way === 'ab' ? link.to : link.from
  return `${link.name}, at ${nodes.find(({ id }) => id === node)?.name ?? node}`
}
