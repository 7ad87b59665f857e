import type { PlantBundle } from '@cold-thread/core/plant'
import Papa from 'papaparse'

/** A row of a table by its columns' names, and where it stands in its file. */
export interface NamedRow<Column extends string> {
  where: string
  /** Empty where the row, or the whole table, has none. */
  cell(column: Column): string
}

/**
 * Reads a table whose first row names its columns, as people name them. Separator comma, semicolon or tab.
 * @param columns names of each column, small letters, `_` for what stands between words
 * @param mayLack columns that may be missing
 */
export function readNamedTable<Column extends string>(
  text: string,
  columns: Readonly<Record<Column, readonly string[]>>,
  mayLack: readonly NoInfer<Column>[] = [],
): { rows: NamedRow<Column>[] } | { problem: string } {
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (header) =>
      header
        .trim()
        .toLowerCase()
        .replaceAll(/[\s,()]+/g, '_')
        .replace(/_$/, ''),
  })
  const fields = meta.fields ?? []
  const found = new Map<Column, string>()
  for (const column of Object.keys(columns) as Column[]) {
    const name = fields.find((field) => columns[column].includes(field))
    if (name !== undefined) found.set(column, name)
    else if (!mayLack.includes(column))
      return { problem: `row 1 names no column "${column}" (found: ${shown(fields)})` }
  }
  return {
    rows: data.map((row, k) => ({
      where: `row ${k + 2}`,
      cell: (column) => (row[found.get(column) ?? ''] ?? '').trim(),
    })),
  }
}

/** Names as they can be shown: of a file that is no table they may be anything. */
function shown(names: readonly string[]): string {
  const text = names.filter(Boolean).join(', ').replaceAll(/\p{C}/gu, '').trim()
  return text.length > MOST_SHOWN ? `${text.slice(0, MOST_SHOWN)}…` : text || 'nothing'
}

/** Characters. */
const MOST_SHOWN = 200

/** A node by its id or its name, whatever the case. */
export function nodeNamed({ nodes }: PlantBundle, text: string): string | null {
  const wanted = text.toLowerCase()
  return nodes.find(({ id, name }) => id.toLowerCase() === wanted || name.toLowerCase() === wanted)?.id ?? null
}
