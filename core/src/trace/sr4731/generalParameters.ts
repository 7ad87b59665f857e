import type { ByteReader, ByteWriter } from './bytes.ts'

/** GenParams: which fiber was shot, from where to where. */
export interface GeneralParameters {
  language: string
  cableId: string
  fiberId: string
  /** ITU-T number (651, 652, 655, 657 …); 0 where version 1 does not say. */
  fiberType: number
  /** Nominal wavelength, nm. */
  wavelength: number
  locationA: string
  locationB: string
  cableCode: string
  /** BC as built, CC as current, RC as repaired, OT other. */
  condition: string
  /** 100 ps, kept and never applied. */
  userOffset: number
  userOffsetDistance: number
  operator: string
  comment: string
}

export function readGeneralParameters(reader: ByteReader, version: 1 | 2): GeneralParameters {
  return {
    language: reader.fixedText(2),
    cableId: reader.text(),
    fiberId: reader.text(),
    fiberType: version === 2 ? reader.uint16() : 0,
    wavelength: reader.uint16(),
    locationA: reader.text(),
    locationB: reader.text(),
    cableCode: reader.text(),
    condition: reader.fixedText(2),
    userOffset: reader.int32(),
    userOffsetDistance: version === 2 ? reader.int32() : 0,
    operator: reader.text(),
    comment: reader.text(),
  }
}

export function writeGeneralParameters(writer: ByteWriter, block: GeneralParameters): void {
  writer.fixedText(block.language, 2)
  writer.text(block.cableId)
  writer.text(block.fiberId)
  writer.uint16(block.fiberType)
  writer.uint16(block.wavelength)
  writer.text(block.locationA)
  writer.text(block.locationB)
  writer.text(block.cableCode)
  writer.fixedText(block.condition, 2)
  writer.int32(block.userOffset)
  writer.int32(block.userOffsetDistance)
  writer.text(block.operator)
  writer.text(block.comment)
}
