/** Numbers of fibers in words, rows of them together: "4, 7–9". */
export function ranges(numbers: readonly number[]): string {
  const out: [number, number][] = []
  for (const number of [...numbers].sort((a, b) => a - b)) {
    const last = out.at(-1)
    if (last && number === last[1] + 1) last[1] = number
    else out.push([number, number])
  }
  return out.map(([a, b]) => (a === b ? String(a) : b === a + 1 ? `${a}, ${b}` : `${a}–${b}`)).join(', ')
}
