import { describe, expect, it } from 'vitest'
import { checkProcedures, checkSheet, ProcedureError, withOwnProcedures } from '../procedures/checkProcedures.ts'
import { compileSheet, isSheet, type RunSheet } from './compile.ts'
import type { SheetFacts } from './facts.ts'
import { BY_PERSON } from '../drawings/lengths.ts'
import type { Procedure } from '../procedures/procedure.ts'
import { PROCEDURES } from '../procedures/index.ts'
import { TEST_DOME, testFacts } from '../../../test/openFacts.ts'

const compiled = (some: Partial<SheetFacts> = {}, given = {}) =>
  compileSheet({ facts: testFacts(some), procedures: PROCEDURES, model: TEST_DOME, given })

function sheetOf(some: Partial<SheetFacts> = {}): RunSheet {
  const outcome = compiled(some)
  if (!isSheet(outcome)) throw new Error(outcome.why)
  return outcome
}

const idsOf = (sheet: RunSheet, procedure: string) =>
  sheet.steps.flatMap(({ id }) => (id.startsWith(`${procedure}.`) ? [id.slice(procedure.length + 1)] : []))

const millimetres = (sheet: RunSheet, name: string) => {
  const { min, max } = sheet.lengths[name]!
  return [min, max].map((value) => Math.round(value * 10_000) / 10)
}

const member = { strengthMember: false }

// Orders and lengths below are common practice, no published source.
describe('order of steps', () => {
  it.each<[string, string, Partial<SheetFacts>, string[]]>([
    ['loose tube', 'loose-tube', {}, ['mark', 'ring-cut', 'ripcord', 'strength-member', 'count']],
    [
      'loose tube, mid-span',
      'loose-tube',
      { entry: 'mid-span' },
      ['marks', 'ring-cut', 'ripcord', 'strength-member', 'count'],
    ],
    [
      'loose tube, armored, double jacket, grounded',
      'loose-tube',
      { armored: true, grounded: true, doubleJacket: true },
      ['mark', 'ring-cut', 'ripcord', 'ripcord-left', 'strength-member', 'inner-jacket', 'count'],
    ],
    [
      'loose tube, armored, not grounded: no ripcord stays',
      'loose-tube',
      { armored: true },
      ['mark', 'ring-cut', 'ripcord', 'strength-member', 'count'],
    ],
    [
      'loose tube into a wall box, which has no retainer',
      'loose-tube',
      { closure: 'wall-box' },
      ['mark', 'ring-cut', 'ripcord', 'count'],
    ],
    [
      'micro-module',
      'micro-module',
      { construction: 'micro-module', ...member },
      ['plane', 'test-cut', 'mark', 'ring-cut', 'slit', 'aramid', 'wrap', 'count'],
    ],
    [
      'rollable ribbon, plain',
      'rollable-ribbon',
      { construction: 'rollable-ribbon', ...member },
      ['mark', 'first-ring-plain', 'ripcords', 'ring-at-mark', 'bench', 'wrap', 'count', 'bundle-ends'],
    ],
    [
      'rollable ribbon, armored, grounded, double jacket',
      'rollable-ribbon',
      { construction: 'rollable-ribbon', armored: true, grounded: true, doubleJacket: true, ...member },
      [
        'mark',
        'first-ring',
        'ripcords',
        'ring-at-mark',
        'extend',
        'inner-mark',
        'inner-open',
        'inner-off',
        'bench',
        'wrap',
        'count',
        'bundle-ends',
      ],
    ],
    ['ribbon', 'ribbon', { construction: 'ribbon' }, ['sheath', 'count']],
    [
      'active cable, two connectors',
      'active-4',
      { construction: 'active-4', work: 'prepare', closure: null, fiberCount: 4, connectors: 2 },
      ['head', 'jacket', 'find-tube', 'fan-out'],
    ],
    [
      'active cable of four fibers, one connector',
      'active-4',
      { construction: 'active-4', work: 'prepare', closure: null, fiberCount: 4, connectors: 1 },
      ['head', 'jacket', 'find-tube', 'trim-others'],
    ],
    [
      'dome, open to bring a cable in',
      'dome-open',
      {},
      ['vent', 'clamp-ring', 'slide-out', 'dome-aside', 'stand', 'found', 'trays-out', 'ports-up'],
    ],
    [
      'a new dome is vented too, and its trays come out',
      'dome-open',
      { inService: false },
      ['vent', 'clamp-ring', 'slide-out', 'dome-aside', 'stand', 'trays-out', 'ports-up'],
    ],
    [
      'dome, re-entered',
      'dome-open',
      { work: 're-enter' },
      ['vent', 'clamp-ring', 'slide-out', 'dome-aside', 'stand', 'found', 'tray'],
    ],
    [
      'dome, thick cable with a member',
      'dome-enter',
      {},
      [
        'port',
        'wedge-out',
        'screw-open',
        'clean',
        'sheath-attachment',
        'member',
        'bracket',
        'clamp-snug',
        'clamp-align',
        'lower',
        'retention-bolt',
        'seated',
        'clearance',
        'clamp-tight',
        'wedge',
        'turn-over',
      ],
    ],
    [
      'dome, thick armored cable, grounded, ground cable before the wedge',
      'dome-enter',
      { armored: true, grounded: true },
      [
        'port',
        'wedge-out',
        'screw-open',
        'clean',
        'sheath-attachment',
        'armor-end',
        'bond-plate',
        'member',
        'bracket',
        'clamp-snug',
        'clamp-align',
        'lower',
        'retention-bolt',
        'seated',
        'clearance',
        'clamp-tight',
        'ground-before',
        'wedge',
        'turn-over',
      ],
    ],
    [
      'dome, thin cable without a member, its sheath ended at the attachment: tape may stay all the same',
      'dome-enter',
      { ...member, construction: 'micro-module', diameter: 0.009 },
      [
        'port',
        'wedge-out',
        'screw-open',
        'clean',
        'sheath-attachment',
        'water-block',
        'no-member',
        'turn-rods',
        'tape',
        'bracket',
        'clamp-snug',
        'clamp-align',
        'lower',
        'retention-bolt',
        'seated',
        'clearance',
        'clamp-tight',
        'wedge',
        'bushing',
        'turn-over',
      ],
    ],
    [
      'dome, thin armored cable without a member, sheath to the basket, grounded after the wedge',
      'dome-enter',
      {
        ...member,
        construction: 'rollable-ribbon',
        diameter: 0.0126,
        armored: true,
        grounded: true,
        schools: { sheathEnd: 'basket', groundCable: 'after-wedge' },
      },
      [
        'port',
        'wedge-out',
        'screw-open',
        'clean',
        'sheath-basket',
        'armor-end',
        'water-block',
        'bond-plate',
        'no-member',
        'turn-rods',
        'tape',
        'bracket',
        'clamp-snug',
        'clamp-align',
        'lower',
        'retention-bolt',
        'seated',
        'clearance',
        'clamp-tight',
        'wedge',
        'ground-after',
        'bushing',
        'turn-over',
      ],
    ],
    [
      'dome, close',
      'dome-close',
      {},
      ['trays-in', 'plugs', 'screws', 'left', 'dome-on', 'pressure', 'release', 'again'],
    ],
    [
      'wall box with 24 fibers',
      'wall-box',
      { closure: 'wall-box', fiberCount: 24 },
      ['tie', 'foam', 'second', 'felt', 'feed', 'lead-up', 'loop', 'cut-tube', 'store'],
    ],
    [
      'wall box with 12 fibers',
      'wall-box',
      { closure: 'wall-box', fiberCount: 12 },
      ['tie', 'foam', 'felt', 'feed', 'lead-up', 'loop', 'cut-tube', 'store'],
    ],
    [
      'dome, re-entered beside live cables',
      'dome-open',
      { work: 're-enter', liveNeighbours: true },
      ['vent', 'clamp-ring', 'slide-out', 'dome-aside', 'stand', 'found', 'neighbours', 'tray'],
    ],
    ['a dark cable beside live ones', 'place', { liveNeighbours: true }, ['neighbours']],
    ['a live cable beside live ones', 'place', { live: true, liveNeighbours: true }, ['window', 'neighbours']],
    ['live ones are asked after at the end', 'neighbours-after', { liveNeighbours: true }, ['ask']],
    ['joints of a dome', 'joints', {}, ['arc', 'count', 'done', 'shards']],
    [
      'joints of a dome that was re-entered',
      'joints',
      { work: 're-enter' },
      ['arc', 'dark', 'count', 'done', 'shards'],
    ],
    [
      'joints of a ribbon cable: each ribbon at the splicer',
      'joints',
      { construction: 'ribbon' },
      ['arc', 'count', 'ribbon-sleeve', 'ribbon-strip', 'ribbon-clean', 'ribbon-cleave', 'done', 'shards'],
    ],
    ['wall box, close', 'wall-box-close', { closure: 'wall-box' }, ['tray-cover', 'cords', 'groups', 'cover']],
    [
      'panel module',
      'panel-module',
      { closure: 'panel-module', construction: 'pigtail' },
      ['outer', 'grommet', 'inner', 'fix', 'sleeves', 'coating'],
    ],
    [
      'panel module with ribbons of pigtails',
      'panel-module',
      { closure: 'panel-module', construction: 'rollable-ribbon', pigtails: 'ribbon' },
      ['outer', 'grommet', 'inner', 'fix', 'ribbon-sleeve', 'matrix', 'holders'],
    ],
    [
      'panel in service',
      'live-panel',
      { closure: 'live-panel', work: 'panel', live: true },
      ['panel', 'port', 'second-look', 'light', 'unplug', 'clean', 'mate'],
    ],
    [
      'field-installable LC',
      'connector',
      { work: 'connector', connector: 'field-lc', ferrule: 'LC', closure: null },
      ['dark', 'boot', 'buffer', 'bend-test', 'lc-cleave'],
    ],
    [
      'field-installable LC, from the cleaved fiber on: no light, no aramid',
      'field-lc',
      { work: 'connector', connector: 'field-lc', ferrule: 'LC', closure: null },
      ['insert', 'squeeze', 'boot-up', 'shards'],
    ],
    [
      'field-installable LC has no window',
      'mechanical',
      { work: 'connector', connector: 'field-lc', closure: null },
      [],
    ],
    [
      'soft-coated fiber, SC',
      'connector',
      { work: 'connector', connector: 'soft-coated', ferrule: 'SC', closure: null },
      ['dark', 'threaded-boot', 'cap-off', 'jacket', 'coating', 'cleave-sc'],
    ],
    [
      'soft-coated fiber, from the cleaved fiber on',
      'mechanical',
      { work: 'connector', connector: 'soft-coated', ferrule: 'LC', closure: null },
      ['light', 'push', 'lock', 'cap', 'boot', 'cover', 'end-check'],
    ],
    [
      '900 µm tube, LC: by its own sheet',
      'connector',
      { work: 'connector', connector: 'tube-900', ferrule: 'LC', closure: null },
      ['dark', 'build-up-tube', 'connector-open', 'tube', 'tube-cleave-lc'],
    ],
    [
      'pre-polished on a 900 µm tube: no aramid',
      'mechanical',
      { work: 'connector', connector: 'tube-900', ferrule: 'SC', closure: null },
      ['light', 'push', 'hinge', 'boot-tight', 'cover', 'end-check'],
    ],
    [
      'epoxy and polish',
      'adhesive',
      { work: 'connector', connector: 'epoxy', ferrule: 'SC', closure: null },
      ['mix', 'bead', 'insert', 'crimp', 'cure', 'scribe', 'air-polish', 'polish', 'look'],
    ],
    [
      'anaerobic',
      'adhesive',
      { work: 'connector', connector: 'anaerobic', ferrule: 'SC', closure: null },
      ['fill', 'insert', 'crimp', 'set', 'scribe', 'air-polish', 'polish', 'look'],
    ],
    [
      'hot-melt',
      'adhesive',
      { work: 'connector', connector: 'hot-melt', ferrule: 'LC', closure: null },
      ['heat', 'insert', 'cool', 'scribe', 'air-polish', 'polish', 'look'],
    ],
    [
      'before any cut, live armored cable in mid-span',
      'identify',
      { live: true, armored: true, metallic: true, entry: 'mid-span' },
      ['print', 'second-way', 'voltage', 'continuity', 'dark', 'cut-word', 'twist'],
    ],
    [
      'before any cut, active cable',
      'identify',
      { construction: 'active-4', work: 'prepare', closure: null, metallic: true },
      ['print', 'second-way', 'power-off', 'voltage', 'dark'],
    ],
    ['a live cable in a chamber', 'place', { live: true, ground: 'chamber' }, ['chamber', 'window']],
  ])('%s', (_name, procedure, facts, expected) => {
    expect(idsOf(sheetOf(facts), procedure)).toEqual(expected)
  })

  it('goes from the place over identifying, opening, preparing, entering and joining to closing', () => {
    const parts = sheetOf({ live: true, ground: 'dig' }).steps.map(({ part }) => part)
    expect([...new Set(parts)]).toEqual(['site', 'identify', 'open', 'prepare', 'enter', 'joints', 'close'])
  })
})

it('a panel module has lengths of its own, not those of a cable', () => {
  const sheet = sheetOf({ closure: 'panel-module', construction: 'loose-tube' })
  expect(sheet.steps.some(({ part }) => part === 'prepare')).toBe(false)
})

describe('lengths, mm', () => {
  const rollable = { construction: 'rollable-ribbon', armored: true, grounded: true, doubleJacket: true, ...member }
  // Inches of the trade by the inch of 25.4 mm, exact: 3 in is 76.2 mm, 2 in 50.8 mm.
  it.each<[string, Partial<SheetFacts>, number, number]>([
    ['strength-member', {}, 50.8, 57.2],
    ['ripcord-left', { armored: true, grounded: true }, 25, 25],
    ['sheath', {}, 1800, 1800],
    ['allowance', rollable, 76.2, 127],
    ['mark', rollable, 1876.2, 1927],
    ['ring-cut', rollable, 76.2, 127],
    ['short-of-mark', rollable, 25, 25],
    ['inner-jacket', rollable, 25.4, 38.1],
    ['inner-short', rollable, 75, 75],
    ['wrap', rollable, 25, 50],
    ['bundle-end', rollable, 76.2, 127],
    ['tape-past', rollable, 0, 254],
    ['test-cut', { construction: 'micro-module', ...member }, 100, 100],
    ['aramid', { construction: 'micro-module', ...member }, 170, 200],
    ['ribbon-out', { construction: 'ribbon' }, 38.1, 38.1],
    ['module-jacket', { closure: 'panel-module' }, 2500, 2500],
    ['module-inner', { closure: 'panel-module' }, 1000, 1000],
    ['module-coating', { closure: 'panel-module' }, 30, 30],
    ['active-jacket', { construction: 'active-4', work: 'prepare', closure: null }, 152.4, 152.4],
    ['active-pull', { construction: 'active-4', work: 'prepare', closure: null }, 76.2, 76.2],
    ['felt', { closure: 'wall-box' }, 25, 25],
    ['tray-mark', { closure: 'wall-box' }, 25, 25],
    ['storing-radius', { closure: 'wall-box' }, 30, 30],
    ['soft-jacket', { work: 'connector', connector: 'soft-coated', ferrule: 'SC' }, 50.8, 50.8],
    ['soft-coating', { work: 'connector', connector: 'soft-coated', ferrule: 'SC' }, 12, 12],
    ['soft-cleave-sc', { work: 'connector', connector: 'soft-coated', ferrule: 'SC' }, 28, 28],
    ['soft-cleave-lc', { work: 'connector', connector: 'soft-coated', ferrule: 'LC' }, 24, 24],
    ['tube-off', { work: 'connector', connector: 'tube-900', ferrule: 'SC' }, 50.8, 50.8],
    ['tube-cleave-sc', { work: 'connector', connector: 'tube-900', ferrule: 'SC' }, 16, 16],
    ['lc-buffer', { work: 'connector', connector: 'field-lc' }, 40, 40],
    ['lc-cleave', { work: 'connector', connector: 'field-lc' }, 10.5, 10.5],
    // A third to half of 2.5 and of 1.25 mm.
    ['bead', { work: 'connector', connector: 'epoxy', ferrule: 'SC' }, 0.8, 1.3],
    ['bead', { work: 'connector', connector: 'epoxy', ferrule: 'LC' }, 0.4, 0.6],
  ])('%s', (name, facts, least, most) => {
    expect(millimetres(sheetOf(facts), name)).toEqual([least, most])
  })

  it('takes 2 m off a micro-module cable where the closure’s table says nothing, else the table’s figure', () => {
    const facts = testFacts({ construction: 'micro-module', ...member })
    const plain = compileSheet({ facts, procedures: PROCEDURES, model: { ...TEST_DOME, lengths: {} }, given: {} })
    expect((plain as RunSheet).lengths['sheath']).toMatchObject({ min: 2, max: 2 })
    expect(sheetOf({ construction: 'micro-module', ...member }).lengths['sheath']).toMatchObject({
      min: 1.8,
      source: 'the closure’s own table',
    })
  })

  it('asks for a length that neither table nor practice gives, rather than guess one', () => {
    const facts = testFacts()
    const input = { facts, procedures: PROCEDURES, model: { ...TEST_DOME, lengths: {} } }
    expect(compileSheet({ ...input, given: {} })).toMatchObject({ lacks: [{ id: 'sheath' }] })
    const own = compileSheet({ ...input, given: { sheath: { min: 1.2, max: 1.2, by: BY_PERSON } } })
    // What a person gave does not pass for the closure's table.
    expect((own as RunSheet).lengths['sheath']).toEqual({
      min: 1.2,
      max: 1.2,
      label: 'sheath taken off',
      source: 'given by the person',
    })
    const mark = compileSheet({
      ...input,
      facts: testFacts({ construction: 'rollable-ribbon', ...member }),
      given: {},
    })
    expect(mark).toMatchObject({ lacks: [{ id: 'sheath', label: 'sheath taken off' }] })
  })
})

describe('every construction, closure and school', () => {
  const cases: SheetFacts[] = []
  const grounding = [
    [false, false, 'before-wedge'],
    [true, false, 'before-wedge'],
    [true, true, 'before-wedge'],
    [true, true, 'after-wedge'],
  ] as const
  const works = [
    ['re-enter', true],
    ['bring-in', true],
    ['bring-in', false],
    ['prepare', false],
    ['panel', true],
  ] as const
  const traffic = [
    [false, false],
    [true, false],
    [false, true],
    [true, true],
  ] as const
  for (const construction of ['loose-tube', 'micro-module', 'rollable-ribbon', 'ribbon', 'active-4', 'tight-buffered'])
    for (const entry of ['end', 'mid-span'] as const)
      for (const closure of ['gel-dome', 'wall-box', 'panel-module', 'live-panel', null] as const)
        for (const sheathEnd of ['attachment', 'basket'] as const)
          // Without armor nothing is grounded.
          for (const [armored, grounded, groundCable] of grounding)
            for (const [live, liveNeighbours] of traffic)
              for (const diameter of [null, 0.009, 0.0127, 0.02])
                for (const [work, inService] of works)
                  cases.push(
                    testFacts({
                      construction,
                      entry,
                      closure,
                      schools: { sheathEnd, groundCable },
                      armored,
                      grounded,
                      doubleJacket: armored,
                      metallic: armored,
                      strengthMember: construction === 'loose-tube',
                      live,
                      liveNeighbours,
                      diameter,
                      work,
                      inService,
                    }),
                  )

  it('gives a sheet without a gap, each lock before what waits for it, or says why there is none', () => {
    let sheets = 0
    for (const facts of cases) {
      const outcome = compileSheet({ facts, procedures: PROCEDURES, model: TEST_DOME, given: {} })
      if (!isSheet(outcome)) {
        expect(outcome.why).toMatch(/maker’s sheet|diameter is not on record/)
        continue
      }
      sheets++
      const order = outcome.steps.map(({ id }) => id)
      expect(new Set(order).size).toBe(order.length)
      const bad = outcome.steps.filter(
        ({ locks = [], do: words, fields }, at) =>
          locks.some(({ step }) => order.indexOf(step) < 0 || order.indexOf(step) >= at) ||
          [...words.matchAll(/\{([^}]*)\}/g)].some(([, name]) => !(name! in outcome.lengths)) ||
          fields.some(({ least, most }) => (least ?? 0) > (most ?? 0)),
      )
      expect(bad).toEqual([])
      const at = (id: string) => order.indexOf(id)
      // Beside live cables nothing inside moves before the desk knows, and they are asked after at the very end.
      const moves = outcome.steps.findIndex(({ exposes = [] }) => exposes.includes('trays out'))
      if (facts.liveNeighbours && moves >= 0) {
        expect(at('place.neighbours')).toBeLessThan(moves)
        expect(outcome.steps[moves]!.locks!.some(({ step }) => step === 'dome-open.neighbours')).toBe(true)
      }
      if (facts.liveNeighbours && facts.work !== 'prepare') expect(order.at(-1)).toBe('neighbours-after.ask')
      else expect(order.some((id) => id.includes('neighbours'))).toBe(false)
      if (at('dome-open.clamp-ring') >= 0) expect(at('dome-open.vent')).toBeLessThan(at('dome-open.clamp-ring'))
      // A thin cable's bushing after the wedge and before the screws, which wait for it; the wedge does not.
      if (at('dome-enter.bushing') >= 0) {
        expect(at('dome-enter.wedge')).toBeLessThan(at('dome-enter.bushing'))
        expect(at('dome-enter.bushing')).toBeLessThan(at('dome-close.screws'))
      }
      // Armor is bonded before the cable goes in, grounded on either side of the wedge, and only where the operator does.
      const enters = at('dome-enter.lower') >= 0
      expect(at('dome-enter.bond-plate') >= 0).toBe(enters && facts.grounded)
      expect(order.filter((id) => /ground-(before|after)$/.test(id))).toEqual(
        enters && facts.grounded
          ? [`dome-enter.ground-${facts.schools.groundCable === 'before-wedge' ? 'before' : 'after'}`]
          : [],
      )
      if (facts.grounded && enters) expect(at('dome-enter.bond-plate')).toBeLessThan(at('dome-enter.lower'))
      if (at('dome-enter.ground-before') >= 0)
        expect(at('dome-enter.ground-before')).toBeLessThan(at('dome-enter.wedge'))
      if (at('dome-enter.ground-after') >= 0) expect(at('dome-enter.wedge')).toBeLessThan(at('dome-enter.ground-after'))
      expect(order.some((id) => /ripcord-left|extend/.test(id)) && !facts.grounded).toBe(false)
      expect(at('dome-enter.armor-end') >= 0).toBe(enters && facts.armored)
      // Trays come out of every dome that a cable is brought into, new or in service.
      expect(at('dome-open.trays-out') >= 0).toBe(at('dome-open.vent') >= 0 && facts.work === 'bring-in')
      // A ribbon is taken up at the splicer, never before the cable is in.
      if (at('joints.ribbon-sleeve') >= 0)
        expect(at('joints.ribbon-sleeve')).toBeGreaterThan(at('dome-enter.turn-over'))
      // Nothing is cut before the cable is named twice and shown dark.
      const cuts = outcome.steps.flatMap(({ exposes = [] }, i) => (exposes.includes('cable cut') ? [i] : []))
      for (const cut of cuts) {
        expect(at('identify.second-way')).toBeLessThan(cut)
        expect(at('identify.dark')).toBeLessThan(cut)
        expect(outcome.steps[cut]!.locks!.some(({ step }) => step === 'identify.second-way')).toBe(true)
        if (facts.live) expect(outcome.steps[cut]!.locks!.some(({ step }) => step === 'identify.cut-word')).toBe(true)
        if (facts.armored) expect(outcome.steps[cut]!.locks!.some(({ step }) => step === 'identify.voltage')).toBe(true)
      }
      expect(at('dome-enter.bushing') >= 0).toBe(
        facts.work === 'bring-in' && facts.closure === 'gel-dome' && facts.diameter! < 0.0127,
      )
    }
    expect(sheets).toBeGreaterThan(400)
  })

  it.each<[string, Partial<SheetFacts>]>([
    ['a tight-buffered cable', { construction: 'tight-buffered' }],
    ['a zip cord', { construction: 'zip-cord', work: 'prepare' }],
    ['mid-span entry of a micro-module cable', { construction: 'micro-module', entry: 'mid-span' }],
    ['mid-span entry of a rollable-ribbon cable', { construction: 'rollable-ribbon', entry: 'mid-span' }],
    ['mid-span entry of a ribbon cable', { construction: 'ribbon', entry: 'mid-span' }],
    ['re-entering a wall box', { closure: 'wall-box', work: 're-enter' }],
    ['an active cable into a dome', { construction: 'active-4' }],
    ['a closure of an unknown kind', { closure: null, closureModel: 'clamshell' }],
  ])('has no steps for %s, and none are borrowed', (_name, facts) => {
    const outcome = compiled(facts)
    expect(isSheet(outcome)).toBe(false)
    expect(outcome).toMatchObject({ why: expect.stringContaining('maker’s sheet') as string })
  })
})

describe('an operator’s own procedures', () => {
  const own: Procedure = {
    id: 'tight-buffered',
    version: 1,
    name: 'Tight-buffered cable, as we do it',
    part: 'prepare',
    rank: 1,
    for: { construction: ['tight-buffered'], entry: ['end'], work: ['bring-in', 'prepare'] },
    source: 'maker’s sheet, edition of the operator',
    steps: [
      { id: 'mark', do: 'Mark the sheath at {sheath}.' },
      { id: 'slit', do: 'Slit.', locks: [{ step: 'tight-buffered.mark', why: 'the mark comes first' }] },
    ],
  }
  it('stand where none was', () => {
    const procedures = withOwnProcedures(PROCEDURES, [own])
    const sheet = compileSheet({
      facts: testFacts({ construction: 'tight-buffered' }),
      procedures,
      model: TEST_DOME,
      given: {},
    })
    expect(isSheet(sheet) && idsOf(sheet, 'tight-buffered')).toEqual(['mark', 'slit'])
    expect((sheet as RunSheet).procedures).toContainEqual(
      expect.objectContaining({ id: 'tight-buffered', version: 1, source: own.source }),
    )
  })

  it('take the place of those that ship under their id', () => {
    const vented = PROCEDURES.find(({ id }) => id === 'dome-open')!
    const copy = { ...vented, version: 2, steps: vented.steps.filter(({ id }) => id !== 'dome-aside') }
    const procedures = withOwnProcedures(PROCEDURES, [copy])
    const sheet = compileSheet({ facts: testFacts(), procedures, model: TEST_DOME, given: {} })
    expect(idsOf(sheet as RunSheet, 'dome-open')).not.toContain('dome-aside')
    expect((sheet as RunSheet).procedures.find(({ id }) => id === 'dome-open')!.version).toBe(2)
  })

  it.each<[string, Procedure[], string]>([
    [
      'a lock on a step that is not there',
      [{ ...own, steps: [{ id: 'a', do: 'A.', locks: [{ step: 'x.y', why: '' }] }] }],
      'tight-buffered.a',
    ],
    [
      'a lock on a later step',
      [
        {
          ...own,
          steps: [
            { id: 'a', do: 'A.', locks: [{ step: 'tight-buffered.b', why: '' }] },
            { id: 'b', do: 'B.' },
          ],
        },
      ],
      'tight-buffered.a',
    ],
    [
      'the same step twice',
      [
        {
          ...own,
          steps: [
            { id: 'a', do: 'A.' },
            { id: 'a', do: 'B.' },
          ],
        },
      ],
      'tight-buffered.a',
    ],
    ['a length that no rule has', [{ ...own, steps: [{ id: 'a', do: 'Cut at {nowhere}.' }] }], 'tight-buffered.a'],
    ['no step at all', [{ ...own, steps: [] }], 'tight-buffered'],
    [
      'an acknowledgement of nothing',
      [{ ...own, steps: [{ id: 'a', do: 'A.', acknowledge: true }] }],
      'tight-buffered.a',
    ],
    [
      'a lock on a later part of the work',
      [{ ...own, steps: [{ id: 'a', do: 'A.', locks: [{ step: 'dome-close.screws', why: '' }] }] }],
      'tight-buffered.a',
    ],
    [
      'locks in a circle over two procedures',
      [
        { ...own, id: 'p', steps: [{ id: 'a', do: 'A.', locks: [{ step: 'q.a', why: '' }] }] },
        { ...own, id: 'q', steps: [{ id: 'a', do: 'A.', locks: [{ step: 'p.a', why: '' }] }] },
      ],
      'p.a',
    ],
  ])('are refused with %s, and the place is named', (_name, procedures, place) => {
    try {
      withOwnProcedures(PROCEDURES, procedures)
      expect.unreachable()
    } catch (error) {
      expect(error).toBeInstanceOf(ProcedureError)
      expect((error as ProcedureError).place).toBe(place)
    }
  })

  it('a sheet from elsewhere is refused where its locks, fields or lengths hang in the air', () => {
    const sheet = sheetOf()
    expect(() => checkSheet(sheet)).not.toThrow()
    const [first, ...rest] = sheet.steps
    const bad = (step: object) => () => checkSheet({ ...sheet, steps: [{ ...first!, ...step }, ...rest] })
    expect(bad({ locks: [{ step: rest[0]!.id, why: '' }] })).toThrow(/comes later/)
    expect(bad({ locks: [{ step: 'no.such', why: '' }] })).toThrow(/not there/)
    expect(bad({ do: 'Cut at {nowhere}.' })).toThrow(/nowhere/)
    expect(bad({ id: rest[0]!.id })).toThrow(/twice/)
  })

  it('those that ship pass the same check', () => {
    expect(() => checkProcedures(PROCEDURES)).not.toThrow()
  })
})
