/** A number as people type it, with a point or a comma; null for anything else. */
export function readNumber(text: string): number | null {
  const value = Number(text.trim().replace(',', '.').replace('\u2212', '-'))
  return text.trim() === '' || !Number.isFinite(value) ? null : value
}
