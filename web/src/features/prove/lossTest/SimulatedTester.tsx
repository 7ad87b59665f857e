import type { TrunkSample } from '@cold-thread/core/prove'
import type { TrunkSight } from '@cold-thread/core/sim'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import { StandInTrunkTester } from '../../../devices/trunkTester.ts'
import { SelectField } from '../../../ui/SelectField.tsx'
import { TesterStream } from './TesterStream.tsx'

/** The stand-in of a multi-fiber tester, with what may be wrong for practice, and its stream while it is read. */
export function SimulatedTester<F extends string>({
  label,
  faults,
  button,
  channelsWith,
  onStart,
  onRows,
}: {
  label: string
  /** The first one is none. */
  faults: readonly F[]
  button: string
  /** What it is to see, and the seed of its scatter. */
  channelsWith(fault: F): { channels: readonly TrunkSight[]; seed: number }
  /** What was read before is no longer shown. */
  onStart(): void
  onRows(rows: TrunkSample[]): void
}) {
  const [fault, setFault] = useState<F>(faults[0]!)
  const [tester, setTester] = useState<StandInTrunkTester | null>(null)
  if (tester)
    return (
      <TesterStream
        tester={tester}
        onRows={(rows) => {
          setTester(null)
          onRows(rows)
        }}
        onStop={() => setTester(null)}
      />
    )
  return (
    <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'flex-start', mb: 1.5 }}>
      <SelectField
        label={label}
        value={fault}
        onChoose={setFault}
        helperText="for practice"
        sx={{ minWidth: 220 }}
        options={faults.map((one, i) => [one, i === 0 ? 'no fault' : one] as const)}
      />
      <Button
        variant="outlined"
        onClick={() => {
          const { channels, seed } = channelsWith(fault)
          onStart()
          setTester(new StandInTrunkTester(channels, seed))
        }}
        sx={{ minHeight: 56 }}
      >
        {button}
      </Button>
    </Box>
  )
}
