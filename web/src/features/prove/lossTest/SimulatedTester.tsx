import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import { SelectField } from '../../../ui/SelectField.tsx'

/** The stand-in of a multi-fiber tester, with what may be wrong for practice. */
export function SimulatedTester<F extends string>({
  label,
  faults,
  button,
  onRead,
}: {
  label: string
  /** The first one is none. */
  faults: readonly F[]
  button: string
  onRead(fault: F): void
}) {
  const [fault, setFault] = useState<F>(faults[0]!)
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
      <Button variant="outlined" onClick={() => onRead(fault)} sx={{ minHeight: 56 }}>
        {button}
      </Button>
    </Box>
  )
}
