import type { RepairOption } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import FormControlLabel from '@mui/material/FormControlLabel'
import Radio from '@mui/material/Radio'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import Typography from '@mui/material/Typography'
import useMediaQuery from '@mui/material/useMediaQuery'
import type { Theme } from '@mui/material/styles'
import { MONO } from '../../app/theme.ts'
import { Figure } from '../../ui/Figure.tsx'
import { minutesInWords, tightest } from './planWords.ts'

/** Repairs side by side, the best for the lead's wishes first; what can't be done says why. */
export function OptionsTable({
  options,
  chosen,
  onChoose,
}: {
  options: readonly RepairOption[]
  chosen: string | null
  onChoose(id: string): void
}) {
  const possible = options.filter((option) => option.possible)
  const others = options.filter((option) => !option.possible)
  const narrow = useMediaQuery((theme: Theme) => theme.breakpoints.down('md'))
  return (
    <>
      {narrow ? (
        <Box role="radiogroup" aria-label="Repairs compared">
          {possible.map((option) => (
            <OptionCard key={option.id} option={option} chosen={option.id === chosen} onChoose={onChoose} />
          ))}
        </Box>
      ) : (
        <Table size="small" aria-label="Repairs compared">
          <TableHead>
            <TableRow>
              <TableCell />
              <TableCell>Repair</TableCell>
              <TableCell align="right">Cures it</TableCell>
              <TableCell align="right">First circuit</TableCell>
              <TableCell align="right">All circuits</TableCell>
              <TableCell align="right">Finished</TableCell>
              <TableCell align="right">People</TableCell>
              <TableCell align="right">Least margin</TableCell>
              <TableCell>Not at hand</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {possible.map((option) => (
              <OptionRow key={option.id} option={option} chosen={option.id === chosen} onChoose={onChoose} />
            ))}
          </TableBody>
        </Table>
      )}
      {possible.length > 0 && !narrow && (
        <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 0.5 }}>
          Medians, counted from leaving; under the finish, what eight runs of ten lie between. ± one standard
          uncertainty.
        </Typography>
      )}
      {others.length > 0 && (
        <Box component="details" sx={{ mt: 1 }} open={possible.length === 0}>
          <Box component="summary" sx={{ cursor: 'pointer', minHeight: 44, display: 'list-item', pt: 1.25 }}>
            Not possible here: {others.length}
          </Box>
          <Box component="ul" sx={{ pl: 3, my: 0.5 }}>
            {others.map((option) => (
              <li key={option.id}>
                <strong>{option.name}</strong>: {option.whyNot.join('; ')}
              </li>
            ))}
          </Box>
        </Box>
      )}
    </>
  )
}

/** A repair on a narrow screen: what is compared in words, the whole of it to be touched. */
function OptionCard({
  option: { id, name, chance, minutes, permanence, projected, lacks },
  chosen,
  onChoose,
}: {
  option: RepairOption
  chosen: boolean
  onChoose(id: string): void
}) {
  const least = tightest(projected)
  const back = minutes.firstCircuit === null ? null : minutesInWords(minutes.firstCircuit)
  return (
    <FormControlLabel
      control={<Radio checked={chosen} onChange={() => onChoose(id)} />}
      sx={{ display: 'flex', alignItems: 'flex-start', borderBottom: 1, borderColor: 'divider', mr: 0, py: 0.5 }}
      label={
        <Box sx={{ pt: 1 }}>
          <Typography sx={{ fontWeight: chosen ? 650 : 400 }}>
            {name}
            {permanence !== 'permanent' && `, ${PERMANENCE[permanence]}`}
          </Typography>
          <Typography sx={{ fontSize: 14 }}>
            {back ? `first circuit ${back}, ` : 'brings no circuit back, '}finished {minutesInWords(minutes.finish.p50)}{' '}
            (90&nbsp;% by {minutesInWords(minutes.finish.p90)}), cures it {Math.round(100 * chance)}&nbsp;%
            {least && `, least margin ${least.margin.toFixed(1)}\u00a0dB`}
            {lacks.length > 0 && `; not at hand: ${lacks.map(({ what }) => what).join(', ')}`}
          </Typography>
        </Box>
      }
    />
  )
}

const PERMANENCE = { permanent: '', interim: 'until the permanent repair', temporary: 'temporary' }

function OptionRow({
  option,
  chosen,
  onChoose,
}: {
  option: RepairOption
  chosen: boolean
  onChoose(id: string): void
}) {
  const { id, name, chance, minutes, lacks, projected, permanence, wishes, score } = option
  const least = tightest(projected)
  return (
    <TableRow selected={chosen} onClick={() => onChoose(id)} sx={{ cursor: 'pointer' }}>
      <TableCell sx={{ p: 0 }}>
        <Radio
          checked={chosen}
          onChange={() => onChoose(id)}
          slotProps={{ input: { 'aria-label': name } }}
          sx={{ minWidth: 44, minHeight: 44 }}
        />
      </TableCell>
      <TableCell sx={{ minWidth: 220 }}>
        <Typography sx={{ fontWeight: chosen ? 650 : 400 }}>{name}</Typography>
        {permanence !== 'permanent' && (
          <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{PERMANENCE[permanence]}</Typography>
        )}
      </TableCell>
      <TableCell align="right">
        <Figure
          value={100 * chance}
          digits={0}
          unit="%"
          why={`cause and kind of place by their probabilities, times the rule book's chance that this repair cures that cause there; wishes: ${Object.entries(
            wishes,
          )
            .map(([wish, value]) => `${WISHES[wish] ?? wish} ${value.toFixed(2)}`)
            .join(', ')} (0 best, 1 worst), weighted sum ${score?.toFixed(2)}`}
        />
      </TableCell>
      <Minutes value={minutes.firstCircuit} />
      <Minutes value={minutes.allCircuits} />
      <TableCell align="right" sx={{ whiteSpace: 'nowrap', fontFamily: MONO }}>
        {minutesInWords(minutes.finish.p50)}
        <Box sx={{ fontSize: 13.5, color: 'text.secondary' }}>
          {minutesInWords(minutes.finish.p10)} to {minutesInWords(minutes.finish.p90)}
        </Box>
      </TableCell>
      <TableCell align="right">
        <Figure value={minutes.people / 60} digits={1} unit="h" why="minutes of all people, mean of each step" />
      </TableCell>
      <TableCell align="right">
        <Figure value={least?.margin ?? null} sigma={least?.after.sigma ?? null} unit="dB" />
      </TableCell>
      <TableCell sx={{ minWidth: 160 }}>
        {lacks.length === 0
          ? 'all at hand'
          : lacks.map(({ what, needed, there, substitute }) => (
              <Box key={what} sx={{ fontSize: 14 }}>
                {what}: {there} of {needed}
                {substitute ? `, ${substitute} would do` : ''}
              </Box>
            ))}
      </TableCell>
    </TableRow>
  )
}

export const WISHES: Record<string, string> = {
  firstCircuit: 'first circuit soon',
  allCircuits: 'all circuits soon',
  cost: 'little work and nothing to fetch',
  margin: 'little loss added',
  permanence: 'lasting',
  intervention: 'little opened and changed',
}

function Minutes({ value }: { value: number | null }) {
  return (
    <TableCell align="right" sx={{ whiteSpace: 'nowrap', fontFamily: MONO }}>
      {value === null ? 'none' : minutesInWords(value)}
    </TableCell>
  )
}
