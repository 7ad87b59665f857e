import type { TrunkSample } from '@cold-thread/core/prove'
import TextField from '@mui/material/TextField'

/** A table that a tester shows or writes, pasted or typed, a row for each channel. */
export function TesterTable({
  label,
  value,
  onChange,
  problem,
  help,
}: {
  label: string
  value: string
  onChange(value: string): void
  /** Why nothing of it is taken. */
  problem: string | null
  help: string
}) {
  return (
    <TextField
      label={label}
      value={value}
      onChange={({ target }) => onChange(target.value)}
      error={problem !== null}
      helperText={problem === null ? help : `${problem}: nothing is taken`}
      multiline
      minRows={3}
      maxRows={14}
      fullWidth
      slotProps={{ htmlInput: { maxLength: 4000 } }}
      sx={{ mb: 1 }}
    />
  )
}

/** What a tester sent, as the table that could be pasted: its channel first, then these columns. */
export function asTable(rows: readonly TrunkSample[], columns: (row: TrunkSample) => (number | null)[]): string {
  return rows.map((row) => [row.channel, ...columns(row)].map((cell) => cell ?? '').join('\t')).join('\n')
}
