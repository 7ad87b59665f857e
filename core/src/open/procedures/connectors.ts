import type { ConnectorWay } from '../sheet/facts.ts'
import type { Procedure } from './procedure.ts'

const source = 'common practice, no published source'

/** Mechanical kinds with a window that shows the light. */
const WITH_WINDOW: readonly ConnectorWay[] = ['soft-coated', 'tube-900']
const ADHESIVE: readonly ConnectorWay[] = ['epoxy', 'anaerobic', 'hot-melt']

/** The part of a termination that opens the fiber; what follows belongs to the joint. */
export const CONNECTOR_PREPARATION: Procedure = {
  id: 'connector',
  version: 2,
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
      why: 'it can’t go on over the connector',
      when: { connector: ['field-lc'] },
    },
    {
      id: 'threaded-boot',
      do: 'Threaded boot onto the cable.',
      why: 'it can’t go on once the fiber is in the connector',
      when: { connector: ['soft-coated'] },
    },
    {
      id: 'build-up-tube',
      do: 'Boot and build-up tube onto the 900 µm tube.',
      why: 'they can’t go on once the fiber is in the connector',
      when: { connector: ['tube-900'] },
    },
    {
      id: 'connector-open',
      do: 'Open the connector: cover and hinge.',
      parts: ['mechanical connector'],
      when: { connector: ['tube-900'] },
    },
    {
      id: 'cap-off',
      do: 'Cover and cap off the connector.',
      parts: ['mechanical connector'],
      when: { connector: ['soft-coated'] },
    },
    {
      id: 'jacket',
      do: 'Take {soft-jacket} of jacket off.',
      why: 'shorter, and the cleaver’s pads can’t hold it; longer is waste',
      locks: [{ step: 'connector.threaded-boot', why: 'the boot can’t go on over the connector' }],
      when: { connector: ['soft-coated'] },
    },
    {
      id: 'coating',
      do: 'Scrape the coating off with the fingernail; leave {soft-coating} on.',
      why: 'too much left at first can still come off, too little is a new start',
      cautions: ['glass'],
      locks: [{ step: 'connector.jacket', why: 'the coating is under the jacket' }],
      when: { connector: ['soft-coated'] },
    },
    {
      id: 'cleave-sc',
      do: 'Cleaver set for this fiber; its mark at the jacket’s end: {soft-cleave-sc}. Cleave.',
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
      do: 'Cleaver set for this fiber; its mark at the jacket’s end: {soft-cleave-lc}. Cleave.',
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
      locks: [{ step: 'connector.build-up-tube', why: 'boot and build-up tube can’t go on later' }],
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
      do: 'Take {lc-buffer} of buffer off, little by little, cladding shreds too; clean.',
      cautions: ['glass'],
      locks: [{ step: 'connector.boot', why: 'the boot can’t go on over the connector' }],
      when: { connector: ['field-lc'] },
    },
    {
      id: 'bend-test',
      do: 'Bend the fiber gently.',
      why: 'what was scored breaks now rather than later',
      cautions: ['glass'],
      locks: [{ step: 'connector.buffer', why: 'scores come from stripping' }],
      when: { connector: ['field-lc'] },
    },
    {
      id: 'lc-cleave',
      do: 'Buffer’s end at {lc-cleave} in the cleaver; lift the holder and press it down again. Score, then bend to break.',
      why: 'lifted once, the holder takes its tension off the fiber',
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
      do: 'Boot and crimp sleeve on; strip by the connector’s own sheet, strength members to the crimp length. Its lengths are drawn 1:1 under Lengths.',
      cautions: ['glass'],
      locks: [{ step: 'connector.dark', why: 'only a fiber shown dark is cut' }],
      when: { connector: ADHESIVE },
    },
  ],
}

/** Mechanical kinds with a window, from the cleaved fiber on. */
export const MECHANICAL_CONNECTOR: Procedure = {
  id: 'mechanical',
  version: 2,
  name: 'Pre-polished mechanical connector',
  part: 'joints',
  rank: 1,
  for: { work: ['connector'], connector: WITH_WINDOW },
  source,
  steps: [
    {
      id: 'light',
      do: 'Red light on in the connector, seen from the side or on a white card; for LC by its adapter.',
      cautions: ['dark', 'light'],
      acknowledge: true,
      tools: ['visible light'],
    },
    {
      id: 'push',
      do: 'Push the fiber in until it bows slightly and the window dims or goes dark.',
      why: 'a window that stays bright says that the ends do not meet: take it out, cleave again',
      test: 'look',
      cautions: ['light'],
      locks: [
        { step: 'mechanical.light', why: 'only the light tells whether the ends meet' },
        { step: 'connector.threaded-boot', why: 'the boot can’t go on over the connector' },
      ],
    },
    {
      id: 'lock',
      do: 'Lock it.',
      locks: [{ step: 'mechanical.push', why: 'locked while the fiber bows and the window is dim' }],
      when: { connector: ['soft-coated'] },
    },
    {
      id: 'hinge',
      do: 'Build-up tube forward and seated, fiber straight; close the hinge.',
      locks: [{ step: 'mechanical.push', why: 'closed while the fiber bows and the window is dim' }],
      when: { connector: ['tube-900'] },
    },
    { id: 'cap', do: 'Dust cap on.', when: { connector: ['soft-coated'] } },
    {
      id: 'boot',
      do: 'Aramid to one side; boot 90 % on, trim the aramid, boot home.',
      locks: [{ step: 'mechanical.lock', why: 'what is not locked moves when the boot is turned' }],
      when: { connector: ['soft-coated'] },
    },
    {
      id: 'boot-tight',
      do: 'Boot tight.',
      locks: [{ step: 'mechanical.hinge', why: 'what is not held moves when the boot is turned' }],
      when: { connector: ['tube-900'] },
    },
    {
      id: 'cover',
      do: 'Cover on, last.',
      locks: [
        { step: 'mechanical.boot', why: 'the cover is the last to go on' },
        { step: 'mechanical.boot-tight', why: 'the cover is the last to go on' },
      ],
    },
    {
      id: 'end-check',
      do: 'Send red light in at one end: it must show bright at the other, on a white card or from the side, never towards the eye.',
      why: 'dim or dark is a bad termination',
      test: 'look',
      wastes: 'mechanical connector',
      cautions: ['dark', 'light'],
      acknowledge: true,
      tools: ['visible light'],
      locks: [
        { step: 'mechanical.lock', why: 'what is not locked moves again' },
        { step: 'mechanical.hinge', why: 'what is not held moves again' },
      ],
    },
  ],
}

/** The field-installable kind, by its own sheet: no light, no aramid. */
export const FIELD_CONNECTOR: Procedure = {
  id: 'field-lc',
  version: 1,
  name: 'Field-installable LC',
  part: 'joints',
  rank: 1,
  for: { work: ['connector'], connector: ['field-lc'] },
  source,
  steps: [
    {
      id: 'insert',
      do: 'Put the fiber in until it bows.',
      why: 'the bow says that the ends meet',
      test: 'look',
      wastes: 'mechanical connector',
      parts: ['mechanical connector'],
      locks: [
        { step: 'connector.boot', why: 'the boot can’t go on over the connector' },
        { step: 'connector.lc-cleave', why: 'only a cleaved end meets the one inside' },
      ],
    },
    {
      id: 'squeeze',
      do: 'Squeeze to lock.',
      locks: [{ step: 'field-lc.insert', why: 'locked while the fiber bows' }],
    },
    {
      id: 'boot-up',
      do: 'Boot up.',
      locks: [{ step: 'field-lc.squeeze', why: 'what is not locked moves' }],
    },
    {
      id: 'shards',
      do: 'Shards, also those inside the cleaver, folded into tape.',
      cautions: ['glass'],
      parts: ['tape'],
    },
  ],
}

/** All ways with adhesive: in, set, scribed, polished, looked at. */
export const ADHESIVE_CONNECTOR: Procedure = {
  id: 'adhesive',
  version: 2,
  name: 'Connector with adhesive and polish',
  part: 'joints',
  rank: 1,
  for: { work: ['connector'], connector: ADHESIVE },
  source,
  steps: [
    {
      id: 'mix',
      do: 'Mix the epoxy by its sheet; fill the syringe.',
      cautions: ['epoxy'],
      parts: ['epoxy kit'],
      when: { connector: ['epoxy'] },
    },
    {
      id: 'bead',
      do: 'Needle to the bottom, squeeze until a bead of {bead} stands on the tip.',
      why: 'a third to half of the ferrule’s diameter: it holds the fiber while it is polished',
      cautions: ['epoxy'],
      parts: ['connector body'],
      fields: [{ id: 'bead', label: 'Bead', unit: 'mm', kind: 'number', nominal: 'bead', tolerance: 0 }],
      locks: [{ step: 'adhesive.mix', why: 'the syringe is filled first' }],
      when: { connector: ['epoxy'] },
    },
    {
      id: 'fill',
      do: 'Adhesive wiped onto the fiber or injected into the ferrule, by its sheet.',
      cautions: ['epoxy'],
      parts: ['connector body', 'anaerobic kit'],
      when: { connector: ['anaerobic'] },
    },
    {
      id: 'heat',
      do: 'Heat the connector in its oven.',
      cautions: ['hot'],
      parts: ['connector body', 'hot-melt kit'],
      when: { connector: ['hot-melt'] },
    },
    {
      id: 'insert',
      do: 'Put the fiber in slowly, turning it.',
      why: 'pushed fast it breaks inside, and the ferrule is lost',
      cautions: ['glass'],
      test: 'look',
      wastes: 'connector body',
      locks: [
        { step: 'adhesive.bead', why: 'the adhesive is in first' },
        { step: 'adhesive.fill', why: 'the adhesive is in first' },
        { step: 'adhesive.heat', why: 'the melt is soft only while it is hot' },
      ],
    },
    {
      id: 'crimp',
      do: 'Crimp on the aramid with the die that the connector’s sheet names. No crimp on 900 µm fiber.',
      fields: [{ id: 'die', label: 'Die, or “none” on 900 µm', unit: '', kind: 'text' }],
      locks: [{ step: 'adhesive.insert', why: 'the crimp holds the cable to the connector that the fiber is in' }],
      when: { connector: ['epoxy', 'anaerobic'] },
    },
    {
      id: 'cure',
      do: 'Let it cure: overnight, or the minutes of the adhesive’s sheet in an oven at its temperature.',
      cautions: ['hot'],
      timer: 'by its sheet',
      fields: [{ id: 'temperature', label: 'Oven, or air where it cures overnight', unit: '°C', kind: 'number' }],
      locks: [{ step: 'adhesive.crimp', why: 'what is crimped while the adhesive sets does not move any more' }],
      when: { connector: ['epoxy'] },
    },
    {
      id: 'set',
      do: 'Let it set: 30 s to a few minutes by its sheet, at once with accelerator.',
      timer: 'by its sheet',
      locks: [{ step: 'adhesive.crimp', why: 'what is crimped while the adhesive sets does not move any more' }],
      when: { connector: ['anaerobic'] },
    },
    {
      id: 'cool',
      do: 'Set it aside until it is cool.',
      cautions: ['hot'],
      timer: 'by its sheet',
      locks: [{ step: 'adhesive.insert', why: 'it cools with the fiber in it' }],
      when: { connector: ['hot-melt'] },
    },
    {
      id: 'scribe',
      do: 'Scribe the fiber at the bead and lift it off: straight, without bending it.',
      cautions: ['glass'],
      tools: ['polishing set'],
      locks: [
        { step: 'adhesive.cure', why: 'a fiber that is not held breaks inside the ferrule' },
        { step: 'adhesive.set', why: 'a fiber that is not held breaks inside the ferrule' },
        { step: 'adhesive.cool', why: 'a fiber that is not held breaks inside the ferrule' },
      ],
    },
    {
      id: 'air-polish',
      do: 'Air polish: film of 12 µm held in the air, 10 to 20 s, until the stub no longer catches.',
      timer: 0.33,
      fields: [{ id: 'seconds', label: 'Air polish', unit: 's', kind: 'number', nominal: 15, tolerance: 5 }],
      tools: ['polishing set'],
      locks: [{ step: 'adhesive.scribe', why: 'the stub is short first' }],
    },
    {
      id: 'polish',
      do: 'Figures of eight on one or two finer films, then stop.',
      why: 'polishing too long raises loss and reflectance',
      tools: ['polishing set'],
      locks: [{ step: 'adhesive.air-polish', why: 'a long stub breaks below the face' }],
    },
    {
      id: 'look',
      do: 'Clean the end and look at it at 100 to 400 ×: adhesive all gone, tip smooth.',
      why: 'more magnification makes one reject good ends',
      test: 'look',
      wastes: 'connector body',
      cautions: ['light'],
      tools: ['microscope'],
      locks: [{ step: 'adhesive.polish', why: 'it is looked at as it will be mated' }],
    },
  ],
}
