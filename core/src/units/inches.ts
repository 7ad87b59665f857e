/** m in an international inch (exact since 1959). */
export const INCH = 0.0254

/** Tapes and rules are marked in sixteenths. */
const MARKS = 16

/** m between two marks of a tape. */
export const TAPE_MARK = INCH / MARKS

/** A length in inches as a tape shows it, to the nearest sixteenth: `2 1/4 in`, `3/8 in`. @param length m */
export function inches(length: number): string {
  const sixteenths = Math.round((length / INCH) * MARKS)
  const whole = Math.floor(sixteenths / MARKS)
  let [over, under] = [sixteenths % MARKS, MARKS]
  while (over > 0 && over % 2 === 0) [over, under] = [over / 2, under / 2]
  if (over === 0) return `${whole} in`
  return `${whole > 0 ? `${whole} ` : ''}${over}/${under} in`
}

/** Millimetres as they are read off a rule: tenths only below 20 mm. @param length m */
export function ruleMillimetres(length: number): number {
  return Number((length * 1000).toFixed(length < 0.02 ? 1 : 0))
}

/** A length in words, to what a rule shows: `51 mm`, `10.5 mm`, `1.975 m`, `2.00 m`. @param length m */
export function shortLength(length: number): string {
  if (length < 0.9995) return `${ruleMillimetres(length)} mm`
  return `${length.toFixed(3).replace(/0$/, '')} m`
}
