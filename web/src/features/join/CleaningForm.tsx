import type { CleaningEntry, LogEntry } from '@cold-thread/contract'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import type { StageProps } from '../callout/stageProps.ts'

const OUTCOMES: readonly CleaningEntry['outcome'][] = ['clean', 'still dirty', 'damaged']

/** Connectors cleaned and re-seated, and notes in words. */
export function CleaningForm({ callout, plant, link }: StageProps) {
  const connectors = [
    link.from,
    ...link.path.flatMap((step) => ('node' in step && step.joint === 'connector' ? [step.node] : [])),
    link.to,
  ]
  const [node, setNode] = useState(connectors[0]!)
  const [note, setNote] = useState('')
  const [entryId, setEntryId] = useState(() => uuidv7())
  const [add, { error, isLoading }] = useAddObservationMutation()
  const log = async (entry: LogEntry) => {
    const { error: failed } = await add({
      calloutId: callout.id,
      id: entryId,
      observation: { entry, observedAt: new Date().toISOString(), supersedes: null },
    })
    if (failed) return
    setEntryId(uuidv7())
    setNote('')
  }
  return (
    <Section title="Connectors and notes">
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center', mb: 2 }}>
        <SelectField
          label="Connector cleaned"
          value={node}
          onChoose={setNode}
          sx={{ minWidth: 230 }}
          options={connectors.map(
            (id) => [id, plant.nodes.find((candidate) => candidate.id === id)?.name ?? id] as const,
          )}
        />
        {OUTCOMES.map((outcome) => (
          <Button
            key={outcome}
            variant="outlined"
            disabled={isLoading}
            onClick={() => void log({ kind: 'cleaning', node, outcome, remark: '' })}
          >
            {outcome}
          </Button>
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
        <TextField
          label="Note"
          value={note}
          onChange={(event) => setNote(event.target.value)}
          multiline
          sx={{ flex: 1, minWidth: 240 }}
        />
        <Button
          variant="outlined"
          disabled={isLoading || note.trim() === ''}
          onClick={() => void log({ kind: 'note', text: note })}
        >
          Log the note
        </Button>
      </Box>
      <Problem error={error} />
    </Section>
  )
}
