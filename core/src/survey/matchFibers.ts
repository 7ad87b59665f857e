import type { Cable, Direction } from '../plant/types.ts'

/** What a trace file says of itself. */
export interface FileFacts {
  fileName: string
  fiberId: string
  locationA: string
  locationB: string
  wavelength: number
}

/** The fiber that a file belongs to, and why; `doubt` asks for a person's hand. */
export interface FileMatch {
  fileName: string
  fiber: number | null
  direction: Direction | null
  by: 'file and name' | 'file' | 'name' | 'nothing'
  doubt: string | null
}

/**
 * Matches trace files to the fibers of a cable: by the fiber number in the file, by the number that changes from name to
 * name, best by both. Whatever disagrees, is missing or comes twice is doubtful.
 * @param ends names of the link's two ends, to tell the direction from the file's own locations
 */
export function matchFibers(
  files: readonly FileFacts[],
  cable: Pick<Cable, 'fiberCount' | 'tubeSize'>,
  ends: { from: string; to: string },
): FileMatch[] {
  const fromFile = numbersInFiles(files, cable)
  const fromName = numbersInNames(files, cable.fiberCount)
  const matches = files.map((file, k): FileMatch => {
    const [inFile, inName] = [fromFile[k]!, fromName[k]!]
    const direction = directionOf(file, ends)
    const base = { fileName: file.fileName, direction }
    const noDirection = elsewhere(file, ends) ?? (direction === null ? 'its direction is not told' : null)
    if (inFile !== null && inName !== null && inFile !== inName)
      return { ...base, fiber: null, by: 'nothing', doubt: `the file says fiber ${inFile}, its name ${inName}` }
    const fiber = inFile ?? inName
    if (fiber === null) return { ...base, fiber, by: 'nothing', doubt: 'no fiber number in the file or its name' }
    const by = inFile === null ? 'name' : inName === null ? 'file' : 'file and name'
    return { ...base, fiber, by, doubt: noDirection }
  })
  const seen = new Map<string, number>()
  matches.forEach((match, k) => {
    if (match.fiber === null) return
    const key = `${match.fiber} ${match.direction} ${files[k]!.wavelength}`
    const first = seen.get(key)
    if (first === undefined) seen.set(key, k)
    else match.doubt = `fiber ${match.fiber} comes twice: ${files[first]!.fileName} has it too`
  })
  return matches
}

/** An instrument that was never told numbers writes the same one into every file: such numbers say nothing. */
function numbersInFiles(files: readonly FileFacts[], cable: Pick<Cable, 'fiberCount' | 'tubeSize'>): (number | null)[] {
  const told = new Set(files.map((file) => file.fiberId))
  if (files.length > 2 && told.size === 1) return files.map(() => null)
  return files.map(({ fiberId }) => {
    const inTube = /(?:^|[^a-z])t(?:ube)?\W*(\d+)\D+(\d+)/i.exec(fiberId)
    const number = inTube
      ? (Number(inTube[1]) - 1) * cable.tubeSize + Number(inTube[2])
      : Number(/(\d+)\D*$/.exec(fiberId)?.[1] ?? NaN)
    return number >= 1 && number <= cable.fiberCount ? number : null
  })
}

/** Names that differ only in their numbers are a series; its fiber number is the one that takes most values. */
function numbersInNames(files: readonly FileFacts[], fiberCount: number): (number | null)[] {
  const series = new Map<string, number[]>()
  files.forEach(({ fileName }, k) => {
    const skeleton = fileName.replaceAll(/\d+/g, '#')
    series.set(skeleton, [...(series.get(skeleton) ?? []), k])
  })
  const out = files.map((): number | null => null)
  for (const [skeleton, members] of series) {
    const numbers = members.map((k) => (files[k]!.fileName.match(/\d+/g) ?? []).map(Number))
    const fields = numbers[0]!.map((_, field) => ({
      field,
      // A letter before it may say that it is the fiber.
      named: /f(?:ib(?:er|re)?)?[\W_]*$/i.test(skeleton.split('#')[field]!),
      values: new Set(numbers.map((row) => row[field]!)),
    }))
    const fits = fields
      .filter(({ values }) => [...values].every((value) => value >= 1 && value <= fiberCount))
      .filter(({ values, named }) => values.size > 1 || named)
      .sort((a, b) => b.values.size - a.values.size || Number(b.named) - Number(a.named))
    const best = fits[0]
    const rival = fits[1]
    if (!best || (rival && rival.values.size === best.values.size && rival.named === best.named)) continue
    members.forEach((k, i) => (out[k] = numbers[i]![best.field]!))
  }
  return out
}

/** A file that names two places of which only one is an end of this link was shot on another one. */
function elsewhere({ locationA, locationB }: FileFacts, ends: { from: string; to: string }): string | null {
  const [a, b] = [locationA, locationB].map((name) => name.trim().toLowerCase())
  const known = [ends.from, ends.to].map((name) => name.trim().toLowerCase())
  if (!a || !b || known.includes(a) === known.includes(b)) return null
  return `the file says ${locationA} to ${locationB}: another link`
}

function directionOf(file: FileFacts, ends: { from: string; to: string }): Direction | null {
  const same = (a: string, b: string) => a.trim() !== '' && a.trim().toLowerCase() === b.trim().toLowerCase()
  if (same(file.locationA, ends.from) || same(file.locationB, ends.to)) return 'ab'
  if (same(file.locationA, ends.to) || same(file.locationB, ends.from)) return 'ba'
  const word = /(?:^|[^a-z])(ab|ba)(?:[^a-z]|$)/i.exec(file.fileName)?.[1]
  return word ? (word.toLowerCase() as Direction) : null
}
