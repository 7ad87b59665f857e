/** A connector's end: its type and polish, as a link's record has them. */
export interface Ferrule {
  connector: string
  polish: string
}

/** Ferrule diameters, mm; multi-fiber ones are rectangular (common practice). */
const DIAMETERS: Readonly<Record<string, number | 'rectangular'>> = {
  SC: 2.5,
  ST: 2.5,
  FC: 2.5,
  LC: 1.25,
  MPO: 'rectangular',
}

/** Why two ends must never be mated; null where nothing stands against it (common practice, no published source). */
export function matingConflict(a: Ferrule, b: Ferrule): string | null {
  const angled = ({ polish }: Ferrule) => polish.toUpperCase() === 'APC'
  if (angled(a) !== angled(b))
    return `${a.polish} and ${b.polish} must never be mated: an angled end against a straight one leaves a gap and hurts both`
  const [x, y] = [DIAMETERS[a.connector.toUpperCase()], DIAMETERS[b.connector.toUpperCase()]]
  if (x !== undefined && y !== undefined && x !== y) {
    const words = (size: number | 'rectangular') => (size === 'rectangular' ? size : `${size} mm`)
    return `ferrules of ${a.connector} and ${b.connector} differ, ${words(x)} and ${words(y)}: they need a hybrid adapter made for them`
  }
  return null
}
