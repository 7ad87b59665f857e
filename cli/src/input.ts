import { damageList, plantBundle, spliceSession, type SpliceSession } from '@cold-thread/contract'
import { CodedError } from '@cold-thread/core/errors'
import type { Shot } from '@cold-thread/core/locate'
import { checkPlant, PlantError, type Direction, type PlantBundle } from '@cold-thread/core/plant'
import type { Damage } from '@cold-thread/core/sim'
import { analyzeTrace, decodeTrace, MAX_FILE_BYTES, TraceFileError, type TraceAnalysis } from '@cold-thread/core/trace'
import { readFileSync, statSync } from 'node:fs'
import type { z } from 'zod'
import { Refusal } from './refusal.ts'

/** @throws Refusal when the file can't be read or is over the limit, which is checked before it is read */
export function readBytes(file: string, limit = MAX_FILE_BYTES): Uint8Array {
  let size: number
  try {
    size = statSync(file).size
  } catch {
    throw new Refusal(`${file}: there is no such file`, 'no-file')
  }
  if (size > limit) throw new Refusal(`${file}: ${size} bytes, at most ${limit} are read`, 'too-large', 'file', 0)
  try {
    return readFileSync(file)
  } catch (error) {
    throw new Refusal(`${file}: ${(error as Error).message}`, 'no-file')
  }
}

/** @throws Refusal naming block and byte */
export function readTrace(file: string): TraceAnalysis {
  const bytes = readBytes(file)
  try {
    return analyzeTrace(decodeTrace(bytes))
  } catch (error) {
    if (error instanceof TraceFileError)
      throw new Refusal(`${file}: ${error.message}`, error.code, error.block, error.byte)
    if (error instanceof CodedError) throw new Refusal(`${file}: ${error.message}`, 'cannot-analyze')
    throw error
  }
}

function readJson<T>(file: string, schema: z.ZodType<T, unknown>): T {
  const text = new TextDecoder().decode(readBytes(file, 64 * 1024 * 1024))
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    throw new Refusal(`${file}: this is not JSON: ${(error as Error).message}`, 'not-json')
  }
  const parsed = schema.safeParse(value)
  if (parsed.success) return parsed.data
  const issue = parsed.error.issues[0]!
  throw new Refusal(`${file}: ${pathOf(issue.path)}: ${issue.message}`, 'invalid')
}

function pathOf(path: readonly PropertyKey[]): string {
  const text = path.map((key) => (typeof key === 'number' ? `[${key}]` : `.${String(key)}`)).join('')
  return text.replace(/^\./, '') || 'document'
}

/** @throws Refusal naming the field */
export function readPlant(file: string, linkId?: string): PlantBundle {
  const plant = readJson<PlantBundle>(file, plantBundle)
  try {
    checkPlant(plant)
  } catch (error) {
    if (error instanceof PlantError) throw new Refusal(`${file}: ${error.message}`, error.code)
    throw error
  }
  if (linkId !== undefined && !plant.links.some((link) => link.id === linkId))
    throw new Refusal(
      `${file}: there is no link "${linkId}" (there are: ${plant.links.map((link) => link.id).join(', ')})`,
      'no-link',
    )
  return plant
}

export function readDamages(file: string): Damage[] {
  return readJson(file, damageList)
}

/** @throws Refusal naming the field */
export function readSpliceSession(file: string): SpliceSession {
  return readJson(file, spliceSession)
}

export interface CordOptions {
  launch?: number | undefined
  receive?: number | undefined
}

/**
 * Traces of one end as shots. Cords given on the command line go over those of the link; the link's are named for
 * shots from its `from` and swapped for shots from its `to`.
 */
export function readShots(
  files: readonly string[],
  direction: Direction,
  plant: PlantBundle,
  linkId: string,
  cords: CordOptions,
): Shot[] {
  const link = plant.links.find((candidate) => candidate.id === linkId)!
  const [near, far] = direction === 'ab' ? [link.launchCord, link.receiveCord] : [link.receiveCord, link.launchCord]
  return files.map((file) => ({
    name: file,
    direction,
    analysis: readTrace(file),
    launch: cords.launch ?? near ?? null,
    receive: cords.receive ?? far ?? null,
  }))
}
