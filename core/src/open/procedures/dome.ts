import type { Procedure } from './procedure.ts'

const source = 'common practice, no published source'

export const DOME_OPEN: Procedure = {
  id: 'dome-open',
  version: 2,
  name: 'Gel-sealed dome: open',
  part: 'open',
  rank: 1,
  for: { closure: ['gel-dome'], work: ['re-enter', 'bring-in'] },
  source,
  steps: [
    {
      id: 'vent',
      do: 'Take the valve’s cap off, press its core until no pressure or vacuum is left, put the cap back.',
      why: 'every time, new or in service',
      cautions: ['pressure'],
      acknowledge: true,
    },
    {
      id: 'clamp-ring',
      do: 'Take the clamp ring off.',
      locks: [{ step: 'dome-open.vent', why: 'a closure under pressure can throw its dome: vent it first' }],
      exposes: ['closure open'],
    },
    {
      id: 'slide-out',
      do: 'Turn insert and key mark up, so that the base comes out basket up; slide it out.',
      locks: [{ step: 'dome-open.clamp-ring', why: 'the clamp ring holds the base' }],
    },
    {
      id: 'dome-aside',
      do: 'Lay the dome where its O-ring stays clean. Dirt on O-ring or gel: cold clean water, nothing else.',
    },
    {
      id: 'stand',
      do: 'Base on a stand, both clamps locked. Check both.',
      tools: ['closure stand'],
    },
    {
      id: 'found',
      do: 'Take the closure’s state as found: a photo, cables in their ports, fibers in the trays.',
      why: 'what the record says is compared with what is here, before anything moves',
      fields: [{ id: 'cables', label: 'Cables in its ports', unit: '', kind: 'count', nominal: 'cables' }],
      photo: true,
      closureState: 'found',
      when: { inService: true },
    },
    {
      id: 'neighbours',
      do: 'Find the tubes and trays of {neighbours}. They carry traffic, or nobody knows: they stay as they lie.',
      why: 'a bend or a pull on them is an outage',
      locks: [{ step: 'place.neighbours', why: 'the desk knows before anything beside live fibers moves' }],
      when: { liveNeighbours: true },
    },
    {
      id: 'trays-out',
      do: 'Both straps off; trays off their hinge pins, the pin spread with a blunt blade; an inner basket off by its two release tabs. All put away safely.',
      why: 'the basket must be reached, also in a new closure that came with trays',
      locks: [{ step: 'dome-open.neighbours', why: 'what must not move is known before trays move' }],
      exposes: ['trays out', 'fibers bare'],
      when: { work: ['bring-in'] },
    },
    {
      id: 'ports-up',
      do: 'Base basket down, ports up, while cables go in.',
      locks: [{ step: 'dome-open.trays-out', why: 'trays would lie under the base' }],
      when: { work: ['bring-in'] },
    },
    {
      id: 'tray',
      do: 'Straps off; open the tray that is worked on.',
      locks: [{ step: 'dome-open.neighbours', why: 'what must not move is known before trays move' }],
      exposes: ['fibers bare'],
      when: { work: ['re-enter'] },
    },
  ],
}

export const DOME_ENTER: Procedure = {
  id: 'dome-enter',
  version: 2,
  name: 'Gel-sealed dome: bring a cable in',
  part: 'enter',
  rank: 1,
  for: { closure: ['gel-dome'], work: ['bring-in'] },
  source,
  steps: [
    {
      id: 'port',
      do: 'Choose the port. By habit and the record: {port}. Any port may take any cable; one diameter to a port.',
      why: 'by habit 1 and 2 take the through cable, 3 and 4 branches, 5 and 6 drops',
      fields: [{ id: 'port', label: 'Port', unit: '', kind: 'number' }],
    },
    {
      id: 'wedge-out',
      do: 'Release the wedge, take the plug out, press the base gel back.',
      locks: [{ step: 'dome-enter.port', why: 'only the port that is used is opened' }],
    },
    {
      id: 'screw-open',
      do: 'Compression screw fully open; draw the wedge gel out. Each time. Gel that has come off its base goes back with its tabs engaged.',
    },
    { id: 'clean', do: 'Clean the cable from the clamp to the end of the gel.' },
    {
      id: 'sheath-attachment',
      do: 'Set the sheath’s end at the edge of the cable attachment.',
      when: { sheathEnd: 'attachment' },
    },
    {
      id: 'sheath-basket',
      do: 'Run the sheath on to the basket.',
      when: { sheathEnd: 'basket' },
    },
    {
      id: 'armor-end',
      do: 'End the armor at the attachment, wherever the sheath ends.',
      when: { armored: true },
    },
    {
      id: 'water-block',
      do: 'Water-block tape may stay {tape-past} past the sheath cut and run to the basket; there it and the fiber are tied at the yoke.',
      when: { strengthMember: false },
    },
    {
      id: 'bond-plate',
      do: 'Bond plate into the armor, fastened, its lug to the side for clearance. Whether and how armor is grounded is for local codes and the operator to say.',
      why: 'it can’t be fitted once the cable is in the closure',
      parts: ['bond kit'],
      when: { armored: true, grounded: true },
    },
    {
      id: 'member',
      do: 'Strength member under its bolt, no tube beneath it.',
      why: 'a tube under the bolt is crushed',
      when: { strengthMember: true },
    },
    {
      id: 'no-member',
      do: 'No member to hold: break the attachment’s member retainer off and throw it away. Clamp and bracket hold the sheath itself.',
      when: { strengthMember: false },
    },
    {
      id: 'turn-rods',
      do: 'Turn rods and lug so that the wedge has clearance.',
      when: { strengthMember: false },
    },
    {
      id: 'tape',
      do: 'The cable is thinner than {bushing-below}: build it up with tape where the bracket grips.',
      parts: ['tape'],
      when: { thin: true },
    },
    {
      id: 'bracket',
      do: 'Clamp’s screw in its nest; spur bracket with its opening towards the basket.',
    },
    { id: 'clamp-snug', do: 'Clamp snug.' },
    {
      id: 'clamp-align',
      do: 'Align the cable in the clamp.',
      locks: [{ step: 'dome-enter.clamp-snug', why: 'first snug, then aligned, then tight' }],
    },
    {
      id: 'lower',
      do: 'Guide attachment and fiber in with nothing pinched; lower it onto its alignment tab, the clamp’s tail tucked into its holder.',
      locks: [{ step: 'dome-enter.bond-plate', why: 'the bond plate can’t be fitted once the cable is in' }],
    },
    {
      id: 'retention-bolt',
      do: 'Tighten the retention bolt with the can wrench.',
      tools: ['can wrench'],
      locks: [{ step: 'dome-enter.lower', why: 'the bolt holds what is seated' }],
    },
    {
      id: 'seated',
      do: 'Look: the attachment is fully seated, nothing is pinched.',
      test: 'look',
      locks: [{ step: 'dome-enter.retention-bolt', why: 'it is looked at as it will stay' }],
    },
    {
      id: 'clearance',
      do: 'Check once more that rods, lug and wedge clear each other.',
      locks: [{ step: 'dome-enter.seated', why: 'what clears shows once it is seated' }],
    },
    {
      id: 'clamp-tight',
      do: 'Tighten the clamp, with an eye on the loss.',
      why: 'too tight hurts fiber, or adds loss for a while',
      watch: true,
      locks: [
        { step: 'dome-enter.clamp-align', why: 'first snug, then aligned, then tight' },
        { step: 'dome-enter.clearance', why: 'after the last turn nothing can be turned away from the wedge' },
      ],
    },
    {
      id: 'ground-before',
      do: 'Ground cable from its kit to the stud; studs linked or not as the operator says.',
      parts: ['bond kit'],
      locks: [{ step: 'dome-enter.bond-plate', why: 'it runs from the bond plate' }],
      when: { armored: true, grounded: true, groundCable: 'before-wedge' },
    },
    {
      id: 'wedge',
      do: 'Both gels clean. Two lower lugs in, turn the wedge up, latch pressed and locked; look at top and bottom.',
      locks: [{ step: 'dome-enter.clamp-tight', why: 'the clamp holds the cable before the wedge closes on it' }],
    },
    {
      id: 'ground-after',
      do: 'Ground cable from its kit to the stud; studs linked or not as the operator says.',
      parts: ['bond kit'],
      locks: [{ step: 'dome-enter.bond-plate', why: 'it runs from the bond plate' }],
      when: { armored: true, grounded: true, groundCable: 'after-wedge' },
    },
    {
      id: 'bushing',
      do: 'Bushing over the cable, its tie’s head in the bushing’s opening; draw the tie just closed, not deformed; push it up to the port past the gel’s fingers.',
      why: 'it can’t be done once the compression screw is engaged',
      when: { thin: true },
    },
    {
      id: 'turn-over',
      do: 'Turn the whole base over without dragging a tube; fasten the fibers near the yoke.',
    },
  ],
}

export const DOME_CLOSE: Procedure = {
  id: 'dome-close',
  version: 1,
  name: 'Gel-sealed dome: close',
  part: 'close',
  rank: 1,
  for: { closure: ['gel-dome'], work: ['re-enter', 'bring-in'] },
  source,
  steps: [
    {
      id: 'trays-in',
      do: 'Trays on their hinge pins, both straps on; no tube pinched.',
      covers: ['trays out', 'fibers bare'],
    },
    {
      id: 'plugs',
      do: 'Count plugs and cables: together {ports}. A port without either is a leak.',
      fields: [{ id: 'ports', label: 'Ports with plug or cable', unit: '', kind: 'count', nominal: 'ports' }],
    },
    {
      id: 'screws',
      do: 'Tighten all {ports} compression screws.',
      fields: [{ id: 'screws', label: 'Screws tight', unit: '', kind: 'count', nominal: 'ports' }],
      locks: [
        { step: 'dome-enter.bushing', why: 'the bushing can’t pass the gel once the compression screw is engaged' },
        { step: 'dome-enter.wedge', why: 'the wedge goes in before the gel is pressed' },
        { step: 'dome-enter.turn-over', why: 'the base is turned over before the screws' },
      ],
    },
    {
      id: 'left',
      do: 'Take the closure’s state as left: a photo before the dome goes on.',
      photo: true,
      closureState: 'left',
      locks: [{ step: 'dome-close.trays-in', why: 'the photo shows how it is left' }],
    },
    {
      id: 'dome-on',
      do: 'O-ring clean; dome on, ring on, handle closed. Watch the loss.',
      why: 'closing is when bends and pinches happen',
      watch: true,
      locks: [
        { step: 'dome-close.screws', why: 'all screws are tight before the dome goes on' },
        { step: 'dome-close.plugs', why: 'a missing plug is a leak' },
        { step: 'dome-close.left', why: 'under the dome nothing can be seen any more' },
        { step: 'joints.done', why: 'the joints are made before the dome goes on' },
      ],
      covers: ['closure open', 'cable cut'],
    },
    {
      id: 'pressure',
      do: 'Pressure test with a regulated source, to the closure’s own figure and never above it. Look for bubbles.',
      test: 'pressure',
      tools: ['pressure test set'],
      locks: [{ step: 'dome-close.dome-on', why: 'an open closure can’t be tested' }],
      exposes: ['pressure in the closure'],
    },
    {
      id: 'release',
      do: 'Let the pressure out; cap on.',
      cautions: ['pressure'],
      acknowledge: true,
      locks: [{ step: 'dome-close.pressure', why: 'the test comes first' }],
      covers: ['pressure in the closure'],
    },
    {
      id: 'again',
      do: 'Measure again with the closure closed.',
      why: 'closing is when bends and pinches happen',
      watch: true,
      locks: [{ step: 'dome-close.release', why: 'measured as it is left, without pressure' }],
    },
  ],
}
