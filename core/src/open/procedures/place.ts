import type { Procedure } from './procedure.ts'

const source = 'common practice, no published source'

/** Before the closure is touched: the ground, the word of the desk. */
export const AT_THE_PLACE: Procedure = {
  id: 'place',
  version: 1,
  name: 'At the place',
  part: 'site',
  rank: 1,
  for: { work: ['re-enter', 'bring-in', 'prepare', 'panel'] },
  source,
  steps: [
    {
      id: 'dig',
      do: 'Have buried services located on site before the first spade.',
      cautions: ['dig', 'road'],
      acknowledge: true,
      when: { ground: ['dig'] },
    },
    {
      id: 'chamber',
      do: 'Test the gas, ventilate, and keep measuring while anybody is below.',
      cautions: ['confined', 'road'],
      acknowledge: true,
      tools: ['gas meter', 'ventilator'],
      when: { ground: ['chamber'] },
    },
    {
      id: 'height',
      do: 'Secure ladder or platform; keep the distances to power lines.',
      cautions: ['height', 'road'],
      tools: ['platform', 'harness'],
      when: { ground: ['aerial'] },
    },
    {
      id: 'window',
      do: 'Get the desk’s word and the window: circuits on {cable} carry traffic, or nobody knows.',
      why: 'one wrong touch here takes down what still works',
      cautions: ['traffic', 'light'],
      acknowledge: true,
      when: { live: true },
    },
    {
      id: 'neighbours',
      do: 'Get the desk’s word for {place}: circuits on {neighbours} carry traffic, or nobody knows.',
      why: 'what lies beside the work can be hurt by it',
      cautions: ['traffic', 'light'],
      acknowledge: true,
      when: { work: ['re-enter', 'bring-in', 'panel'], liveNeighbours: true },
    },
  ],
}

/** Nothing is cut before the cable is known and free of voltage. */
export const BEFORE_ANY_CUT: Procedure = {
  id: 'identify',
  version: 1,
  name: 'Before any cut',
  part: 'identify',
  rank: 1,
  for: { work: ['bring-in', 'prepare'] },
  source,
  steps: [
    {
      id: 'print',
      do: 'Read tag and sheath print; compare with the record: {cable}, {construction}, {fibers} fibers.',
      fields: [{ id: 'print', label: 'Tag or sheath print', unit: '', kind: 'text' }],
      photo: true,
    },
    {
      id: 'second-way',
      do: 'Name the cable a second way: tone on it, or a bend made here and seen on the trace of a dark fiber.',
      why: 'tags are moved, prints repeat: two ways that do not lean on each other',
      cautions: ['identity'],
      acknowledge: true,
      tools: ['otdr'],
      locks: [{ step: 'identify.print', why: 'the second way confirms what the first one said' }],
    },
    {
      id: 'power-off',
      do: 'Disconnect the active cable at both ends.',
      cautions: ['power'],
      acknowledge: true,
      when: { construction: ['active-4'] },
    },
    {
      id: 'voltage',
      do: 'Prove armor, copper, tracer wire and messenger free of voltage.',
      cautions: ['voltage'],
      acknowledge: true,
      when: { metallic: true },
    },
    {
      id: 'continuity',
      do: 'Keep the armor bonded across the opening where local rules say so.',
      when: { armored: true },
    },
    {
      id: 'dark',
      do: 'Show dark each fiber that will be cut.',
      cautions: ['dark', 'light'],
      acknowledge: true,
      tools: ['fiber identifier'],
    },
    {
      id: 'cut-word',
      do: 'Wait for the lead’s word to cut.',
      hold: 'the cable carries traffic, or nobody knows: a second person says that this is the cable',
      locks: [
        { step: 'identify.second-way', why: 'the lead can only agree to a cable that is named two ways' },
        { step: 'identify.dark', why: 'the lead can only agree when the fibers are shown dark' },
      ],
      when: { live: true },
    },
    {
      id: 'twist',
      do: 'Take every twist out of the cable.',
      why: 'a twist left in stays in the tubes and presses on them once the sheath is off',
      when: { entry: ['mid-span'] },
    },
  ],
}

/** Everything that cuts waits for these. */
export const CUT_LOCKS = [
  { step: 'identify.second-way', why: 'the cable is named two ways before it is cut' },
  { step: 'identify.voltage', why: 'metal parts are proved free of voltage before they are touched' },
  { step: 'identify.power-off', why: 'an active cable is without power before it is cut' },
  { step: 'identify.dark', why: 'what is cut was shown dark' },
  { step: 'identify.cut-word', why: 'the lead gave the word to cut' },
  { step: 'identify.twist', why: 'twists come out while the sheath still holds the core' },
] as const
