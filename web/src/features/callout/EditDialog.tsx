import type { Callout, CalloutEdit } from '@cold-thread/contract'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useAccountsQuery, useCalloutQuery, useEditCalloutMutation } from '../../api/api.ts'
import { isStale } from '../../api/errorText.ts'
import { Clashes, type Clash } from '../../ui/Clashes.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { SelectField } from '../../ui/SelectField.tsx'

type Head = Pick<Callout, 'title' | 'alarm' | 'assignedTo'>
const FIELDS = [
  ['title', 'What is wrong'],
  ['alarm', 'Alarm and reports, in words'],
  ['assignedTo', 'Assigned to'],
] as const

const headOf = ({ title, alarm, assignedTo }: Callout): Head => ({ title, alarm, assignedTo })

/** What the callout is called, what was reported, and whose it is. */
export function EditDialog({ callout, onClose }: { callout: Callout; onClose(): void }) {
  const { data: accounts } = useAccountsQuery()
  const { refetch } = useCalloutQuery(callout.id)
  const [edit, { error, isLoading, reset }] = useEditCalloutMutation()
  const [base, setBase] = useState(callout)
  const [mine, setMine] = useState(headOf(callout))
  const [choices, setChoices] = useState<ReadonlyMap<string, 'mine' | 'theirs'>>(new Map())
  const [stale, setStale] = useState(false)
  // Others may have saved since this was opened: what both changed is asked.
  const newer = stale && callout.version > base.version
  const changed = (head: Head, key: keyof Head) => head[key] !== base[key]
  const clashes: Clash[] = newer
    ? FIELDS.filter(([key]) => changed(mine, key) && changed(headOf(callout), key) && mine[key] !== callout[key]).map(
        ([key, name]) => ({ path: key, name, mine: mine[key] ?? 'nobody', theirs: callout[key] ?? 'nobody' }),
      )
    : []
  const bad = mine.title.trim().length < 3

  const save = async () => {
    const settled = newer
      ? { ...callout, ...changesOf(mine, base, (key) => choices.get(key) !== 'theirs') }
      : { ...base, ...mine }
    const now = newer ? callout : base
    const { version } = now
    const body: CalloutEdit = { version, ...changesOf(headOf(settled), now, () => true) }
    const { data, error: refused } = await edit({ id: callout.id, ...body })
    if (data) return onClose()
    if (!isStale(refused)) return
    setBase(now)
    setStale(true)
    await refetch()
  }
  const people = [...new Set([...(accounts ?? []).map(({ displayName }) => displayName), mine.assignedTo ?? ''])]
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="edit-callout">
      <form
        onSubmit={(event) => {
          event.preventDefault()
          void save()
        }}
      >
        <DialogTitle id="edit-callout">Edit the callout</DialogTitle>
        <DialogContent>
          {newer ? (
            <>
              <Typography sx={{ mb: 1 }}>
                {clashes.length === 0
                  ? 'Somebody changed something else of it meanwhile: both stand. Save again.'
                  : 'Somebody changed the same meanwhile: which stands?'}
              </Typography>
              <Clashes
                clashes={clashes}
                by="as saved now"
                choices={choices}
                onChoose={(path, side) => setChoices((before) => new Map(before).set(path, side))}
              />
            </>
          ) : (
            <>
              <TextField
                label={FIELDS[0][1]}
                value={mine.title}
                onChange={(event) => setMine({ ...mine, title: event.target.value })}
                error={bad}
                helperText={bad && 'At least three letters'}
                fullWidth
                margin="normal"
              />
              <TextField
                label={FIELDS[1][1]}
                value={mine.alarm}
                onChange={(event) => setMine({ ...mine, alarm: event.target.value })}
                fullWidth
                margin="normal"
                multiline
                minRows={2}
              />
              <SelectField
                label={FIELDS[2][1]}
                value={mine.assignedTo ?? ''}
                onChoose={(value) => setMine({ ...mine, assignedTo: value || null })}
                fullWidth
                margin="normal"
                helperText="It comes along to their phone by itself."
                options={[['', 'nobody'], ...people.filter(Boolean).map((name) => [name, name] as const)]}
              />
            </>
          )}
          {!newer && <Problem error={error} />}
        </DialogContent>
        <DialogActions>
          <Button
            onClick={() => {
              reset()
              onClose()
            }}
          >
            Cancel
          </Button>
          <Button
            type="submit"
            variant="contained"
            disabled={isLoading || bad || clashes.some(({ path }) => !choices.has(path))}
          >
            Save
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}

/** Fields that differ from a base, those that are wanted. */
function changesOf(head: Head, base: Head, wanted: (key: keyof Head) => boolean): Partial<Head> {
  return Object.fromEntries(
    FIELDS.flatMap(([key]) => (head[key] !== base[key] && wanted(key) ? [[key, head[key]]] : [])),
  )
}
