import type { LossFigure, Proof } from '@cold-thread/core/prove'

type Cell = string | number | null

/** Readings of a proof and of loss tests as rows under a header with units; figures unrounded, empty where not measured. */
export function readingsTable(proof: Proof, losses: readonly LossFigure[]): { fields: string[]; data: Cell[][] } {
  const fields = [
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
  ]
  const events = proof.events.map((event): Cell[] => [
    event.wavelength,
    event.chainage,
    event.place,
    event.kind,
    event.status,
    event.lossBefore,
    event.lossAfter,
    event.lossTwoWay,
    event.lossSigma,
    event.reflectanceBefore,
    event.reflectanceAfter,
    event.limit,
    event.limitSource,
    event.holds,
    null,
    null,
  ])
  const totals = Object.entries(proof.total).map(([wavelength, total]): Cell[] => [
    Number(wavelength),
    null,
    'whole link',
    'total',
    '',
    total.before,
    total.after,
    total.after,
    total.afterSigma,
    null,
    null,
    total.allowed,
    total.allowed === null ? '' : total.before === null ? 'budget' : 'baseline + what the repair adds',
    '',
    total.orlBefore ?? null,
    total.orlAfter ?? null,
  ])
  const tests = losses.map(({ reading, wavelength, name, from, loss, sigma, budget, word }): Cell[] => [
    wavelength,
    null,
    `${name}, from ${from}`,
    'loss test',
    '',
    null,
    loss,
    null,
    sigma,
    null,
    null,
    budget.allowed,
    `budget, ${reading.reference.method} reference`,
    word,
    null,
    null,
  ])
  return { fields, data: [...events, ...totals, ...tests] }
}
