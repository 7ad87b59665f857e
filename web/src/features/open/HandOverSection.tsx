import { kindName } from '@cold-thread/core/kit'
import { handOver, scrapOf } from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation, useObservationsQuery } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import type { StageProps } from '../callout/stageProps.ts'
import type { BegunSheet } from './sheets.ts'

/** What the next shift must know, put together from the log; what is said besides is kept with it. */
export function HandOverSection({ callout, begun, working }: StageProps & { begun: BegunSheet; working: boolean }) {
  const { sheet, events, progress, id: sheetId } = begun
  const { data: log } = useObservationsQuery(callout.id)
  const [add, { error, isLoading }] = useAddObservationMutation()
  const [to, setTo] = useState('')
  const [remark, setRemark] = useState('')
  const told = handOver(sheet, events, progress)
  const given = (log ?? []).flatMap((one) =>
    one.entry.kind === 'hand-over' && one.entry.sheetId === sheetId && !one.superseded
      ? [{ ...one, entry: one.entry }]
      : [],
  )
  const submit = async () => {
    const entry = { kind: 'hand-over' as const, sheetId, to: to.trim(), remark: remark.trim() }
    const { error: failed } = await add({
      calloutId: callout.id,
      id: uuidv7(),
      observation: { entry, observedAt: new Date().toISOString(), supersedes: null },
    })
    if (failed) return
    setTo('')
    setRemark('')
  }
  const line = (label: string, words: string) => (
    <Typography sx={{ mb: 0.5 }}>
      <strong>{label}:</strong> {words}
    </Typography>
  )
  return (
    <Section title="Hand-over">
      {line('Open now', told.exposed.length === 0 ? 'nothing' : told.exposed.join(', '))}
      {line(
        'Next',
        told.next === null
          ? 'nothing, the sheet is complete'
          : `${told.next.title}${told.next.obstacles.length > 0 ? `; not yet: ${told.next.obstacles.join('; ')}` : ''}`,
      )}
      {told.passedOver.length > 0 && line('Passed over', told.passedOver.join(', '))}
      {told.failed.map(({ title, why, by }) => (
        <Box key={title}>{line('Failed, to be done again', `${title}, ${why} (${by})`)}</Box>
      ))}
      {told.leftOut.map(({ title, why, by }) => (
        <Box key={title}>{line('Left out', `${title}, ${why} (${by})`)}</Box>
      ))}
      {scrapOf(progress).map(({ kind, count }) => (
        <Box key={kind}>{line('Thrown away', `${count} × ${kindName(kind)}`)}</Box>
      ))}
      {told.differences.map((difference) => (
        <Box key={difference}>{line('The record differs', difference)}</Box>
      ))}
      {given.map(({ id, entry, by, observedAt }) => (
        <Typography key={id} sx={{ mt: 1 }}>
          {clock(observedAt)}: {by} handed over to {entry.to}
          {entry.remark && `: ${entry.remark}`}
        </Typography>
      ))}
      {working && (
        <Box
          component="form"
          onSubmit={(event: React.FormEvent) => {
            event.preventDefault()
            if (to.trim() !== '') void submit()
          }}
          sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mt: 1.5, alignItems: 'flex-start' }}
        >
          <TextField
            label="Hand over to"
            value={to}
            onChange={({ target }) => setTo(target.value)}
            slotProps={{ htmlInput: { maxLength: 200 } }}
            sx={{ flex: '1 1 180px' }}
          />
          <TextField
            label="Besides"
            value={remark}
            onChange={({ target }) => setRemark(target.value)}
            slotProps={{ htmlInput: { maxLength: 1000 } }}
            sx={{ flex: '2 1 260px' }}
          />
          <Button
            type="submit"
            variant="outlined"
            size="large"
            disabled={isLoading || to.trim() === ''}
            sx={{ minHeight: 56 }}
          >
            Hand over
          </Button>
        </Box>
      )}
      <Problem error={error} />
    </Section>
  )
}
