import { plantToGeoJson } from '@cold-thread/core/plant'
import {
  decodeTrace,
  distanceOf,
  readTraceFile,
  TraceFileError,
  traceFromFile,
  writeTraceFile,
} from '@cold-thread/core/trace'
import { writeFileSync } from 'node:fs'
import { extname } from 'node:path'
import Papa from 'papaparse'
import { readBytes, readPlant } from '../input.ts'
import type { Output } from '../output.ts'
import { Refusal } from '../refusal.ts'

/** .sor → .sor (rewritten as version 2.00), .sor → .csv (points), plant .json → .geojson */
export function convert(input: string, output: string, out: Output): number {
  const route = `${extname(input).toLowerCase()}>${extname(output).toLowerCase()}`
  writeFileSync(output, converted(route, input))
  out.message(`${output} written`)
  return 0
}

function converted(route: string, input: string): Uint8Array | string {
  switch (route) {
    case '.sor>.sor':
      return refusingTrace(input, (bytes) => writeTraceFile(readTraceFile(bytes)))
    case '.sor>.csv':
      return refusingTrace(input, (bytes) => pointsCsv(bytes))
    case '.json>.geojson':
      return JSON.stringify(plantToGeoJson(readPlant(input)), null, 2)
    default:
      throw new Refusal(
        `${input}: can convert .sor to .sor or .csv, a plant's .json to .geojson; not ${route.replace('>', ' to ')}`,
        'no-conversion',
      )
  }
}

function refusingTrace<T>(input: string, what: (bytes: Uint8Array) => T): T {
  const bytes = readBytes(input)
  try {
    decodeTrace(bytes)
    return what(bytes)
  } catch (error) {
    if (error instanceof TraceFileError)
      throw new Refusal(`${input}: ${error.message}`, error.code, error.block, error.byte)
    throw error
  }
}

function pointsCsv(bytes: Uint8Array): string {
  const trace = traceFromFile(readTraceFile(bytes))
  const rows = Array.from(trace.levels, (level, i) => [distanceOf(trace, i), level])
  return Papa.unparse({ fields: ['distance_m', 'level_dB'], data: rows }) + '\r\n'
}
