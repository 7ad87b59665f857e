import { KIT_KINDS, type KitItem } from '@cold-thread/core/kit'
import Autocomplete from '@mui/material/Autocomplete'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import TextField from '@mui/material/TextField'
import { useForm } from 'react-hook-form'

interface Fields {
  kind: string
  name: string
  count: string
  place: string
  fits: string
  fibers: string
  used: string
  due: string
  unit: string
  calibratedUntil: string
}

/** One thing of the kit. */
export function ItemDialog({
  item,
  onPut,
  onRemove,
  onClose,
}: {
  item: KitItem
  onPut(item: KitItem): void
  onRemove(): void
  onClose(): void
}) {
  const { register, handleSubmit, setValue, watch, formState } = useForm<Fields>({
    defaultValues: {
      kind: item.kind,
      name: item.name,
      count: String(item.count),
      place: item.place,
      fits: item.fits.join(', '),
      fibers: item.fibers === null ? '' : String(item.fibers),
      used: item.wear ? String(item.wear.used) : '',
      due: item.wear ? String(item.wear.due) : '',
      unit: item.wear?.unit ?? '',
      calibratedUntil: item.calibratedUntil ?? '',
    },
  })
  const { errors } = formState
  const submit = handleSubmit((fields) =>
    onPut({
      ...item,
      kind: fields.kind.trim(),
      name: fields.name.trim(),
      count: Number(fields.count),
      place: fields.place.trim(),
      fits: fields.fits
        .split(',')
        .map((fit) => fit.trim())
        .filter(Boolean),
      fibers: fields.fibers.trim() === '' ? null : Number(fields.fibers),
      wear:
        fields.due.trim() === ''
          ? null
          : { used: Number(fields.used || 0), due: Number(fields.due), unit: fields.unit.trim() || 'uses' },
      calibratedUntil: fields.calibratedUntil || null,
    }),
  )
  const number = (words: string, least: number, whole: boolean, optional: boolean) => ({
    validate: (text: string) => {
      if (optional && text.trim() === '') return true
      const value = Number(text)
      return (text.trim() !== '' && value >= least && (!whole || Number.isInteger(value))) || words
    },
  })
  const field = (name: keyof Fields, label: string, rules = {}, more = {}) => (
    <TextField
      size="small"
      label={label}
      {...register(name, rules)}
      error={errors[name] !== undefined}
      helperText={errors[name]?.message ?? ' '}
      {...more}
    />
  )
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="thing">
      <form onSubmit={(event) => void submit(event)}>
        <DialogTitle id="thing">{item.name || 'A new thing'}</DialogTitle>
        <DialogContent>
          <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' }, columnGap: 2, pt: 1 }}>
            <Autocomplete
              freeSolo
              options={KIT_KINDS.map(({ kind }) => kind)}
              inputValue={watch('kind')}
              onInputChange={(_, kind) => setValue('kind', kind)}
              renderInput={(params) => (
                <TextField
                  {...params}
                  size="small"
                  label="Kind"
                  error={errors.kind !== undefined}
                  helperText={errors.kind?.message ?? ' '}
                />
              )}
            />
            {field('name', 'Which, size, number')}
            {field('count', 'Count (m for cable)', number('0 or more', 0, false, false))}
            {field('place', 'Place: van or store', { required: 'where it is' })}
            {field('fits', 'Fits, such as LC/UPC, 1550')}
            {field('fibers', 'Fibers it takes', number('a whole number', 1, true, true))}
            {field('used', 'Used so far', number('0 or more', 0, false, true))}
            {field('due', 'Due after', number('more than 0', 0.001, false, true))}
            {field('unit', 'Counted in, such as matings')}
            {field(
              'calibratedUntil',
              'Calibrated until',
              {},
              { type: 'date', slotProps: { inputLabel: { shrink: true } } },
            )}
          </Box>
        </DialogContent>
        <DialogActions>
          <Button onClick={onRemove} color="error">
            Remove
          </Button>
          <Box sx={{ flex: 1 }} />
          <Button onClick={onClose}>Leave as it was</Button>
          <Button type="submit" variant="contained">
            Take over
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
