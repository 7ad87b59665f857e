import { CodedError } from '../../errors/index.ts'

/** Owning a tool against renting it, in any one currency. */
export interface RentOrBuy {
  price: number
  /** Years it is kept, and what it is worth then. */
  years: number
  resale: number
  /** Service, calibration, blades, electrodes a year. */
  upkeep: number
  rentPerDay: number
  /** Days of use a year. */
  days: number
}

/**
 * Cost a year of owning (price less resale over the years, and upkeep) and of renting, and the days at which both cost
 * the same. Straight-line depreciation, no interest.
 * @throws CodedError when years are not above 0
 */
export function rentOrBuy({ price, years, resale, upkeep, rentPerDay, days }: RentOrBuy) {
  if (!(years > 0)) throw new CodedError('out-of-range', 'it must be kept for more than 0 years')
  const own = (price - resale) / years + upkeep
  const rent = rentPerDay * days
  return {
    own,
    rent,
    evenAtDays: rentPerDay > 0 ? own / rentPerDay : Infinity,
    better: own < rent ? 'buy' : 'rent',
  } as const
}
