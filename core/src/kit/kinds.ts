/** A kind of thing in the kit: how it is called, how it is counted, and what it is for. */
export interface KitKind {
  kind: string
  name: string
  group: 'instrument' | 'tool' | 'access' | 'part' | 'consumable' | 'cord' | 'safety'
  /** What one of it is: `piece`, `m`. */
  unit: 'piece' | 'm'
}

const kinds = <Group extends KitKind['group']>(
  group: Group,
  names: Record<string, string>,
  unit: KitKind['unit'] = 'piece',
): KitKind[] => Object.entries(names).map(([kind, name]) => ({ kind, name, group, unit }))

/** The kinds that steps, parts and packing ask for. A splicer has one oven of its own. */
export const KIT_KINDS: readonly KitKind[] = [
  ...kinds('instrument', {
    otdr: 'OTDR',
    'light source': 'light source',
    'power meter': 'power meter',
    'visible light': 'visible light source',
    'fiber identifier': 'live fiber identifier',
    microscope: 'inspection microscope',
  }),
  ...kinds('tool', {
    splicer: 'fusion splicer',
    'ribbon splicer': 'ribbon fusion splicer',
    oven: 'sleeve oven',
    cleaver: 'cleaver',
    'thermal stripper': 'thermal stripper for ribbons',
    'sheath tools': 'sheath slitter, ring cutter, ripcord hook',
    'polishing set': 'polishing films, puck, scribe',
    'pressure test set': 'pressure test set with gauge',
    'closure stand': 'closure stand and tray keys',
    'can wrench': 'can wrench',
  }),
  ...kinds('access', {
    vehicle: 'vehicle',
    'traffic signs': 'traffic signs and cones',
    'cable locator': 'service locator',
    'digging gear': 'digging gear',
    'gas meter': 'gas meter',
    ventilator: 'ventilator',
    pump: 'water pump',
    platform: 'ladder or platform',
    'splicing tent': 'splicing tent and table',
    'cable winch': 'cable winch and rods',
  }),
  ...kinds('part', {
    closure: 'closure',
    tray: 'splice tray',
    pigtail: 'pigtail',
    'splice-on connector': 'splice-on connector',
    'mechanical connector': 'pre-polished mechanical connector',
    'connector body': 'connector for polishing',
    adapter: 'adapter',
    'mechanical splice': 'mechanical splice',
    'sealing kit': 'closure sealing kit',
    'bond kit': 'armor bond kit',
  }),
  ...kinds('part', { cable: 'cable', 'surface cable': 'surface-laid cable' }, 'm'),
  ...kinds('consumable', {
    'splice sleeve': 'splice sleeve',
    'ribbon sleeve': 'ribbon splice sleeve',
    wipe: 'lint-free wipe',
    'cleaning pen': 'connector cleaning pen',
    'anaerobic kit': 'anaerobic adhesive kit',
    'epoxy kit': 'epoxy with oven',
    'hot-melt kit': 'hot-melt connector oven',
    alcohol: 'fiber cleaning fluid',
    tape: 'tape, ties, labels',
  }),
  ...kinds('cord', { 'launch cord': 'launch cord', 'test cord': 'test cord', 'patch cord': 'patch cord' }),
  ...kinds('safety', {
    'eye protection': 'eye protection',
    gloves: 'cut-resistant gloves',
    'shard bin': 'closed bin for fiber shards',
    'high-visibility vest': 'high-visibility vest',
    harness: 'fall-arrest harness',
    'first-aid kit': 'first-aid kit',
  }),
]

export const SKILLS = [
  'splicing',
  'testing',
  'cabling',
  'digging',
  'traffic control',
  'confined space',
  'climbing',
] as const
export type Skill = (typeof SKILLS)[number]

/** How a kind is called; a kind of the operator's own is called by itself. */
export function kindName(kind: string): string {
  return KIT_KINDS.find((candidate) => candidate.kind === kind)?.name ?? kind
}
