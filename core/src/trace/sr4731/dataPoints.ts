import type { ByteReader, ByteWriter } from './bytes.ts'
import { TraceFileError } from './error.ts'
import { MAX_POINTS } from './limits.ts'

/** A run of points that share a scale. */
export interface ScaledPoints {
  /** × 0.001; 1000 means that a value counts 0.001 dB. */
  scale: number
  /** Below full scale: 0.001 dB × scale/1000. */
  values: Uint16Array
}

/** DataPts: the trace itself. */
export interface DataPoints {
  scales: ScaledPoints[]
}

export function readDataPoints(reader: ByteReader): DataPoints {
  const at = reader.position
  const total = reader.uint32()
  if (total > MAX_POINTS)
    throw new TraceFileError('too-large', `${total} points, at most ${MAX_POINTS} are read`, reader.block, at)
  const scaleCount = reader.int16()
  if (scaleCount < 0) throw new TraceFileError('bad-count', `${scaleCount} scales`, reader.block, at + 4)
  reader.expectRoom(scaleCount, 6, 'scales')
  const scales: ScaledPoints[] = []
  let found = 0
  for (let i = 0; i < scaleCount; i++) {
    const pointsAt = reader.position
    const points = reader.uint32()
    const scale = reader.uint16()
    found += points
    if (found > total)
      throw new TraceFileError('bad-count', `the scales hold over ${total} points`, reader.block, pointsAt)
    scales.push({ scale, values: reader.uint16Array(points, 'points') })
  }
  if (found === 0) throw new TraceFileError('bad-count', 'there are no data points', reader.block, at)
  if (found !== total)
    throw new TraceFileError('bad-count', `${total} points declared, ${found} in the scales`, reader.block, at)
  return { scales }
}

export function writeDataPoints(writer: ByteWriter, block: DataPoints): void {
  writer.uint32(block.scales.reduce((sum, scale) => sum + scale.values.length, 0))
  writer.int16(block.scales.length)
  for (const { scale, values } of block.scales) {
    writer.uint32(values.length)
    writer.uint16(scale)
    writer.uint16Array(values)
  }
}
