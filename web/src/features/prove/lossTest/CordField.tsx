import { coreInWords, coreOfCord, coresMatch, type FiberCore } from '@cold-thread/core/fiber'
import { whyUnfit } from '@cold-thread/core/kit'
import { cordNames } from '@cold-thread/core/prove'
import Autocomplete from '@mui/material/Autocomplete'
import TextField from '@mui/material/TextField'
import { useKitQuery } from '../../../api/api.ts'

/** The cords of a test by their names: those of the kit to choose from, whose matings are counted, or any other. */
export function CordField({
  value,
  core,
  onValue,
}: {
  value: string
  /** Of the link's fiber. */
  core: FiberCore
  onValue(value: string): void
}) {
  const { data } = useKitQuery()
  const cords = (data?.kit.items ?? []).filter((item) => item.kind === 'test cord' || item.kind === 'adapter')
  const chosen = cordNames(value)
  const other = cords.flatMap(({ name, fits }) => {
    const own = chosen.includes(name) ? coreOfCord(fits) : null
    return own && !coresMatch(own, core)
      ? [
          `${name} is ${coreInWords(own)}, the link ${coreInWords(core)}: where cores differ light is lost, or kept, that tells nothing of the link; take cords of its kind`,
        ]
      : []
  })
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
          label="Test cords and adapters, by their names"
          error={other.length > 0}
          helperText={other.length > 0 ? other.join('; ') : worn.join('; ') || 'of the kit, or any other'}
        />
      )}
      sx={{ flex: '2 1 280px' }}
    />
  )
}
