import { countOf, kindName, type Demand, type Kit } from '../../kit/index.ts'

/** What does instead of another where it works, with what it costs. Common practice, no published source. */
const SUBSTITUTES: Record<string, readonly { kind: string; but: string }[]> = {
  pigtail: [{ kind: 'splice-on connector', but: 'about the same loss' }],
  'splice-on connector': [{ kind: 'pigtail', but: 'needs a tray for its splice' }],
  'mechanical connector': [{ kind: 'pigtail', but: 'needs a splicer' }],
  'ribbon sleeve': [{ kind: 'splice sleeve', but: 'fibers one by one: slower' }],
  'surface cable': [{ kind: 'cable', but: 'stiffer, and gone from the store' }],
  'cleaning pen': [{ kind: 'wipe', but: 'adapters need a swab as well' }],
  'traffic signs': [],
  'launch cord': [{ kind: 'test cord', but: 'too short to show the first connector' }],
  'fiber identifier': [{ kind: 'power meter', but: 'only at an open connector' }],
}

/** Something in the kit that would do, in words; null where nothing does. */
export function substituteFor(kit: Kit, kind: string, count: number, demand: Demand): string | null {
  const found = (SUBSTITUTES[kind] ?? []).find((other) => countOf(kit, other.kind, demand) >= count)
  return found ? `${kindName(found.kind)} (${found.but})` : null
}
