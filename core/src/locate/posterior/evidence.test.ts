import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { shootTwoCables } from '../../../test/shootTwoCables.ts'
import { evidenceInWords, locateFaults, type Evidence } from '../index.ts'

const plant = twoCablePlant()
const locate = (evidence: Evidence[], damages: Parameters<typeof shootTwoCables>[0] | null) =>
  locateFaults({
    plant,
    linkId: 'l',
    baseline: shootTwoCables([], 1),
    present: damages === null ? [] : shootTwoCables(damages, 11),
    evidence,
  })
const width = (result: ReturnType<typeof locate>) => {
  const [low, high] = result.faults[0]!.interval95
  return high - low
}
const codes = (result: ReturnType<typeof locate>) => result.warnings.map((warning) => warning.code)

describe('without any trace', () => {
  it('a report alone puts suspicion where something was seen, and is not good enough to dig', () => {
    const result = locate([{ kind: 'report', place: { chainage: 2200 }, spread: 60, text: 'digger' }], null)
    const [fault] = result.faults
    expect(fault!.goodEnoughToDig).toBe(false)
    const [low, high] = fault!.interval95
    expect(low).toBeLessThan(2200)
    expect(high).toBeGreaterThan(2200)
  })

  it('light seen at one node and not at the next leaves the stretch between them', () => {
    const before = locate([{ kind: 'report', place: { chainage: 1500 }, spread: 3000, text: 'alarm' }], null)
    const result = locate(
      [
        { kind: 'report', place: { chainage: 1500 }, spread: 3000, text: 'alarm' },
        { kind: 'light', from: 'ab', place: { chainage: 1000 }, seen: true },
        { kind: 'light', from: 'ba', place: { chainage: 2000 }, seen: true },
      ],
      null,
    )
    expect(width(result)).toBeLessThan(0.6 * width(before))
    expect(result.faults[0]!.chainage).toBeGreaterThan(1000)
    expect(result.faults[0]!.chainage).toBeLessThan(2000)
  })

  it('a distance read out over the phone is placed through coil and helix like a trace’s', () => {
    // 500 m of cord, then 300 m of ground in cable a behind its coil.
    const fault = locate([], [{ at: { chainage: 300 }, breaks: true }]).faults[0]!
    const distance = 500 + fault.opticalDistance.ab!
    const read = locate(
      [{ kind: 'distance', from: 'ab', distance, groupIndex: 1.4682, launch: 500, sigma: 3, what: 'break' }],
      null,
    ).faults[0]!
    expect(Math.abs(read.chainage - 300)).toBeLessThan(8)
    expect(read.interval95[0]).toBeLessThan(300)
    expect(read.interval95[1]).toBeGreaterThan(300)
  })

  it('an index set too low on the instrument is undone: 10 km at 1.458 is 9.93 km at 1.4682', () => {
    const at = (groupIndex: number, distance: number) =>
      locate([{ kind: 'distance', from: 'ab', distance, groupIndex, launch: 500, sigma: 3, what: 'break' }], null)
        .faults[0]!.chainage
    expect(at(1.4582, 1500 * (1.4682 / 1.4582))).toBeCloseTo(at(1.4682, 1500), 0)
  })

  it('no trace and no evidence is no fault', () => {
    expect(locate([], null).faults).toEqual([])
  })
})

describe('beside traces', () => {
  const damages = [{ at: { chainage: 1500 }, breaks: true }]

  it('agreeing evidence never widens the interval', () => {
    const plain = locate([], damages)
    const result = locate([{ kind: 'report', place: { chainage: 1500 }, spread: 50, text: 'digger' }], damages)
    expect(width(result)).toBeLessThanOrEqual(width(plain) + 0.01)
    expect(codes(result)).not.toContain('evidence-conflict')
  })

  it('light seen beyond the break contradicts it: it is said aloud and not averaged in', () => {
    const plain = locate([], damages)
    const result = locate([{ kind: 'light', from: 'ab', place: { chainage: 2500 }, seen: true }], damages)
    expect(codes(result)).toContain('evidence-conflict')
    expect(result.faults[0]!.chainage).toBeCloseTo(plain.faults[0]!.chainage, 6)
    expect(result.warnings.find((w) => w.code === 'evidence-conflict')!.message).toMatch(
      /visible light.*near end.*2500 m/,
    )
  })

  it('a distance that no trace confirms is left out, by name', () => {
    const result = locate(
      [{ kind: 'distance', from: 'ab', distance: 3000, groupIndex: 1.4682, launch: 500, sigma: 3, what: 'break' }],
      damages,
    )
    expect(result.faults).toHaveLength(1)
    expect(codes(result)).toContain('evidence-conflict')
  })

  it('a closure opened without a finding moves suspicion away from it', () => {
    const node = plant.nodes.find((candidate) => candidate.kind === 'closure')!.id
    const added = [{ at: { chainage: 1040 }, breaks: false, loss: 0.4 }]
    const share = (evidence: Evidence[]) =>
      locate(evidence, added).faults[0]!.places.find((place) => place.node === node)?.probability ?? 0
    const before = share([])
    expect(share([{ kind: 'opened', node, found: false }])).toBeLessThanOrEqual(before)
    expect(share([{ kind: 'opened', node, found: true }])).toBeGreaterThanOrEqual(before)
  })

  it('power that is whole at a node puts added loss beyond it', () => {
    const added = [{ at: { chainage: 1500 }, breaks: false, loss: 1.5 }]
    const node = plant.nodes.find((candidate) => candidate.kind === 'closure')!.id
    const fine = locate([{ kind: 'power', from: 'ab', node, expected: -12, measured: -12.2 }], added)
    expect(codes(fine)).not.toContain('evidence-conflict')
    const low = locate([{ kind: 'power', from: 'ab', node, expected: -12, measured: -13.6 }], added)
    expect(codes(low).some((code) => code.startsWith('evidence-'))).toBe(true)
  })

  it('a place off the link says nothing', () => {
    const plain = locate([], damages)
    const result = locate([{ kind: 'light', from: 'ab', place: { node: 'elsewhere' }, seen: true }], damages)
    expect(result.faults[0]!.interval95).toEqual(plain.faults[0]!.interval95)
  })
})

it.each<[Evidence, RegExp]>([
  [{ kind: 'light', from: 'ba', place: { node: 'x' }, seen: false }, /far end not seen at Panel/],
  [{ kind: 'power', from: 'ab', node: 'x', expected: -10, measured: -14.25 }, /-14\.\d dBm read at Panel.*-10\.0 dBm/],
  [{ kind: 'opened', node: 'x', found: false }, /Panel opened: nothing wrong/],
  [{ kind: 'neighbours', affected: true }, /affected too/],
  [{ kind: 'growth', how: 'weather' }, /weather/],
])('%o reads as a sentence of the trade', (evidence, words) => {
  expect(evidenceInWords(evidence, () => 'Panel')).toMatch(words)
})

describe('traces of neighbouring fibers', () => {
  const traced = (chainage: number): Evidence => ({
    kind: 'neighbours',
    affected: true,
    traced: { fibers: 12, chainage, within: 8 },
  })

  it('place a fault whose own fiber was never shot, no sharper than the records', () => {
    const [fault] = locate([traced(1600)], null).faults
    const [low, high] = fault!.interval95
    expect(low).toBeLessThan(1600)
    expect(high).toBeGreaterThan(1600)
    expect(fault!.goodEnoughToDig).toBe(false)
    expect(locate([], null).faults).toEqual([])
  })

  it('do not make a traced place sharper than its own trace does', () => {
    const damages = [{ at: { chainage: 1600 }, breaks: true }]
    const alone = locate([], damages)
    const both = locate([traced(alone.faults[0]!.chainage)], damages)
    expect(width(both)).toBeGreaterThan(0.9 * width(alone))
    expect(both.warnings).toEqual(alone.warnings)
  })

  it('that show another place contradict it, aloud', () => {
    const damages = [{ at: { chainage: 1600 }, breaks: true }]
    const result = locate([traced(300)], damages)
    expect(codes(result).some((code) => code.startsWith('evidence-'))).toBe(true)
    expect(Math.abs(result.faults[0]!.chainage - 1600)).toBeLessThan(10)
  })

  it('are told in words with their number and place', () => {
    expect(evidenceInWords(traced(1600), () => '1600 m')).toBe('traces of 12 neighbouring fibers show it at 1600 m')
  })
})
