import {
  farChannel,
  judgeTrunk,
  POLARITIES,
  readTrunkRows,
  TRUNK_COUNTS,
  trunkReferenceFor,
  type LoggedTrunkReference,
  type Polarity,
  type TrunkTest,
} from '@cold-thread/core/prove'
import { seedFrom } from '@cold-thread/core/math'
import { readTrunkStandIn, TRUNK_FAULTS } from '@cold-thread/core/sim'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useEnter } from '../../../api/useEnter.ts'
import { Problem } from '../../../ui/Problem.tsx'
import { SelectField } from '../../../ui/SelectField.tsx'
import type { StageProps } from '../../callout/stageProps.ts'
import { coreOfLink, TEST_WAVELENGTHS } from './instruments.ts'
import { SimulatedTester } from './SimulatedTester.tsx'
import { asTable, TesterTable } from './TesterTable.tsx'
import { TrunkGrid } from './TrunkGrid.tsx'
import { TrunkReferenceForm } from './TrunkReferenceForm.tsx'

/** One end of a trunk after the other: the tester's reference, then its table. */
export function EnterTrunk({
  callout,
  plant,
  link,
  last,
  references,
}: Pick<StageProps, 'callout' | 'plant' | 'link'> & {
  last: TrunkTest | undefined
  references: readonly LoggedTrunkReference[]
}) {
  const { enter, error, busy } = useEnter(callout.id)
  const fiber = coreOfLink(plant, link).kind
  const wavelengths = TEST_WAVELENGTHS[fiber]
  const [trunk, setTrunk] = useState('')
  const [count, setCount] = useState<(typeof TRUNK_COUNTS)[number]>(12)
  const [polarity, setPolarity] = useState<Polarity>('B')
  const [end, setEnd] = useState<TrunkTest['end']>('first')
  const [wavelength, setWavelength] = useState<number>(wavelengths[0])
  const [rows, setRows] = useState('')
  const reference = trunkReferenceFor(references, { end, wavelength, count })
  const read = rows.trim() === '' ? null : readTrunkRows(rows, count, reference)
  const name = trunk.trim() || (last?.trunk ?? '')
  const test: TrunkTest | null =
    read && 'channels' in read
      ? { trunk: name, end, fiber, wavelength, polarity, referenceId: reference?.id, channels: read.channels }
      : null
  const judged = test && judgeTrunk({ ...test, held: reference && { reference, moved: null } })
  const keep = async () => {
    if (!(await enter({ kind: 'trunk-test', test: test! }))) return
    setRows('')
    // The other end is next.
    setEnd(end === 'first' ? 'second' : 'first')
  }
  return (
    <>
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
          label="Read at"
          value={wavelength}
          onChoose={setWavelength}
          sx={{ flex: '1 1 110px' }}
          options={wavelengths.map((one) => [one, `${one} nm`] as const)}
        />
      </Box>
      <TrunkReferenceForm
        key={`${end} ${wavelength} ${count}`}
        callout={callout}
        wanted={{ end, fiber, wavelength, count }}
        references={references}
      />
      <Box
        component="form"
        onSubmit={(event) => {
          event.preventDefault()
          void keep()
        }}
      >
        {callout.simulated && (
          <SimulatedTester
            label="The simulated trunk has"
            faults={TRUNK_FAULTS}
            button="Read with the simulated tester"
            channelsWith={(fault) => {
              const map = Array.from({ length: count }, (_, k) => farChannel(polarity, k + 1, count))
              const seed = seedFrom(callout.id, end, wavelength, fault)
              const seen = readTrunkStandIn(map, fault, seed)
              return { seed, channels: seen.map(({ loss, ...rest }) => ({ ...rest, value: loss })) }
            }}
            onStart={() => setRows('')}
            onRows={(seen) => setRows(asTable(seen, ({ at, value, returnLoss }) => [at, value, returnLoss]))}
          />
        )}
        <TesterTable
          label="The tester’s table, a row for each channel"
          value={rows}
          onChange={setRows}
          problem={read && 'problem' in read ? read.problem : null}
          help="channel, where it came out (0: nowhere), loss, return loss; or channel, loss, return loss; or loss alone; a level in dBm in place of the loss"
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
    </>
  )
}
