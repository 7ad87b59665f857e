/** Of the registry package `piexifjs`, which brings no types: what is used of it. */
declare module 'piexifjs' {
  type Ifd = Record<string, unknown>
  interface Exif {
    '0th'?: Ifd
    Exif?: Ifd
    GPS?: Ifd
    Interop?: Ifd
    '1st'?: Ifd
    thumbnail?: string | null
  }
  const piexif: {
    load(jpeg: string): Exif
    dump(exif: Exif): string
    insert(exif: string, jpeg: string): string
    GPSIFD: Record<string, number>
  }
  export default piexif
}
