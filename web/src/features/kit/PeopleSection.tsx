import { SKILLS, type Kit, type Person } from '@cold-thread/core/kit'
import Autocomplete from '@mui/material/Autocomplete'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { v7 as uuidv7 } from 'uuid'
import { DeleteIcon } from '../../ui/icons.tsx'
import { Section } from '../../ui/Section.tsx'

/** Who can do what, crew by crew. */
export function PeopleSection({ kit, onChange }: { kit: Kit; onChange: ((kit: Kit) => void) | null }) {
  const set = (people: Person[]) => onChange?.({ ...kit, people })
  const put = (person: Person) => set(kit.people.map((other) => (other.id === person.id ? person : other)))
  return (
    <Section
      title="People"
      action={
        onChange && (
          <Button
            variant="outlined"
            onClick={() =>
              set([
                ...kit.people,
                { id: uuidv7(), name: 'New person', skills: [], crew: kit.people.at(-1)?.crew ?? 'Crew 1' },
              ])
            }
          >
            Add a person
          </Button>
        )
      }
    >
      {kit.people.length === 0 && (
        <Typography>Nobody is entered yet: plans count on one person who can do everything.</Typography>
      )}
      {kit.people.map((person) => (
        <Box
          key={person.id}
          component="fieldset"
          aria-label={person.name}
          sx={{
            border: 0,
            p: 0,
            m: 0,
            mb: 1.5,
            display: 'grid',
            gridTemplateColumns: { xs: '1fr 1fr 44px', md: '220px 150px 1fr 44px' },
            gap: 1,
            alignItems: 'start',
          }}
        >
          <TextField
            size="small"
            label="Name"
            value={person.name}
            disabled={!onChange}
            onChange={(event) => put({ ...person, name: event.target.value })}
          />
          <TextField
            size="small"
            label="Crew"
            value={person.crew}
            disabled={!onChange}
            onChange={(event) => put({ ...person, crew: event.target.value })}
          />
          <Autocomplete
            multiple
            size="small"
            options={[...SKILLS]}
            value={person.skills}
            disabled={!onChange}
            onChange={(_, skills) => put({ ...person, skills })}
            renderInput={(params) => <TextField {...params} label="Can do" />}
            sx={{ gridColumn: { xs: '1 / 3', md: 'auto' } }}
          />
          {onChange && (
            <IconButton
              aria-label={`Remove ${person.name}`}
              onClick={() => set(kit.people.filter(({ id }) => id !== person.id))}
            >
              <DeleteIcon />
            </IconButton>
          )}
        </Box>
      ))}
    </Section>
  )
}
