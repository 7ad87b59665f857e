import { describe, expect, it } from 'vitest'
import { askCalibration, askConditions, askSplice, SplicerError, StandInSplicer, type Splicer } from './splicer.ts'

const says = (what: unknown): Splicer => ({
  calibrate: () => Promise.resolve(what),
  splice: () => Promise.resolve(what),
  conditions: () => Promise.resolve(what),
})
const GOOD = { estimate: 0.02, cleaveLeft: 0.3, cleaveRight: 0.4, offset: 0.5, gap: 'good', proof: 'held' }

describe('what comes from a splicer', () => {
  it('is taken as it is where it can be', async () => {
    expect(await askSplice(says(GOOD), 1)).toEqual({
      readings: [{ estimate: 0.02, cleaveLeft: 0.3, cleaveRight: 0.4 }],
      offset: 0.5,
      gap: 'good',
      proof: 'held',
    })
    expect(await askCalibration(says('refused'), 'single-mode')).toBe('refused')
  })

  it('a missing estimate is none, not nought', async () => {
    const { readings, proof } = await askSplice(says({ cleaveLeft: 0.3, cleaveRight: 0.4 }), 1)
    expect([readings[0]!.estimate, proof]).toEqual([null, null])
  })

  it('of a ribbon the worst of its fibers counts for picture, pull and offset', async () => {
    const ribbon = [GOOD, { ...GOOD, gap: 'bad', offset: 1.2 }, { ...GOOD, proof: 'broke' }]
    expect(await askSplice(says(ribbon), 3)).toMatchObject({
      offset: 1.2,
      gap: 'bad',
      proof: 'broke',
      readings: { length: 3 },
    })
  })

  it.each<[string, unknown, RegExp]>([
    ['a negative estimate', { ...GOOD, estimate: -4 }, /estimate -4/],
    ['words for a figure', { ...GOOD, cleaveLeft: 'flat' }, /left cleave flat/],
    ['no number', { ...GOOD, cleaveRight: NaN }, /right cleave NaN/],
    ['a picture that is neither', { ...GOOD, gap: 'blurred' }, /picture blurred/],
    ['nothing at all', null, /null/],
    ['fibers too many', [GOOD, GOOD], /2 fibers of 1/],
  ])('%s is refused, and says what to do', async (_name, told, message) => {
    await expect(askSplice(says(told), 1)).rejects.toThrow(SplicerError)
    await expect(askSplice(says(told), 1)).rejects.toThrow(message)
    await expect(askSplice(says(told), 1)).rejects.toThrow(/Read its screen and enter what it shows/)
  })

  it('its sensors are read where it has them, and not believed beyond what can be', async () => {
    expect(await askConditions(says({ altitude: 300, temperature: -4 }))).toEqual({
      altitude: 300,
      temperature: -4,
      humidity: null,
      pressure: null,
    })
    await expect(askConditions(says({ humidity: 140 }))).rejects.toThrow(/humidity 140/)
    await expect(askConditions(says('warm'))).rejects.toThrow(/warm/)
  })

  it('silence is not waited for for ever', async () => {
    const silent = new StandInSplicer(1, 'core', 'silent', 1)
    await expect(askSplice(silent, 1, 20)).rejects.toThrow(/says nothing/)
    await expect(askCalibration(silent, 'single-mode', 20)).rejects.toThrow(/says nothing/)
    await expect(askCalibration(says('perhaps'), 'single-mode')).rejects.toThrow(/calibration perhaps/)
  })

  it('the stand-in in order gives each fiber of a ribbon its reading', async () => {
    expect((await askSplice(new StandInSplicer(1, 'core', 'none', 1), 12)).readings).toHaveLength(12)
  })
})
