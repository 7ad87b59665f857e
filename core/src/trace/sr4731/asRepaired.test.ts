import { describe, expect, it } from 'vitest'
import { buildTraceFile, version1Bytes } from '../../../test/traceFiles.ts'
import { asRepaired } from './asRepaired.ts'
import { readTraceFile } from './read.ts'
import { writeTraceFile } from './write.ts'

describe('a trace marked as repaired', () => {
  it('has RC for its condition (SR-4731), and everything else as it was, foreign blocks too', () => {
    const bytes = writeTraceFile(buildTraceFile())
    const [before, after] = [readTraceFile(bytes), readTraceFile(asRepaired(bytes))]
    expect(before.general!.condition).not.toBe('RC')
    expect(after).toEqual({ ...before, general: { ...before.general, condition: 'RC' } })
  })

  it('keeps every point of a file of version 1', () => {
    const after = readTraceFile(asRepaired(version1Bytes()))
    expect(after.general!.condition).toBe('RC')
    expect(after.data).toEqual(readTraceFile(version1Bytes()).data)
    expect(after.warnings).toEqual([])
  })

  it('gets a general block where it had none', () => {
    const file = buildTraceFile()
    const bytes = writeTraceFile({
      ...file,
      general: null,
      order: file.order.filter(({ name }) => name !== 'GenParams'),
    })
    const after = readTraceFile(asRepaired(bytes))
    expect(after.general).toMatchObject({ condition: 'RC', wavelength: file.general!.wavelength })
    expect(after.data).toEqual(readTraceFile(bytes).data)
  })
})
