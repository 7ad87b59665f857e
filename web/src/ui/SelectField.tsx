import MenuItem from '@mui/material/MenuItem'
import TextField, { type TextFieldProps } from '@mui/material/TextField'

type Kept = Omit<TextFieldProps, 'select' | 'onChange' | 'children' | 'value' | 'label'>

/** One of several, in a list that opens. */
export function SelectField<T extends string | number>({
  options,
  onChoose,
  ...rest
}: Kept & {
  label: string
  value: T
  options: readonly (readonly [T, string | number])[]
  onChoose(value: NoInfer<T>): void
}) {
  return (
    <TextField select onChange={({ target }) => onChoose(target.value as T)} {...rest}>
      {options.map(([value, words]) => (
        <MenuItem key={value} value={value}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  )
}
