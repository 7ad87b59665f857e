import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'

/** Several of a list. */
export function Several({
  label,
  value,
  options,
  onValue,
}: {
  label: string
  value: readonly string[]
  options: readonly (readonly [string, string])[]
  onValue(value: string[]): void
}) {
  return (
    <TextField
      select
      label={label}
      value={value}
      onChange={({ target }) => onValue(target.value as unknown as string[])}
      slotProps={{ select: { multiple: true } }}
      sx={{ flex: '1 1 220px', maxWidth: 420 }}
    >
      {options.map(([id, words]) => (
        <MenuItem key={id} value={id}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  )
}
