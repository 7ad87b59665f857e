/** Pressure at 0 °C on the kelvin scale. */
const ZERO_CELSIUS = 273.15

/** Readings of a pressure test. Pressures in Pa: gauge as read, ambient absolute; temperatures of the closure in °C. */
export interface PressureTest {
  startGauge: number
  startTemperature: number
  endGauge: number
  endTemperature: number
  minutes: number
  ambient: number
}

/** How finely a gauge and a thermometer are read, one standard uncertainty: Pa and °C (judgement: 0.2 kPa, 0.5 °C). */
export const READING_SIGMA = { gauge: 200, temperature: 0.5 } as const

export interface PressureJudgement {
  outcome: 'holds' | 'close' | 'leaks' | 'not a test'
  /** Gauge reading that the same gas gives at the end's temperature, Pa. */
  expectedGauge: number
  /** What is missing beyond that, Pa, with its standard uncertainty; negative: more than expected. */
  lost: number
  lostSigma: number
  reasons: string[]
}

/**
 * Gauge pressure of a closed volume at another temperature, Pa: p₂ = p₁·T₂/T₁ with absolute pressure and kelvin
 * (gas law of constant volume).
 */
export function gaugeAt(gauge: number, from: number, to: number, ambient: number): number {
  return ((gauge + ambient) * (to + ZERO_CELSIUS)) / (from + ZERO_CELSIUS) - ambient
}

/**
 * Whether a closure is tight: what is missing at the end over what cooling or warming explains, against what it may lose.
 * A figure nearer to its limit than twice its uncertainty is close, not good.
 * @param limit the closure's own figures: test pressure and what it may lose, Pa, in so many minutes
 */
export function judgePressure(
  test: PressureTest,
  limit: { test: number; minutes: number; mayLose: number },
): PressureJudgement {
  const expectedGauge = gaugeAt(test.startGauge, test.startTemperature, test.endTemperature, test.ambient)
  const lost = expectedGauge - test.endGauge
  const kelvin = test.startTemperature + ZERO_CELSIUS
  const absolute = test.startGauge + test.ambient
  // Both gauges and both thermometers are read once each (JCGM 100: root of the sum of squares).
  const lostSigma = Math.hypot(
    READING_SIGMA.gauge,
    READING_SIGMA.gauge,
    (absolute / kelvin) * READING_SIGMA.temperature,
    (absolute / kelvin) * READING_SIGMA.temperature,
  )
  const kPa = (value: number) => `${(value / 1000).toFixed(1)} kPa`
  const reasons: string[] = []
  const notATest: string[] = []
  // A person reads the gauge; a fifth of a kilopascal is not "above".
  if (test.startGauge > limit.test + READING_SIGMA.gauge)
    notATest.push(`${kPa(test.startGauge)} is above the closure’s figure of ${kPa(limit.test)}: let it out at once`)
  else if (test.startGauge < limit.test - 5 * READING_SIGMA.gauge)
    notATest.push(`${kPa(test.startGauge)} is below the closure’s figure of ${kPa(limit.test)}`)
  if (test.minutes < limit.minutes)
    notATest.push(`${test.minutes} minutes are fewer than the ${limit.minutes} that the closure’s sheet asks for`)
  if (test.startGauge > 0 && test.endTemperature !== test.startTemperature)
    reasons.push(
      `${test.endTemperature > test.startTemperature ? 'warming' : 'cooling'} alone takes ${kPa(test.startGauge)} to ${kPa(expectedGauge)}`,
    )
  reasons.push(
    `${kPa(lost)} ± ${kPa(lostSigma)} are missing beyond that, ${kPa(limit.mayLose)} may be lost in ${limit.minutes} min`,
  )
  if (notATest.length > 0) return { outcome: 'not a test', expectedGauge, lost, lostSigma, reasons: notATest }
  const over = lost - limit.mayLose
  if (over > 2 * lostSigma) return { outcome: 'leaks', expectedGauge, lost, lostSigma, reasons }
  if (over > -2 * lostSigma) {
    reasons.push('that is nearer to the limit than the readings can tell: test longer, or with a finer gauge')
    return { outcome: 'close', expectedGauge, lost, lostSigma, reasons }
  }
  return { outcome: 'holds', expectedGauge, lost, lostSigma, reasons }
}
