/** Remainders of each byte followed by 0, 1, 2 and 3 more bytes: four bytes are taken at a time. */
const TABLES = buildTables()

function buildTables(): readonly [Uint16Array, Uint16Array, Uint16Array, Uint16Array] {
  const tables = Array.from({ length: 4 }, () => new Uint16Array(256))
  for (let byte = 0; byte < 256; byte++) {
    let crc = byte << 8
    for (let bit = 0; bit < 32; bit++) {
      crc = crc & 0x8000 ? (crc << 1) ^ 0x1021 : crc << 1
      if (bit % 8 === 7) tables[bit >> 3]![byte] = crc
    }
  }
  return tables as [Uint16Array, Uint16Array, Uint16Array, Uint16Array]
}

/**
 * CRC-16 of a trace file: polynomial 0x1021, start 0xFFFF, no reflection, no final XOR.
 * @param end number of bytes from the start that count
 */
export function crc16(bytes: Uint8Array, end = bytes.length): number {
  const [t0, t1, t2, t3] = TABLES
  let crc = 0xffff
  let i = 0
  for (; i + 4 <= end; i += 4)
    crc = t3[(crc >> 8) ^ bytes[i]!]! ^ t2[(crc & 0xff) ^ bytes[i + 1]!]! ^ t1[bytes[i + 2]!]! ^ t0[bytes[i + 3]!]!
  for (; i < end; i++) crc = ((crc << 8) & 0xffff) ^ t0[(crc >> 8) ^ bytes[i]!]!
  return crc
}
