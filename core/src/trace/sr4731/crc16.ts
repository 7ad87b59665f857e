const TABLE = buildTable()

function buildTable(): Uint16Array {
  const table = new Uint16Array(256)
  for (let byte = 0; byte < 256; byte++) {
    let crc = byte << 8
    for (let bit = 0; bit < 8; bit++) crc = crc & 0x8000 ? (crc << 1) ^ 0x1021 : crc << 1
    table[byte] = crc
  }
  return table
}

/**
 * CRC-16 of a trace file: polynomial 0x1021, start 0xFFFF, no reflection, no final XOR.
 * @param end number of bytes from the start that count
 */
export function crc16(bytes: Uint8Array, end = bytes.length): number {
  let crc = 0xffff
  for (let i = 0; i < end; i++) crc = ((crc << 8) & 0xffff) ^ TABLE[(crc >> 8) ^ bytes[i]!]!
  return crc
}
