import {
  judgeTrunkReference,
  MOST_DRIFT,
  movedChannels,
  readReferenceRows,
  TRUNK_SIGMA,
  trunkReferenceFor,
  type LoggedTrunkReference,
  type TrunkReference,
  type TrunkReferenceJudgement,
} from '@cold-thread/core/prove'
import { seedFrom } from '@cold-thread/core/math'
import { readTrunkCordStandIn, TRUNK_CORD_FAULTS } from '@cold-thread/core/sim'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useEnter } from '../../../api/useEnter.ts'
import { Judgement } from '../../../ui/Judgement.tsx'
import { Problem } from '../../../ui/Problem.tsx'
import { clock } from '../../../ui/time.ts'
import type { StageProps } from '../../callout/stageProps.ts'
import { SimulatedTester } from './SimulatedTester.tsx'
import { asTable, TesterTable } from './TesterTable.tsx'

const pm = (sigma: number) => `±\u00a0${(2 * sigma).toFixed(2)}`

/** The tester's reference at this end: the one on record with what it is worth, copied from the other end, or set here. */
export function TrunkReferenceForm({
  callout,
  wanted,
  references,
}: Pick<StageProps, 'callout'> & {
  wanted: Pick<TrunkReference, 'end' | 'fiber' | 'wavelength'> & { count: number }
  references: readonly LoggedTrunkReference[]
}) {
  const { enter, error, busy } = useEnter(callout.id)
  const [anew, setAnew] = useState(false)
  const [rows, setRows] = useState('')
  const { count, ...where } = wanted
  const here = trunkReferenceFor(references, wanted)
  const there = trunkReferenceFor(references, { ...wanted, end: wanted.end === 'first' ? 'second' : 'first' })
  const read = rows.trim() === '' ? null : readReferenceRows(rows, count)
  const set: TrunkReference | null =
    read && 'channels' in read ? { ...where, copied: false, channels: read.channels } : null
  const judged = set && judgeTrunkReference(set)
  const moved = set && here ? movedChannels(here, set) : null
  const keep = async (reference: TrunkReference) => {
    if (!(await enter({ kind: 'trunk-reference', reference }))) return
    setRows('')
    setAnew(false)
  }
  return (
    <Box component="section" aria-label="Reference of the tester" sx={{ mb: 2 }}>
      <Typography component="h3" sx={{ fontWeight: 650 }}>
        Reference at the {wanted.end} end, {wanted.wavelength} nm
      </Typography>
      {here ? (
        <Standing reference={here} />
      ) : (
        <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
          None on record: what is read here is uncertain by {pm(TRUNK_SIGMA.other)} dB instead of {pm(TRUNK_SIGMA.own)}{' '}
          dB. Clean and look at the reference cord and the tester’s port, then reference all channels, return loss too.
        </Typography>
      )}
      {!here && there && (
        <Button
          variant="outlined"
          disabled={busy}
          onClick={() => void keep({ ...where, copied: true, channels: there.channels })}
          sx={{ minHeight: 56, mt: 1.5 }}
        >
          It was copied from the tester at the {there.end} end
        </Button>
      )}
      {(!here || anew) && (
        <Box
          component="form"
          onSubmit={(event) => {
            event.preventDefault()
            void keep(set!)
          }}
          sx={{ mt: 1.5 }}
        >
          {callout.simulated && (
            <SimulatedTester
              label="The simulated reference cord has"
              faults={TRUNK_CORD_FAULTS}
              button="Reference with the simulated tester"
              channelsWith={(fault) => {
                const seed = seedFrom(callout.id, wanted.end, wanted.wavelength, fault, references.length)
                const seen = readTrunkCordStandIn(count, fault, seed)
                return { seed, channels: seen.map(({ level, returnLoss }) => ({ at: null, value: level, returnLoss })) }
              }}
              onStart={() => setRows('')}
              onRows={(seen) => setRows(asTable(seen, ({ value, returnLoss }) => [value, returnLoss]))}
            />
          )}
          <TesterTable
            label="The tester’s reference, a row for each channel"
            value={rows}
            onChange={setRows}
            problem={read && 'problem' in read ? read.problem : null}
            help="channel, level in dBm, return loss of the cord in dB; or level and return loss; or level alone"
          />
          {judged && (
            <Box role="status" sx={{ mb: 1 }}>
              <Judged {...judged} />
              {moved && (
                <Typography>
                  {moved.length === 0
                    ? `Held since it was set: no channel moved by more than ${MOST_DRIFT} dB.`
                    : `Moved by more than ${MOST_DRIFT} dB on channel${moved.length === 1 ? '' : 's'} ${moved.join(', ')}: what was read in between is suspect.`}
                </Typography>
              )}
            </Box>
          )}
          <Button type="submit" variant="outlined" disabled={!set || busy} sx={{ minHeight: 56 }}>
            Keep the reference
          </Button>
        </Box>
      )}
      {here && (
        <Button
          variant={anew ? 'text' : 'outlined'}
          onClick={() => {
            setRows('')
            setAnew(!anew)
          }}
          sx={{ minHeight: 56, mt: 1 }}
        >
          {anew ? 'Leave the reference as it is' : 'Look at the reference again'}
        </Button>
      )}
      <Problem error={error} />
    </Box>
  )
}

function Standing({ reference }: { reference: LoggedTrunkReference }) {
  return (
    <>
      <Judged {...judgeTrunkReference(reference)} />
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
        {clock(reference.at)}, {reference.by}
      </Typography>
    </>
  )
}

function Judged({ good, told, doubts, next }: TrunkReferenceJudgement) {
  return (
    <>
      <Typography>
        <Judgement tone={good ? 'good' : 'bad'} word={good ? 'even on every channel' : 'not even'} /> {told}
      </Typography>
      {doubts.map(({ channel, reason }) => (
        <Typography key={channel}>
          Channel {channel}: {reason}
        </Typography>
      ))}
      {!good && (
        <Typography>
          <strong>Next:</strong> {next}
        </Typography>
      )}
    </>
  )
}
