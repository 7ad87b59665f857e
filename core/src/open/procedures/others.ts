import type { Condition } from '../sheet/facts.ts'
import type { Procedure } from './procedure.ts'

const source = 'common practice, no published source'

/** A closure in which ribbons are spliced; a panel module has steps of its own. */
const RIBBONS: Condition = { construction: ['ribbon', 'rollable-ribbon'], closureOtherThan: ['panel-module'] }

export const WALL_BOX: Procedure = {
  id: 'wall-box',
  version: 2,
  name: 'Wall or strand box: pigtails in',
  part: 'enter',
  rank: 1,
  for: { closure: ['wall-box'], work: ['bring-in'] },
  source,
  steps: [
    { id: 'tie', do: 'Tie the pigtails’ tubing at the right of the tray basket.', parts: ['pigtail', 'tape'] },
    { id: 'foam', do: 'Wrap each bundle, up to 12, in foam.' },
    { id: 'second', do: 'Second bundle on top of the first: there is room for it.', when: { moreFibersThan: 12 } },
    { id: 'felt', do: 'Felt round the transport tube, {felt} from its end.' },
    {
      id: 'feed',
      do: 'Feed up to 12 fibers through the tube until they come out.',
      cautions: ['glass'],
      locks: [{ step: 'wall-box.felt', why: 'the felt closes the tube round its fibers' }],
      exposes: ['fibers bare'],
    },
    {
      id: 'lead-up',
      do: 'Lead the tube up to the right of the basket, to just below where the pigtails’ tubing ends. Tie it there, the tie’s tail cut.',
      locks: [{ step: 'wall-box.tie', why: 'where the pigtails’ tubing ends is known once it is tied' }],
    },
    {
      id: 'loop',
      do: 'Loop the tube round the tray post to the left.',
      locks: [{ step: 'wall-box.lead-up', why: 'the tie holds the tube while it is looped' }],
    },
    {
      id: 'cut-tube',
      do: 'Mark the tube {tray-mark} inside the tray’s end; cut it there, felt on, two ties.',
      locks: [{ step: 'wall-box.loop', why: 'the loop takes up length: mark after it' }],
    },
    {
      id: 'store',
      do: 'One turn of fiber in the tray, no tighter than {storing-radius}; choose the sleeve holder, cut to length, store.',
      locks: [{ step: 'wall-box.cut-tube', why: 'fiber is cut to length once its tube is fixed' }],
    },
  ],
}

export const WALL_BOX_CLOSE: Procedure = {
  id: 'wall-box-close',
  version: 2,
  name: 'Wall or strand box: close',
  part: 'close',
  rank: 1,
  for: { closure: ['wall-box'], work: ['bring-in'] },
  source,
  steps: [
    {
      id: 'tray-cover',
      do: 'Lock the tray’s cover.',
      locks: [{ step: 'joints.done', why: 'the joints lie under it' }],
      covers: ['fibers bare'],
    },
    {
      id: 'cords',
      do: 'Cord by cord: find its port, clean the cord’s end, clean the adapter, mate, lead the cord down.',
      why: 'dirt on either side grinds into both',
      cautions: ['light'],
      parts: ['cleaning pen', 'wipe'],
      fields: [{ id: 'cords', label: 'Cords mated', unit: '', kind: 'number' }],
    },
    {
      id: 'groups',
      do: 'All cords in: part them into groups by entry port, some slack inside.',
      locks: [{ step: 'wall-box-close.cords', why: 'they are parted once all are in' }],
    },
    {
      id: 'cover',
      do: 'Front cover on; its captive screws take half a turn.',
      watch: true,
      locks: [
        { step: 'wall-box-close.tray-cover', why: 'the tray is covered before the box' },
        { step: 'wall-box-close.groups', why: 'the cords lie where the cover leaves room' },
      ],
      covers: ['cable cut'],
    },
  ],
}

export const PANEL_MODULE: Procedure = {
  id: 'panel-module',
  version: 2,
  name: 'Panel pigtail module',
  part: 'enter',
  rank: 1,
  for: { closure: ['panel-module'], work: ['bring-in'] },
  source,
  steps: [
    { id: 'outer', do: 'Take {module-jacket} of the outer jacket off.', cautions: ['blades'], tools: ['sheath tools'] },
    {
      id: 'grommet',
      do: 'Grommet or tape where the jackets change.',
      locks: [{ step: 'panel-module.outer', why: 'the change shows once the outer jacket is off' }],
    },
    {
      id: 'inner',
      do: 'Take the inner jacket off so that about {module-inner} of it is left.',
      locks: [{ step: 'panel-module.outer', why: 'the inner jacket shows once the outer one is off' }],
      exposes: ['fibers bare'],
    },
    {
      id: 'fix',
      do: 'Fix the inner jacket to the module; aramid under the screw.',
      locks: [{ step: 'panel-module.inner', why: 'what is left of it is fixed' }],
    },
    {
      id: 'sleeves',
      do: 'Sleeves onto the pigtails.',
      why: 'a sleeve can’t go on after the splice',
      parts: ['splice sleeve'],
      when: { pigtails: 'single' },
    },
    {
      id: 'coating',
      do: 'Strip about {module-coating} of coating for each splice.',
      cautions: ['glass'],
      locks: [{ step: 'panel-module.sleeves', why: 'a sleeve can’t go on after the splice' }],
      when: { pigtails: 'single' },
    },
    {
      id: 'ribbon-sleeve',
      do: 'Ribbon sleeve on.',
      why: 'a sleeve can’t go on after the splice',
      parts: ['ribbon sleeve'],
      when: { pigtails: 'ribbon' },
    },
    {
      id: 'matrix',
      do: 'Matrix off the flat and off the rollable ribbon with the thermal stripper, once it shows ready.',
      cautions: ['hot', 'glass'],
      tools: ['thermal stripper'],
      locks: [{ step: 'panel-module.ribbon-sleeve', why: 'a sleeve can’t go on after the splice' }],
      when: { pigtails: 'ribbon' },
    },
    {
      id: 'holders',
      do: 'Clean the ends and lay them into holders.',
      cautions: ['glass'],
      locks: [{ step: 'panel-module.matrix', why: 'bare fiber is what is cleaned' }],
      when: { pigtails: 'ribbon' },
    },
  ],
}

export const PANEL_MODULE_CLOSE: Procedure = {
  id: 'panel-module-close',
  version: 1,
  name: 'Panel pigtail module: done',
  part: 'close',
  rank: 1,
  for: { closure: ['panel-module'], work: ['bring-in'] },
  source,
  steps: [
    {
      id: 'store',
      do: 'Store the fiber, no tighter than {storing-radius}; module in.',
      watch: true,
      locks: [{ step: 'joints.done', why: 'the joints lie in it' }],
      covers: ['fibers bare'],
    },
  ],
}

export const LIVE_PANEL: Procedure = {
  id: 'live-panel',
  version: 1,
  name: 'Panel in service',
  part: 'open',
  rank: 1,
  for: { closure: ['live-panel'], work: ['panel'] },
  source,
  steps: [
    {
      id: 'panel',
      do: 'Find the panel: read its label against the record, {place}.',
      fields: [{ id: 'label', label: 'Label on the panel', unit: '', kind: 'text' }],
      photo: true,
    },
    {
      id: 'port',
      do: 'Find the port: read its label and the cord’s.',
      fields: [{ id: 'label', label: 'Label at the port', unit: '', kind: 'text' }],
      locks: [{ step: 'live-panel.panel', why: 'the right panel first' }],
    },
    {
      id: 'second-look',
      do: 'Look a second time: panel, port, cord. Say them aloud, or have a second person read them.',
      locks: [{ step: 'live-panel.port', why: 'a second look needs a first' }],
    },
    {
      id: 'light',
      do: 'Check for light before anything is connected or unplugged.',
      cautions: ['dark', 'light'],
      acknowledge: true,
      tools: ['power meter', 'fiber identifier'],
      locks: [{ step: 'live-panel.second-look', why: 'the reading counts for the port that was looked at twice' }],
    },
    {
      id: 'unplug',
      do: 'Unplug; cap on adapter and cord.',
      locks: [
        { step: 'place.window', why: 'traffic is touched only in its window, with the desk’s word' },
        { step: 'live-panel.light', why: 'nothing is unplugged before light was checked for' },
      ],
    },
    { id: 'clean', do: 'Inspect, clean, inspect, both sides.', cautions: ['light'], tools: ['microscope'] },
    {
      id: 'mate',
      do: 'Mate; ask the desk whether light is back.',
      locks: [{ step: 'live-panel.clean', why: 'both sides are clean before they touch' }],
    },
  ],
}

export const JOINTS: Procedure = {
  id: 'joints',
  version: 2,
  name: 'Joints',
  part: 'joints',
  rank: 1,
  for: { work: ['re-enter', 'bring-in'] },
  source,
  steps: [
    {
      id: 'arc',
      do: 'Set the splicer up: at the surface, in the vehicle or tent.',
      cautions: ['arc', 'glass'],
      acknowledge: true,
      tools: ['splicer'],
    },
    {
      id: 'dark',
      do: 'Take up only fibers that were shown dark; the others stay as they lie.',
      cautions: ['dark', 'light'],
      acknowledge: true,
      tools: ['fiber identifier'],
      when: { work: ['re-enter'] },
    },
    {
      id: 'count',
      do: 'Count the fibers in the first {group} that is taken up, against the record: {group-fibers}.',
      why: 'which fibers meet is read from the record: it must be right first',
      cautions: ['light'],
      fields: [{ id: 'group-fibers', label: 'Fibers in it', unit: '', kind: 'count', nominal: 'group-fibers' }],
      when: { closure: ['gel-dome', 'wall-box'] },
    },
    {
      id: 'ribbon-sleeve',
      do: 'Each ribbon, at the splicer: slide the ribbon sleeve on first.',
      why: 'it can’t go on after the splice; the cable is in the closure before a ribbon is taken up',
      parts: ['ribbon sleeve'],
      locks: [
        { step: 'joints.arc', why: 'ribbons are taken up at the splicer' },
        { step: 'joints.dark', why: 'only what was shown dark is taken up' },
        { step: 'joints.count', why: 'count before a ribbon is taken up' },
      ],
      when: RIBBONS,
    },
    {
      id: 'ribbon-strip',
      do: 'Ribbon into its holder, {ribbon-out} standing out; wait until the thermal stripper shows ready, then pull.',
      why: 'the holder sets the length that is stripped',
      cautions: ['hot'],
      tools: ['thermal stripper'],
      locks: [{ step: 'joints.ribbon-sleeve', why: 'the sleeve is on first' }],
      when: RIBBONS,
    },
    {
      id: 'ribbon-clean',
      do: 'Clean the stripped fibers.',
      cautions: ['glass'],
      locks: [{ step: 'joints.ribbon-strip', why: 'bare fiber is what is cleaned' }],
      when: RIBBONS,
    },
    {
      id: 'ribbon-cleave',
      do: 'Cleave in the holder. The same for the other side; then the next ribbon.',
      cautions: ['glass'],
      tools: ['cleaver'],
      locks: [{ step: 'joints.ribbon-clean', why: 'coating left on spoils the cleave' }],
      when: RIBBONS,
    },
    {
      id: 'done',
      do: 'Make the joints under Join; they are accepted there, and none is left open.',
      locks: [
        { step: 'joints.arc', why: 'no arc before its place is safe' },
        { step: 'joints.dark', why: 'a splice is cut only in a fiber that was shown dark' },
        { step: 'joints.count', why: 'fibers are joined by a record that was counted' },
      ],
    },
    {
      id: 'shards',
      do: 'Bin closed, mat taped and folded; every shard counted.',
      cautions: ['glass'],
      tools: ['shard bin'],
    },
  ],
}

/** Once all is closed again: what lay beside the work is asked after. */
export const NEIGHBOURS_AFTER: Procedure = {
  id: 'neighbours-after',
  version: 1,
  name: 'Neighbours after the work',
  part: 'close',
  rank: 9,
  for: { work: ['re-enter', 'bring-in', 'panel'], liveNeighbours: true },
  source,
  steps: [
    {
      id: 'ask',
      do: 'Ask the desk whether everything on {neighbours} is as before.',
      why: 'a neighbour that was hurt shows there first',
    },
  ],
}
