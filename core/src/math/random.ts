import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'

/** A seeded source of random numbers: the same seed gives the same numbers on every machine. */
export interface Random {
  /** Uniform in [0, 1). */
  uniform(): number
  /** Normal with mean 0 and standard deviation 1. */
  normal(): number
}

/** The generator's first numbers still show the few bits that a seed sets: so many are thrown away. */
const WARM_UP = 64

export function seededRandom(seed: number): Random {
  const generator = xoroshiro128plus(seed | 0)
  for (let i = 0; i < WARM_UP; i++) generator.next()
  let spare: number | null = null
  const uniform = () => (generator.next() >>> 0) / 2 ** 32
  return {
    uniform,
    normal() {
      if (spare !== null) {
        const kept = spare
        spare = null
        return kept
      }
      // Box and Muller, Annals of Mathematical Statistics 29 (1958).
      const radius = Math.sqrt(-2 * Math.log(1 - uniform()))
      const angle = 2 * Math.PI * uniform()
      spare = radius * Math.sin(angle)
      return radius * Math.cos(angle)
    },
  }
}

/** A seed from words, so that each cable or joint of a plant keeps its own random properties. */
export function seedFrom(...words: (string | number)[]): number {
  let hash = 0x811c9dc5
  for (const character of words.join('\u0000')) {
    hash ^= character.codePointAt(0)!
    hash = Math.imul(hash, 0x01000193)
  }
  return hash | 0
}
