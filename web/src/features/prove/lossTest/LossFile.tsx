import type { Link } from '@cold-thread/core/plant'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import { CsvButton } from '../../../ui/CsvButton.tsx'
import { SelectField } from '../../../ui/SelectField.tsx'
import { guessColumns, readLossTable, textsOf, type LossColumns, type LossTable } from './lossCsv.ts'

/** No column. */
const NONE = -1

/** Readings from a table file: which column is what is guessed and can be changed, then they stand in their fields. */
export function LossFile({
  links,
  wavelength,
  onTexts,
}: {
  links: readonly Link[]
  /** Of the reference, nm. */
  wavelength: number
  onTexts(texts: Readonly<Record<string, string>>): void
}) {
  const [file, setFile] = useState<{ name: string; table: LossTable | null; columns: LossColumns } | null>(null)
  const choose = async (chosen: File) => {
    const table = readLossTable(await chosen.text())
    setFile({
      name: chosen.name,
      table,
      columns: table ? guessColumns(table, links) : { link: 0, figure: 1, wavelength: null },
    })
  }
  const read = file?.table ? textsOf(file.table, file.columns, links, wavelength) : null
  const column = (which: 'link' | 'figure', label: string) => (
    <SelectField
      label={label}
      value={file!.columns[which]}
      onChoose={(chosen: number) => setFile({ ...file!, columns: { ...file!.columns, [which]: chosen } })}
      sx={{ flex: '1 1 180px', maxWidth: 280 }}
      options={file!.table!.columns.map((name, k) => [k, name] as const)}
    />
  )
  const count = read && 'texts' in read ? Object.keys(read.texts).length : 0
  return (
    <Box sx={{ mt: 1 }}>
      <CsvButton
        words="Readings from a CSV file"
        label="CSV file of readings"
        onFile={(chosen) => void choose(chosen)}
      />
      {file && !file.table && (
        <Alert severity="error">
          {file.name}: this is no table with a row for each link. Nothing was taken from it.
        </Alert>
      )}
      {file?.table && (
        <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'flex-start', mt: 1 }}>
          {column('link', 'Column of the link')}
          {column('figure', 'Column of the reading')}
          <SelectField
            label="Column of the wavelength"
            value={file.columns.wavelength ?? NONE}
            onChoose={(chosen: number) =>
              setFile({ ...file, columns: { ...file.columns, wavelength: chosen === NONE ? null : chosen } })
            }
            sx={{ flex: '1 1 180px', maxWidth: 280 }}
            options={[
              [NONE, `none: all at ${wavelength} nm`],
              ...file.table.columns.map((name, k) => [k, name] as const),
            ]}
          />
          <Button
            variant="outlined"
            disabled={count === 0}
            onClick={() => {
              if (read && 'texts' in read) onTexts(read.texts)
              setFile(null)
            }}
            sx={{ minHeight: 56 }}
          >
            {count === 1
              ? 'Put 1 reading into its field'
              : `Put ${count === 0 ? '' : `${count} `}readings into their fields`}
          </Button>
          <Button onClick={() => setFile(null)} sx={{ minHeight: 56 }}>
            Drop the file
          </Button>
          {read && 'texts' in read && read.others.length > 0 && (
            <Alert severity="info" sx={{ width: 1 }}>
              {read.others.map((other) => `${other.rows} at ${other.wavelength} nm`).join(', ')}: left out, the
              reference is of {wavelength} nm. Set a reference at that wavelength and open the file again.
            </Alert>
          )}
          {read && 'problem' in read && (
            <Alert severity="error" sx={{ width: 1 }}>
              {file.name}, {read.problem}. Nothing was taken from it.
            </Alert>
          )}
        </Box>
      )}
    </Box>
  )
}
