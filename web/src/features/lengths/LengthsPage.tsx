import Box from '@mui/material/Box'
import Checkbox from '@mui/material/Checkbox'
import CircularProgress from '@mui/material/CircularProgress'
import FormControlLabel from '@mui/material/FormControlLabel'
import Typography from '@mui/material/Typography'
import { useOpenBookQuery, usePlantQuery } from '../../api/api.ts'
import { unitsChosen } from '../../app/settings.ts'
import { useAppDispatch, useAppSelector } from '../../app/store.ts'
import { Problem } from '../../ui/Problem.tsx'
import { CableLengths } from './CableLengths.tsx'
import { ConnectorLengths, OwnTemplate } from './ConnectorLengths.tsx'

/** How much comes off: every length from the cable's end, to scale, and as a template in true size. */
export function LengthsPage() {
  const { data: book, error } = useOpenBookQuery()
  const { data: plant, error: plantError } = usePlantQuery()
  const units = useAppSelector((state) => state.settings.units)
  const dispatch = useAppDispatch()
  if (!book || !plant)
    return error || plantError ? <Problem error={error ?? plantError} /> : <CircularProgress aria-label="Loading" />
  return (
    <>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'center', mb: 1 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Lengths
        </Typography>
        <FormControlLabel
          control={
            <Checkbox
              checked={units === 'metric and inches'}
              onChange={({ target }) => dispatch(unitsChosen(target.checked ? 'metric and inches' : 'metric'))}
            />
          }
          label="Inches beside metres"
        />
      </Box>
      <CableLengths book={book.book} cables={plant.bundle?.cables ?? []} />
      <ConnectorLengths />
      <OwnTemplate />
    </>
  )
}
