import type { Procedure } from '../procedure.ts'

const source = 'common practice, no published source'

export const WALL_BOX: Procedure = {
  id: 'wall-box',
  version: 1,
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
      do: 'Feed up to 12 fibers through the tube.',
      cautions: ['glass'],
      locks: [{ step: 'wall-box.felt', why: 'the felt closes the tube round its fibers' }],
      exposes: ['fibers bare'],
    },
    { id: 'loop', do: 'Loop the tube round the tray post to the left.' },
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
  version: 1,
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
      id: 'clean',
      do: 'Clean both sides, cord end and adapter.',
      cautions: ['light'],
      parts: ['cleaning pen', 'wipe'],
    },
    {
      id: 'mate',
      do: 'Mate them, leave slack.',
      locks: [{ step: 'wall-box-close.clean', why: 'both sides are clean before they touch' }],
    },
    {
      id: 'cover',
      do: 'Close the cover: its screws take a quarter or half turn.',
      watch: true,
      locks: [{ step: 'wall-box-close.tray-cover', why: 'the tray is covered before the box' }],
      covers: ['cable cut'],
    },
  ],
}

export const PANEL_MODULE: Procedure = {
  id: 'panel-module',
  version: 1,
  name: 'Panel pigtail module',
  part: 'enter',
  rank: 1,
  for: { closure: ['panel-module'], work: ['bring-in'] },
  source,
  steps: [
    { id: 'outer', do: 'Take {module-jacket} of the outer jacket off.', cautions: ['blades'], tools: ['sheath tools'] },
    {
      id: 'inner',
      do: 'Leave about {module-inner} of the inner jacket.',
      locks: [{ step: 'panel-module.outer', why: 'the inner jacket shows once the outer one is off' }],
      exposes: ['fibers bare'],
    },
    { id: 'grommet', do: 'Grommet or tape where the jackets change.' },
    { id: 'aramid', do: 'Aramid under its screw.' },
    { id: 'coating', do: 'Strip about {module-coating} of coating for the splice.', cautions: ['glass'] },
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
  version: 1,
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

/** The part of a termination that opens the fiber; what follows belongs to the joint. */
export const CONNECTOR_PREPARATION: Procedure = {
  id: 'connector',
  version: 1,
  name: 'Fiber for a connector',
  part: 'prepare',
  rank: 2,
  for: { work: ['connector'] },
  source,
  steps: [
    {
      id: 'dark',
      do: 'Show the fiber dark.',
      cautions: ['dark', 'light'],
      acknowledge: true,
      tools: ['fiber identifier'],
    },
    {
      id: 'boot',
      do: 'Boot on first.',
      when: { connector: ['field-lc'] },
    },
    {
      id: 'jacket',
      do: 'Take {soft-jacket} of jacket off.',
      when: { connector: ['soft-coated'] },
    },
    {
      id: 'coating',
      do: 'Scrape the coating off with the fingernail; leave {soft-coating} on. Better too much left at first than too little.',
      cautions: ['glass'],
      locks: [{ step: 'connector.jacket', why: 'the coating is under the jacket' }],
      when: { connector: ['soft-coated'] },
    },
    {
      id: 'cleave-sc',
      do: 'Cleave with the mark at the jacket’s end: {soft-cleave-sc}.',
      cautions: ['glass'],
      tools: ['cleaver'],
      locks: [
        { step: 'connector.dark', why: 'only a fiber shown dark is cut' },
        { step: 'connector.coating', why: 'the cleaver needs bare fiber' },
      ],
      when: { connector: ['soft-coated'], ferrule: ['SC'] },
    },
    {
      id: 'cleave-lc',
      do: 'Cleave with the mark at the jacket’s end: {soft-cleave-lc}.',
      cautions: ['glass'],
      tools: ['cleaver'],
      locks: [
        { step: 'connector.dark', why: 'only a fiber shown dark is cut' },
        { step: 'connector.coating', why: 'the cleaver needs bare fiber' },
      ],
      when: { connector: ['soft-coated'], ferrule: ['LC'] },
    },
    {
      id: 'tube',
      do: 'Take {tube-off} of the tube off, and the coating up to the tube.',
      cautions: ['glass'],
      when: { connector: ['tube-900'] },
    },
    {
      id: 'tube-cleave-sc',
      do: 'Cleave {tube-cleave-sc} from the tube.',
      cautions: ['glass'],
      tools: ['cleaver'],
      locks: [
        { step: 'connector.dark', why: 'only a fiber shown dark is cut' },
        { step: 'connector.tube', why: 'the length counts from the tube’s end' },
      ],
      when: { connector: ['tube-900'], ferrule: ['SC'] },
    },
    {
      id: 'tube-cleave-lc',
      do: 'Cleave by the LC connector’s own sheet: its length from the tube differs.',
      cautions: ['glass'],
      tools: ['cleaver'],
      locks: [
        { step: 'connector.dark', why: 'only a fiber shown dark is cut' },
        { step: 'connector.tube', why: 'the length counts from the tube’s end' },
      ],
      when: { connector: ['tube-900'], ferrule: ['LC'] },
    },
    {
      id: 'buffer',
      do: 'Take {lc-buffer} of buffer off, little by little; clean.',
      cautions: ['glass'],
      locks: [{ step: 'connector.boot', why: 'the boot can’t go on over the connector' }],
      when: { connector: ['field-lc'] },
    },
    {
      id: 'bend-test',
      do: 'Bend the fiber gently: what was scored breaks now rather than later.',
      cautions: ['glass'],
      locks: [{ step: 'connector.buffer', why: 'scores come from stripping' }],
      when: { connector: ['field-lc'] },
    },
    {
      id: 'lc-cleave',
      do: 'Buffer’s end at {lc-cleave} in the cleaver; score, then bend to break.',
      cautions: ['glass'],
      tools: ['cleaver'],
      locks: [
        { step: 'connector.dark', why: 'only a fiber shown dark is cut' },
        { step: 'connector.bend-test', why: 'a scored fiber must not get into the connector' },
      ],
      when: { connector: ['field-lc'] },
    },
    {
      id: 'sheet',
      do: 'Strip and cleave by the connector’s own sheet; draw its lengths 1:1 under Lengths.',
      cautions: ['glass', 'epoxy'],
      locks: [{ step: 'connector.dark', why: 'only a fiber shown dark is cut' }],
      when: { connector: ['epoxy'] },
    },
  ],
}
