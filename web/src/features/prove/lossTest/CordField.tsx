import { whyUnfit } from '@cold-thread/core/kit'
import { cordNames } from '@cold-thread/core/prove'
import Autocomplete from '@mui/material/Autocomplete'
import TextField from '@mui/material/TextField'
import { useKitQuery } from '../../../api/api.ts'

const OTHER = { 'single-mode': 'multimode', multimode: 'single-mode' } as const

/** The fiber kind that a cord of the kit is for; null where its record does not say. */
function fiberOf(fits: readonly string[]): 'single-mode' | 'multimode' | null {
  if (fits.some((fit) => /^OM\d|multimode/i.test(fit))) return 'multimode'
  return fits.some((fit) => /^(OS\d|G\.65\d|single-?mode)/i.test(fit)) ? 'single-mode' : null
}

/** The cords of a test by their names: those of the kit to choose from, whose matings are counted, or any other. */
export function CordField({
  value,
  kind,
  onValue,
}: {
  value: string
  /** Of the link's fiber. */
  kind: 'single-mode' | 'multimode'
  onValue(value: string): void
}) {
  const { data } = useKitQuery()
  const cords = (data?.kit.items ?? []).filter((item) => item.kind === 'test cord' || item.kind === 'adapter')
  const chosen = cordNames(value)
  const other = cords.filter((item) => chosen.includes(item.name) && fiberOf(item.fits) === OTHER[kind])
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
          helperText={
            other.length > 0
              ? `${other.map(({ name }) => name).join(', ')}: ${OTHER[kind]} on a ${kind} link reads whatever it likes; take ${kind} cords`
              : worn.join('; ') || 'of the kit, or any other'
          }
        />
      )}
      sx={{ flex: '2 1 280px' }}
    />
  )
}
