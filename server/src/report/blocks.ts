import type { Holds, Verdict } from '@cold-thread/core/prove'
import { DateTime } from 'luxon'
import type { Content, TableCell } from 'pdfmake'

export const VERDICTS: Record<Verdict, string> = {
  restored: 'Restored',
  'restored-with-remarks': 'Restored, with remarks',
  'not-restored': 'Not restored',
  'cannot-tell': 'Can’t tell yet',
}
export const HOLDS: Record<Holds, string> = { yes: 'holds', close: 'close', no: 'over', unknown: 'not measured' }
/** Names and what they stand for, without lines. */
export function pairs(rows: readonly (readonly [string, string])[]): Content {
  return {
    table: {
      widths: [64, '*'],
      body: rows.map(([name, value]): TableCell[] => [{ text: name, color: '#444444' }, value]),
    },
    layout: 'noBorders',
  }
}

/** A table whose head stands on every page, and never without a row. */
export function table(head: readonly string[], rows: readonly TableCell[][], widths: ('*' | 'auto')[]): Content {
  return {
    table: {
      headerRows: 1,
      keepWithHeaderRows: 1,
      widths,
      body: [head.map((text): TableCell => ({ text, bold: true })), ...rows],
    },
    layout: 'lightHorizontalLines',
    style: 'cell',
  }
}

/** A figure, or a dash where there is none. */
export function figure(value: number | null, digits: number): string {
  return value === null ? '–' : value.toFixed(digits).replace('-', '−')
}

/** ± twice a standard uncertainty, never as nothing. */
export function spread(sigma: number | null, digits: number): string {
  if (sigma === null) return ''
  const least = 10 ** -digits
  return 2 * sigma < least ? ` ± < ${least}` : ` ± ${(2 * sigma).toFixed(digits)}`
}

/** Days and times as the log has them, UTC. */
export function clock(instant: string): string {
  return `${DateTime.fromISO(instant, { zone: 'utc' }).toFormat('yyyy-MM-dd HH:mm')} UTC`
}
