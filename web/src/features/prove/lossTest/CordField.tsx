import { whyUnfit } from '@cold-thread/core/kit'
import { cordNames } from '@cold-thread/core/prove'
import Autocomplete from '@mui/material/Autocomplete'
import TextField from '@mui/material/TextField'
import { useKitQuery } from '../../../api/api.ts'

/** The cords of a test by their names: those of the kit to choose from, whose matings are counted, or any other. */
export function CordField({ value, onValue }: { value: string; onValue(value: string): void }) {
  const { data } = useKitQuery()
  const cords = (data?.kit.items ?? []).filter(({ kind }) => kind === 'test cord')
  const chosen = cordNames(value)
  const worn = cords
    .filter(({ name }) => chosen.includes(name))
    .flatMap((item) => {
      const why = whyUnfit(item, null)
      if (why !== null) return [`${item.name}: ${why}`]
      return item.wear ? [`${item.name}: ${item.wear.used} of ${item.wear.due} ${item.wear.unit}`] : []
    })
  return (
    <Autocomplete
      multiple
      freeSolo
      autoSelect
      options={cords.map(({ name }) => name)}
      value={chosen}
      onChange={(_event, names) => onValue(names.join(', '))}
      renderInput={(params) => (
        <TextField
          {...params}
          label="Test cords, by their names"
          helperText={worn.join('; ') || 'of the kit, or any other'}
        />
      )}
      sx={{ flex: '2 1 280px' }}
    />
  )
}
