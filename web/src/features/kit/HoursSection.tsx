import { crewsOf, type Kit, type RecurringTime } from '@cold-thread/core/kit'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import TextField from '@mui/material/TextField'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import Typography from '@mui/material/Typography'
import { v7 as uuidv7 } from 'uuid'
import { DeleteIcon } from '../../ui/icons.tsx'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'

const DAYS = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su']

function ownZone(): string {
  return Intl.DateTimeFormat().resolvedOptions().timeZone
}

const night = (): RecurringTime => ({
  id: uuidv7(),
  zone: ownZone(),
  weekdays: [1, 2, 3, 4, 5],
  from: '01:00',
  to: '05:00',
})

/** Maintenance windows, shifts and rest: when links that carry traffic may be worked, and by whom. */
export function HoursSection({ kit, onChange }: { kit: Kit; onChange: ((kit: Kit) => void) | null }) {
  const { windows, shifts, restHours } = kit.hours
  const set = (hours: Partial<Kit['hours']>) => onChange?.({ ...kit, hours: { ...kit.hours, ...hours } })
  const crews = crewsOf(kit).map(({ name }) => name)
  return (
    <Section title="Hours">
      <Typography variant="h3" sx={{ mb: 1 }}>
        Maintenance windows
      </Typography>
      {windows.length === 0 && <Typography>None is entered: degraded links can’t be given a window.</Typography>}
      {windows.map((window) => {
        const put = (some: Partial<typeof window>) =>
          set({ windows: windows.map((other) => (other.id === window.id ? { ...other, ...some } : other)) })
        return (
          <Times
            key={window.id}
            name={window.name}
            time={window}
            onPut={onChange && put}
            onRemove={() => set({ windows: windows.filter(({ id }) => id !== window.id) })}
          >
            <TextField
              size="small"
              label="Name"
              value={window.name}
              disabled={!onChange}
              onChange={(event) => put({ name: event.target.value })}
              sx={{ width: 170 }}
            />
            <SelectField
              size="small"
              label="Traffic"
              value={window.traffic}
              disabled={!onChange}
              onChoose={(value) => put({ traffic: value })}
              sx={{ width: 110 }}
              options={[
                ['light', 'light'],
                ['busy', 'busy'],
              ]}
            />
          </Times>
        )
      })}
      {onChange && (
        <Button
          onClick={() => set({ windows: [...windows, { ...night(), name: 'Nights', traffic: 'light' }] })}
          sx={{ mb: 2 }}
        >
          Add a window
        </Button>
      )}
      <Typography variant="h3" sx={{ mb: 1 }}>
        Shifts
      </Typography>
      {shifts.map((shift) => {
        const put = (some: Partial<typeof shift>) =>
          set({ shifts: shifts.map((other) => (other.id === shift.id ? { ...other, ...some } : other)) })
        return (
          <Times
            key={shift.id}
            name={`shift of ${shift.crew}`}
            time={shift}
            onPut={onChange && put}
            onRemove={() => set({ shifts: shifts.filter(({ id }) => id !== shift.id) })}
          >
            <SelectField
              size="small"
              label="Crew"
              value={shift.crew}
              disabled={!onChange}
              onChoose={(value) => put({ crew: value })}
              sx={{ width: 170 }}
              options={[...new Set([...crews, shift.crew])].map((crew) => [crew, crew] as const)}
            />
          </Times>
        )
      })}
      {onChange && crews.length > 0 && (
        <Button
          onClick={() => set({ shifts: [...shifts, { ...night(), crew: crews[0]!, from: '07:00', to: '15:00' }] })}
        >
          Add a shift
        </Button>
      )}
      <Box sx={{ mt: 1.5 }}>
        <TextField
          size="small"
          type="number"
          label="Hours of rest after a shift"
          value={restHours ?? ''}
          disabled={!onChange}
          onChange={(event) => {
            const hours = Number(event.target.value)
            set({ restHours: event.target.value === '' || !(hours >= 0 && hours <= 72) ? null : hours })
          }}
          helperText="by the operator’s rule; empty: none is kept"
          sx={{ width: 260 }}
        />
      </Box>
    </Section>
  )
}

function Times({
  name,
  time,
  onPut,
  onRemove,
  children,
}: {
  name: string
  time: RecurringTime
  onPut: ((some: Partial<RecurringTime>) => void) | null
  onRemove(): void
  children: React.ReactNode
}) {
  const clock = (label: string, key: 'from' | 'to') => (
    <TextField
      size="small"
      type="time"
      label={label}
      value={time[key]}
      disabled={!onPut}
      onChange={(event) => event.target.value && onPut?.({ [key]: event.target.value })}
      sx={{ width: 130 }}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  )
  return (
    <Box
      component="fieldset"
      aria-label={name}
      sx={{ border: 0, p: 0, m: 0, mb: 1.5, display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}
    >
      {children}
      {clock('From', 'from')}
      {clock('To', 'to')}
      <TextField
        size="small"
        label="Time zone"
        value={time.zone}
        disabled={!onPut}
        onChange={(event) => onPut?.({ zone: event.target.value })}
        sx={{ width: 170 }}
      />
      <ToggleButtonGroup
        size="small"
        value={time.weekdays}
        disabled={!onPut}
        aria-label="Days on which it begins"
        onChange={(_, days: number[]) => days.length > 0 && onPut?.({ weekdays: days.toSorted((a, b) => a - b) })}
      >
        {DAYS.map((day, k) => (
          <ToggleButton key={day} value={k + 1} sx={{ minWidth: 44, minHeight: 40, textTransform: 'none' }}>
            {day}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {onPut && (
        <IconButton aria-label={`Remove ${name}`} onClick={onRemove}>
          <DeleteIcon />
        </IconButton>
      )}
    </Box>
  )
}
