import type { Procedure, ProcedureStep } from './procedure.ts'
import { CUT_LOCKS } from './place.ts'

const source = 'common practice, no published source'
const SHEATH = ['sheath tools', 'gloves'] as const

/** A step that cuts a sheath: gloves, and what must be known before. */
const cut = (step: ProcedureStep): ProcedureStep => ({
  ...step,
  cautions: ['blades', ...(step.cautions ?? [])],
  tools: SHEATH,
  locks: [...CUT_LOCKS, ...(step.locks ?? [])],
})

export const LOOSE_TUBE: Procedure = {
  id: 'loose-tube',
  version: 2,
  name: 'Stranded loose tube cable',
  part: 'prepare',
  rank: 1,
  for: { construction: ['loose-tube'], work: ['bring-in', 'prepare'] },
  source,
  steps: [
    { id: 'mark', do: 'Mark the sheath at {sheath} from the end: so much comes off.', when: { entry: ['end'] } },
    {
      id: 'marks',
      do: 'Mark the sheath on both sides of the opening: {sheath} come off.',
      when: { entry: ['mid-span'] },
    },
    cut({ id: 'ring-cut', do: 'Ring-cut the sheath where it is marked.', exposes: ['cable cut'] }),
    cut({ id: 'ripcord', do: 'Notch the sheath at a ripcord and pull the cord; take the sheath off.' }),
    {
      id: 'ripcord-left',
      do: 'Leave the ripcords {ripcord-left} beyond the armor’s end.',
      why: 'the armor is bonded here, and the cords are wanted again',
      when: { armored: true, grounded: true },
    },
    {
      id: 'strength-member',
      do: 'Trim the strength members for the closure’s retainer: {strength-member} stay.',
      fields: [
        {
          id: 'length',
          label: 'Strength member',
          unit: 'mm',
          kind: 'number',
          nominal: 'strength-member',
          tolerance: 0,
        },
      ],
      // A wall box has no retainer.
      when: { strengthMember: true, closureOtherThan: ['wall-box'] },
    },
    {
      id: 'inner-jacket',
      do: 'End the inner jacket as close to the armor as it can go.',
      when: { doubleJacket: true },
    },
    {
      id: 'count',
      do: 'Count the tubes against the record: {groups}.',
      fields: [{ id: 'groups', label: 'Tubes', unit: '', kind: 'count', nominal: 'groups' }],
      exposes: ['fibers bare'],
    },
  ],
}

export const MICRO_MODULE: Procedure = {
  id: 'micro-module',
  version: 2,
  name: 'Micro-module cable',
  part: 'prepare',
  rank: 1,
  for: { construction: ['micro-module'], entry: ['end'], work: ['bring-in', 'prepare'] },
  source,
  steps: [
    {
      id: 'plane',
      do: 'Bend the cable and find the plane it prefers. The two rods lie at the sides of the bend; slit on top and bottom.',
      why: 'there is no ripcord: the rods in opposite sides of the sheath must not be slit into',
    },
    cut({
      id: 'test-cut',
      do: 'Set the slitter’s depth in the last {test-cut}: the core is just visible, and no aramid fluff is on the blade.',
      test: 'look',
    }),
    { id: 'mark', do: 'Mark the sheath at {sheath} from the end.' },
    cut({
      id: 'ring-cut',
      do: 'Tube cutter at the mark: turn until it touches, then half a turn of feed and two turns round, again and again. Two cracks, one a rod: stop. A flex shows that both have gone.',
      why: 'any further and fibers are cut; a wheel that is blunt does not break the rods',
      fields: [
        { id: 'feeds', label: 'Half turns of feed after it touched', unit: '', kind: 'number' },
        { id: 'cracks', label: 'Cracks heard', unit: '', kind: 'number', nominal: 2, tolerance: 0 },
      ],
      locks: [{ step: 'micro-module.test-cut', why: 'the depth is known from the test cut' }],
      exposes: ['cable cut'],
    }),
    cut({
      id: 'slit',
      do: 'Slit from the ring cut to the end on both sides, away from the rods; open the halves and snap them off.',
      locks: [
        { step: 'micro-module.plane', why: 'slit only where no rod lies' },
        { step: 'micro-module.ring-cut', why: 'the slit begins at the ring cut, with both rods broken' },
      ],
    }),
    {
      id: 'aramid',
      do: 'Untangle the aramid and cut it: {aramid} stay, it is trimmed at the gland.',
      fields: [{ id: 'length', label: 'Aramid', unit: 'mm', kind: 'number', nominal: 'aramid', tolerance: 0 }],
    },
    {
      id: 'wrap',
      do: 'Cut the core wrap at the butt; pull the yarns out gently.',
      why: 'they stick to the modules and can tear them',
    },
    {
      id: 'count',
      do: 'Count the modules against the record: {groups}.',
      fields: [{ id: 'groups', label: 'Modules', unit: '', kind: 'count', nominal: 'groups' }],
      exposes: ['fibers bare'],
    },
  ],
}

export const ROLLABLE_RIBBON: Procedure = {
  id: 'rollable-ribbon',
  version: 2,
  name: 'Rollable-ribbon cable with wrapped core',
  part: 'prepare',
  rank: 1,
  for: { construction: ['rollable-ribbon'], entry: ['end'], work: ['bring-in', 'prepare'] },
  source,
  steps: [
    { id: 'mark', do: 'Mark the sheath at {mark}: what the closure asks for, and {allowance} more.' },
    cut({
      id: 'first-ring',
      do: 'Ring-cut {ring-cut} from the free end, not through the armor. Flex until it parts, take the piece off: the ripcords show.',
      exposes: ['cable cut'],
      when: { armored: true },
    }),
    cut({
      id: 'first-ring-plain',
      do: 'Ring-cut {ring-cut} from the free end. Flex until it parts, take the piece off: the ripcords show.',
      exposes: ['cable cut'],
      when: { armored: false },
    }),
    cut({
      id: 'ripcords',
      do: 'Notch beside each ripcord, wind it round something blunt, pull each to about {short-of-mark} short of the mark.',
    }),
    cut({
      id: 'ring-at-mark',
      do: 'Ring-cut at the mark and flex; pull the cords to it, part the halves, take binder and tape off.',
      locks: [
        { step: 'rollable-ribbon.mark', why: 'the cut is made at the mark' },
        { step: 'rollable-ribbon.ripcords', why: 'the cords come first: they open the sheath up to the cut' },
      ],
    }),
    {
      id: 'extend',
      do: 'Pull the ripcords past the mark and leave {ripcord-left} of them.',
      why: 'the armor is bonded here',
      when: { armored: true, grounded: true },
    },
    {
      id: 'inner-mark',
      do: 'Mark the inner jacket {inner-jacket} beyond the armor’s end. Its two ripcords lie opposite each other, under a slight ridge.',
      when: { doubleJacket: true },
    },
    cut({
      id: 'inner-open',
      do: 'Ring-cut the inner jacket near its free end and flex until the rods snap. Notch, pull the cords to about {inner-short} from the armor’s end.',
      locks: [{ step: 'rollable-ribbon.inner-mark', why: 'the mark comes before the cut' }],
      when: { doubleJacket: true },
    }),
    cut({
      id: 'inner-off',
      do: 'Ring-cut at its mark, pull the cords on to it, snap each half and cut it away.',
      locks: [{ step: 'rollable-ribbon.inner-open', why: 'the cords open the jacket up to the cut' }],
      when: { doubleJacket: true },
    }),
    {
      id: 'bench',
      do: 'Clear the bench: clean, dry, nothing to snag on. Only then expose fiber.',
      why: 'loose ribbons catch on everything',
    },
    {
      id: 'wrap',
      do: 'Open the white wrap and cut it, {wrap} left and folded back over the jacket’s edge; tape it. Take the water-blocking threads out.',
      locks: [{ step: 'rollable-ribbon.bench', why: 'the bench is ready before fiber lies open' }],
      exposes: ['fibers bare'],
    },
    {
      id: 'count',
      do: 'Count the bundles against the record: {groups}.',
      fields: [{ id: 'groups', label: 'Bundles', unit: '', kind: 'count', nominal: 'groups' }],
    },
    {
      id: 'bundle-ends',
      do: 'Cut {bundle-end} off the end of every bundle.',
      why: 'that part may have been hurt when the sheath came off',
      cautions: ['glass'],
      locks: [{ step: 'rollable-ribbon.count', why: 'count the bundles while their ends are whole' }],
    },
  ],
}

export const RIBBON: Procedure = {
  id: 'ribbon',
  version: 2,
  name: 'Ribbon cable: the sheath',
  part: 'prepare',
  rank: 1,
  for: { construction: ['ribbon'], entry: ['end'], work: ['bring-in', 'prepare'] },
  source: `${source}; the sheath has no procedure here`,
  steps: [
    cut({
      id: 'sheath',
      do: 'Open the sheath by the maker’s sheet of this cable: there is no procedure for it here.',
      exposes: ['cable cut', 'fibers bare'],
    }),
    {
      id: 'count',
      do: 'Count the tubes against the record: {groups}.',
      fields: [{ id: 'groups', label: 'Tubes', unit: '', kind: 'count', nominal: 'groups' }],
    },
  ],
}

export const ACTIVE_CABLE: Procedure = {
  id: 'active-4',
  version: 2,
  name: 'Four-fiber active cable',
  part: 'prepare',
  rank: 1,
  for: { construction: ['active-4'], entry: ['end'], work: ['prepare'] },
  source,
  steps: [
    cut({ id: 'head', do: 'Cut the head off.', exposes: ['cable cut'] }),
    cut({
      id: 'jacket',
      do: 'Take {active-jacket} of jacket off, in two pulls of {active-pull}.',
      locks: [{ step: 'active-4.head', why: 'the length counts from the fresh end' }],
    }),
    {
      id: 'find-tube',
      do: 'Find the 900 µm tube among copper and aramid; trim everything else.',
      exposes: ['fibers bare'],
    },
    {
      id: 'trim-others',
      do: 'One connector is made: trim the other fibers at the jacket.',
      locks: [{ step: 'active-4.find-tube', why: 'what is trimmed is known first' }],
      when: { connectors: 'one' },
    },
    {
      id: 'fan-out',
      do: 'Fit a fan-out kit: two to four connectors are made.',
      locks: [{ step: 'active-4.find-tube', why: 'its tubes take what was found' }],
      when: { connectors: 'several' },
    },
  ],
}
