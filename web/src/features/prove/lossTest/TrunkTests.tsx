import {
  farChannel,
  judgeTrunk,
  POLARITIES,
  readTrunkRows,
  TRUNK_COUNTS,
  trunkTestsOf,
  type Polarity,
  type TrunkReference,
  type TrunkTest,
} from '@cold-thread/core/prove'
import type { Link } from '@cold-thread/core/plant'
import { readTrunkStandIn, seedFrom, TRUNK_FAULTS, type TrunkFault } from '@cold-thread/core/sim'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useMemo, useState } from 'react'
import { useObservationsQuery } from '../../../api/api.ts'
import { useEnter } from '../../../api/useEnter.ts'
import { canWork } from '../../../app/rights.ts'
import { Judgement } from '../../../ui/Judgement.tsx'
import { Problem } from '../../../ui/Problem.tsx'
import { Section } from '../../../ui/Section.tsx'
import { SelectField } from '../../../ui/SelectField.tsx'
import { clock } from '../../../ui/time.ts'
import type { StageProps } from '../../callout/stageProps.ts'
import { kindOfLink, TEST_WAVELENGTHS } from './instruments.ts'
import { TrunkGrid } from './TrunkGrid.tsx'

/** Multi-fiber trunks: every channel from either end, by its tester's table. */
export function TrunkTests({ account, callout, plant, link }: StageProps) {
  const { data: log } = useObservationsQuery(callout.id)
  const tests = useMemo(() => trunkTestsOf(log ?? []), [log])
  const working = canWork(account) && callout.state !== 'closed'
  if (!working && tests.length === 0) return null
  return (
    <Section title="Multi-fiber trunks">
      {tests.map((test) => {
        const judged = judgeTrunk(test)
        return (
          <Box key={test.id} sx={{ mb: 2 }}>
            <Typography>
              <strong>{test.trunk}</strong>, {test.end} end, {test.wavelength} nm, polarity {test.polarity}
              {test.reference === 'copied' && ', reference copied'}:{' '}
              <Judgement tone={judged.good ? 'good' : 'bad'} word={judged.good ? 'every channel good' : 'not good'} />
            </Typography>
            <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
              {clock(test.at)}, {test.by}
              {judged.polarity && `; ${judged.polarity.words}`}
            </Typography>
            <TrunkGrid channels={test.channels} judged={judged} />
            <Typography>
              <strong>Next:</strong> {judged.next}
            </Typography>
          </Box>
        )
      })}
      {working && (
        <Box component="details" open={tests.length > 0 || endsInMpo(link)}>
          <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
            Read a trunk channel by channel
          </Box>
          <EnterTrunk callout={callout} plant={plant} link={link} last={tests.at(-1)} />
        </Box>
      )}
    </Section>
  )
}

function endsInMpo({ ends }: Link): boolean {
  return [ends?.from, ends?.to].some((end) => end?.connector.toUpperCase() === 'MPO')
}

/** The table of the simulated tester, as one of a real one would be pasted. */
function fromStandIn(
  { id }: Pick<StageProps['callout'], 'id'>,
  {
    count,
    polarity,
    end,
    wavelength,
    fault,
  }: { count: number; polarity: Polarity; end: string; wavelength: number; fault: TrunkFault },
): string {
  const map = Array.from({ length: count }, (_, k) => farChannel(polarity, k + 1, count))
  return readTrunkStandIn(map, fault, seedFrom(id, end, wavelength, fault))
    .map(({ at, loss, returnLoss }, k) => [k + 1, at, loss ?? '', returnLoss ?? ''].join('\t'))
    .join('\n')
}

function EnterTrunk({
  callout,
  plant,
  link,
  last,
}: Pick<StageProps, 'callout' | 'plant' | 'link'> & { last: TrunkTest | undefined }) {
  const { enter, error, busy } = useEnter(callout.id)
  const fiber = kindOfLink(plant, link)
  const wavelengths = TEST_WAVELENGTHS[fiber]
  const [trunk, setTrunk] = useState('')
  const [count, setCount] = useState<(typeof TRUNK_COUNTS)[number]>(12)
  const [polarity, setPolarity] = useState<Polarity>('B')
  const [end, setEnd] = useState<TrunkTest['end']>('first')
  const [wavelength, setWavelength] = useState<number>(wavelengths[0])
  const [reference, setReference] = useState<TrunkReference>('own')
  const [rows, setRows] = useState('')
  const [fault, setFault] = useState<TrunkFault>('none')
  const read = rows.trim() === '' ? null : readTrunkRows(rows, count)
  const name = trunk.trim() || (last?.trunk ?? '')
  const test: TrunkTest | null =
    read && 'channels' in read
      ? { trunk: name, end, fiber, wavelength, polarity, reference, channels: read.channels }
      : null
  const judged = test && judgeTrunk(test)
  const keep = async () => {
    if (!(await enter({ kind: 'trunk-test', test: test! }))) return
    setRows('')
    // The other end is next.
    setEnd(end === 'first' ? 'second' : 'first')
  }
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault()
        void keep()
      }}
    >
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mt: 1, mb: 1.5 }}>
        <TextField
          label="Trunk"
          value={trunk}
          placeholder={last?.trunk}
          onChange={({ target }) => setTrunk(target.value)}
          slotProps={{ htmlInput: { maxLength: 200 } }}
          sx={{ flex: '1 1 160px' }}
        />
        <SelectField
          label="Channels of it"
          value={count}
          onChoose={setCount}
          sx={{ flex: '1 1 100px' }}
          options={TRUNK_COUNTS.map((one) => [one, one] as const)}
        />
        <SelectField
          label="Polarity on record"
          value={polarity}
          onChoose={setPolarity}
          sx={{ flex: '1 1 130px' }}
          options={POLARITIES.map((one) => [one, one] as const)}
        />
        <SelectField
          label="Source at"
          value={end}
          onChoose={setEnd}
          sx={{ flex: '1 1 130px' }}
          options={[
            ['first', 'the first end'],
            ['second', 'the second end'],
          ]}
        />
        <SelectField
          label="Reference"
          value={reference}
          onChoose={setReference}
          sx={{ flex: '1 1 150px' }}
          options={[
            ['own', 'set at this end'],
            ['copied', 'copied from the other tester'],
          ]}
        />
        <SelectField
          label="Read at"
          value={wavelength}
          onChoose={setWavelength}
          sx={{ flex: '1 1 110px' }}
          options={wavelengths.map((one) => [one, `${one} nm`] as const)}
        />
      </Box>
      {callout.simulated && (
        <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'flex-start', mb: 1.5 }}>
          <SelectField
            label="The simulated trunk has"
            value={fault}
            onChoose={setFault}
            helperText="for practice"
            sx={{ minWidth: 220 }}
            options={TRUNK_FAULTS.map((one) => [one, one === 'none' ? 'no fault' : one] as const)}
          />
          <Button
            variant="outlined"
            onClick={() => setRows(fromStandIn(callout, { count, polarity, end, wavelength, fault }))}
            sx={{ minHeight: 56 }}
          >
            Read with the simulated tester
          </Button>
        </Box>
      )}
      <TextField
        label="The tester’s table, a row for each channel"
        value={rows}
        onChange={({ target }) => setRows(target.value)}
        error={read !== null && 'problem' in read}
        helperText={
          read && 'problem' in read
            ? `${read.problem}: nothing is taken`
            : 'channel, where it came out (0: nowhere), loss, return loss; or channel, loss, return loss; or loss alone'
        }
        multiline
        minRows={3}
        maxRows={14}
        fullWidth
        slotProps={{ htmlInput: { maxLength: 4000 } }}
        sx={{ mb: 1 }}
      />
      {judged && (
        <>
          <TrunkGrid channels={test.channels} judged={judged} />
          <Typography role="status">
            {judged.polarity && `${judged.polarity.words[0]!.toUpperCase()}${judged.polarity.words.slice(1)}. `}
            <strong>Next:</strong> {judged.next}
          </Typography>
        </>
      )}
      <Button type="submit" variant="outlined" disabled={!test || name === '' || busy} sx={{ minHeight: 56, mt: 1 }}>
        Keep the trunk’s readings
      </Button>
      {test && name === '' && <Typography sx={{ fontSize: 14 }}>Name the trunk first.</Typography>}
      <Problem error={error} />
    </Box>
  )
}
