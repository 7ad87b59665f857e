const grouped = new Intl.NumberFormat('en', { maximumFractionDigits: 0 })

/** Whole metres in words, thousands set apart: "12 734 m". */
export function metres(value: number): string {
  return `${grouped.format(Math.round(value)).replaceAll(',', '\u202f')}\u00a0m`
}
