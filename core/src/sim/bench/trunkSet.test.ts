import { describe, expect, it } from 'vitest'
import { farChannel, gatherTrunk, judgeTrunk, type TrunkTest } from '../../prove/index.ts'
import { readTrunkStandIn, TrunkStream, type TrunkFault } from './trunkSet.ts'

describe('a simulated tester of trunks', () => {
  const read = (fault: TrunkFault, seed: number) => {
    const map = Array.from({ length: 12 }, (_, k) => farChannel('B', k + 1, 12))
    const channels = readTrunkStandIn(map, fault, seed)
    const test: TrunkTest = { trunk: 'T', end: 'first', fiber: 'multimode', wavelength: 850, polarity: 'B', channels }
    return judgeTrunk(test)
  }

  it('without a fault every channel is good; with one, only what it hit is named, over fresh seeds', () => {
    for (let seed = 1; seed <= 60; seed++) {
      expect(read('none', seed).good).toBe(true)
      const bad = (fault: TrunkFault) => read(fault, seed).channels.filter(({ word }) => word !== 'within')
      expect(bad('one channel dark').map(({ word }) => word)).toEqual(['dark'])
      expect(bad('one channel dirty').map(({ word }) => word)).toEqual(['over'])
      expect(bad('two channels swapped').map(({ word }) => word)).toEqual(['elsewhere', 'elsewhere'])
      // Cleaning puts no fiber elsewhere.
      expect(read('two channels swapped', seed).next).toMatch(/follow these fibers .* to where they cross/)
    }
  })

  it('switched on it swings, comes to rest, and is then taken as what it is, over fresh seeds', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const seen = readTrunkStandIn([3, 2, 1, 4], 'one channel dark', seed)
      const stream = new TrunkStream(
        seen.map(({ at, loss, returnLoss }) => ({ at, value: loss, returnLoss })),
        seed,
      )
      const samples = [stream.next(0.05)]
      expect(gatherTrunk(samples, 4).rows).toBeNull()
      while (gatherTrunk(samples, 4).rows === null && samples.length < 2000) samples.push(stream.next(0.05))
      const { rows } = gatherTrunk(samples, 4)
      // Five of each channel would do if nothing swung.
      expect(samples.length).toBeGreaterThan(20)
      rows!.forEach(({ value, at, returnLoss }, k) => {
        expect({ at, returnLoss }).toEqual({ at: seen[k]!.at, returnLoss: seen[k]!.returnLoss })
        if (seen[k]!.loss === null) expect(value).toBeNull()
        else expect(Math.abs(value! - seen[k]!.loss)).toBeLessThan(0.05)
      })
    }
  })
})
