import type { Callout } from '@cold-thread/contract'
import {
  badEnd,
  measuredLoss,
  PAIR_LIMIT,
  readMeter,
  turnedReadingsOf,
  type LoggedReference,
} from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useEnter } from '../../../api/useEnter.ts'
import type { LoggedObservation } from '../../../field/waitingEntries.ts'
import { Judgement } from '../../../ui/Judgement.tsx'
import { Problem } from '../../../ui/Problem.tsx'
import { clock } from '../../../ui/time.ts'

/** A cable or cord by itself: read, turned round, read again; the two together name the bad end. */
export function TurnedReadings({
  callout,
  log,
  reference,
  working,
}: {
  callout: Callout
  log: readonly LoggedObservation[]
  reference: LoggedReference
  working: boolean
}) {
  const { enter, error, busy } = useEnter(callout.id)
  const [what, setWhat] = useState('')
  const [texts, setTexts] = useState({ first: '', turned: '' })
  const made = turnedReadingsOf(log)
  if (!working && made.length === 0) return null
  const levelOf = (text: string): number | null => {
    const read = readMeter(text, 'level')
    if (!read) return null
    return 'level' in read ? read.level : reference.level - read.loss
  }
  const [first, turned] = [levelOf(texts.first), levelOf(texts.turned)]
  const now = new Date().toISOString()
  const judged =
    first === null || turned === null
      ? null
      : badEnd(
          measuredLoss(first, now, reference, reference.means),
          measuredLoss(turned, now, reference, reference.means),
          PAIR_LIMIT.value,
        )
  const keep = async () => {
    const entry = { referenceId: reference.id, what: what.trim(), first: first!, turned: turned! }
    if (!(await enter({ kind: 'turned-reading', ...entry }))) return
    setWhat('')
    setTexts({ first: '', turned: '' })
  }
  const field = (side: 'first' | 'turned', label: string) => (
    <TextField
      label={label}
      value={texts[side]}
      onChange={({ target }) => setTexts({ ...texts, [side]: target.value })}
      error={texts[side].trim() !== '' && levelOf(texts[side]) === null}
      helperText="dBm, µW, or dB where the meter was zeroed"
      slotProps={{ htmlInput: { maxLength: 20 } }}
      sx={{ flex: '1 1 220px', maxWidth: 300 }}
    />
  )
  return (
    <Box component="details" sx={{ mt: 2 }} open={made.length > 0}>
      <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
        <strong>Which end is bad?</strong> A cable or cord by itself, read both ways round
      </Box>
      <Box component="ul" aria-label="Read both ways round" sx={{ listStyle: 'none', p: 0, m: 0 }}>
        {made.map(({ id, what: name, words, worse, at, by }) => (
          <Box component="li" key={id} sx={{ py: 0.75 }}>
            <strong>{name}</strong> <Judgement tone={worse ? 'bad' : 'good'} word={words} />
            <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
              {clock(at)}, {by}
            </Typography>
          </Box>
        ))}
      </Box>
      {working && (
        <Box
          component="form"
          onSubmit={(event) => {
            event.preventDefault()
            void keep()
          }}
        >
          <Typography sx={{ mb: 1.5 }}>
            Launch cord, adapter, its first end; its other end into the meter. Only the near connection is in the
            reading. Then turn it round.
          </Typography>
          <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'flex-start' }}>
            <TextField
              label="Cable or cord"
              value={what}
              onChange={({ target }) => setWhat(target.value)}
              slotProps={{ htmlInput: { maxLength: 200 } }}
              sx={{ flex: '1 1 220px', maxWidth: 300 }}
            />
            {field('first', 'First end at the launch cord')}
            {field('turned', 'Turned round')}
            <Button
              type="submit"
              variant="outlined"
              disabled={judged === null || what.trim() === '' || busy}
              sx={{ minHeight: 56 }}
            >
              Keep both readings
            </Button>
          </Box>
          {judged && (
            <Typography role="status" sx={{ mt: 1 }}>
              <Judgement tone={judged.worse ? 'bad' : 'good'} word={judged.words} />
              {judged.worse &&
                `. Next: inspect, clean and measure the ${judged.worse} end again; where it stays so, a new connector`}
            </Typography>
          )}
          <Problem error={error} />
        </Box>
      )}
    </Box>
  )
}
