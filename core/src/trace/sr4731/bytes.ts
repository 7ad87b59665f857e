import { TraceFileError } from './error.ts'

/** The machine keeps its numbers as the file does, so that many of them can be copied at once. */
const LITTLE_ENDIAN = new Uint8Array(new Uint16Array([1]).buffer)[0] === 1

/** A bounded little-endian cursor over one block: reading past its end is an error that names block and byte. */
export class ByteReader {
  readonly #view: DataView
  readonly #bytes: Uint8Array
  readonly #end: number
  readonly block: string
  position: number

  /** @param start,end the block's place in `bytes`, end exclusive */
  constructor(bytes: Uint8Array, block: string, start: number, end: number) {
    this.#bytes = bytes
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
    this.block = block
    this.position = start
    this.#end = Math.min(end, bytes.byteLength)
  }

  get remaining(): number {
    return this.#end - this.position
  }

  #take(length: number): number {
    const at = this.position
    if (length > this.remaining)
      throw new TraceFileError(
        'truncated',
        `${length} bytes wanted, ${Math.max(0, this.remaining)} left`,
        this.block,
        at,
      )
    this.position += length
    return at
  }

  uint16(): number {
    return this.#view.getUint16(this.#take(2), true)
  }
  int16(): number {
    return this.#view.getInt16(this.#take(2), true)
  }
  uint32(): number {
    return this.#view.getUint32(this.#take(4), true)
  }
  int32(): number {
    return this.#view.getInt32(this.#take(4), true)
  }

  /** A field of fixed length, one character a byte. */
  fixedText(length: number): string {
    const at = this.#take(length)
    return latin1(this.#bytes, at, at + length)
  }

  /** A string that ends in \0; the terminator is consumed. */
  text(): string {
    const start = this.position
    const stop = this.#bytes.indexOf(0, start)
    if (stop < 0 || stop >= this.#end) throw new TraceFileError('truncated', 'a string has no end', this.block, start)
    this.position = stop + 1
    return latin1(this.#bytes, start, stop)
  }

  /** A copy of the next `length` bytes. */
  raw(length: number): Uint8Array {
    const at = this.#take(length)
    return this.#bytes.slice(at, at + length)
  }

  /** `count` values of uint16; the count is held against the block's size before anything is allocated. */
  uint16Array(count: number, what: string): Uint16Array {
    this.expectRoom(count, 2, what)
    const out = new Uint16Array(count)
    const at = this.#take(count * 2)
    if (LITTLE_ENDIAN) new Uint8Array(out.buffer).set(this.#bytes.subarray(at, at + 2 * count))
    else for (let i = 0; i < count; i++) out[i] = this.#view.getUint16(at + 2 * i, true)
    return out
  }

  expectRoom(count: number, bytesEach: number, what: string): void {
    if (count * bytesEach > this.remaining)
      throw new TraceFileError(
        'bad-count',
        `${count} ${what} do not fit in the ${Math.max(0, this.remaining)} bytes left`,
        this.block,
        this.position,
      )
  }
}

/** One character a byte, so that text in an unknown 8-bit code survives a rewrite unchanged. */
function latin1(bytes: Uint8Array, start: number, end: number): string {
  let out = ''
  for (let i = start; i < end; i++) out += String.fromCharCode(bytes[i]!)
  return out
}

/** A growing little-endian buffer. */
export class ByteWriter {
  #bytes = new Uint8Array(1024)
  #view = new DataView(this.#bytes.buffer)
  #length = 0

  get length(): number {
    return this.#length
  }

  /** Makes room and returns its place. Growing replaces buffer and view: take the place before touching either. */
  #grow(by: number): number {
    const at = this.#length
    this.#length += by
    if (this.#length > this.#bytes.length) {
      const larger = new Uint8Array(Math.max(this.#length, this.#bytes.length * 2))
      larger.set(this.#bytes)
      this.#bytes = larger
      this.#view = new DataView(larger.buffer)
    }
    return at
  }

  uint16(value: number): void {
    const at = this.#grow(2)
    this.#view.setUint16(at, value, true)
  }
  int16(value: number): void {
    const at = this.#grow(2)
    this.#view.setInt16(at, value, true)
  }
  uint32(value: number): void {
    const at = this.#grow(4)
    this.#view.setUint32(at, value, true)
  }
  int32(value: number): void {
    const at = this.#grow(4)
    this.#view.setInt32(at, value, true)
  }

  /** Exactly `length` bytes: cut or padded with spaces. */
  fixedText(value: string, length: number): void {
    const at = this.#grow(length)
    for (let i = 0; i < length; i++) this.#bytes[at + i] = i < value.length ? byteOf(value.charCodeAt(i)) : 0x20
  }

  /** The text and its terminating \0; a \0 inside the text ends it there. */
  text(value: string): void {
    const clean = value.split('\0', 1)[0]!
    const at = this.#grow(clean.length + 1)
    for (let i = 0; i < clean.length; i++) this.#bytes[at + i] = byteOf(clean.charCodeAt(i))
    this.#bytes[at + clean.length] = 0
  }

  raw(bytes: Uint8Array): void {
    const at = this.#grow(bytes.length)
    this.#bytes.set(bytes, at)
  }

  uint16Array(values: Uint16Array): void {
    const at = this.#grow(values.length * 2)
    for (let i = 0; i < values.length; i++) this.#view.setUint16(at + 2 * i, values[i]!, true)
  }

  done(): Uint8Array {
    return this.#bytes.slice(0, this.#length)
  }
}

/** The format has 8-bit text; what lies beyond becomes a question mark. */
function byteOf(charCode: number): number {
  return charCode < 256 ? charCode : 0x3f
}
