import type { NextTest } from '@cold-thread/core/locate'
import Box from '@mui/material/Box'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Judgement } from '../../ui/Judgement.tsx'

const SHOWN = { safe: 4, risky: 2 }

/** The tests worth their minutes, best first. One that can hurt traffic stays locked until its precondition is confirmed. */
export function NextTestsList({ tests }: { tests: readonly NextTest[] }) {
  if (tests.length === 0)
    return <Typography>No further test would tell much: place and cause are clear enough to go and look.</Typography>
  const shown = [
    ...tests.filter((test) => !test.outageRisk).slice(0, SHOWN.safe),
    ...tests.filter((test) => test.outageRisk).slice(0, SHOWN.risky),
  ]
  return (
    <Box component="ol" aria-label="Next tests" sx={{ pl: 2.5, m: 0, display: 'grid', gap: 1.5 }}>
      {shown.map((test) => (
        <TestLine key={test.test} test={test} />
      ))}
    </Box>
  )
}

function TestLine({ test }: { test: NextTest }) {
  const [confirmed, setConfirmed] = useState(false)
  const locked = test.outageRisk && !confirmed
  return (
    <li>
      <Typography sx={{ fontWeight: 650, opacity: locked ? 0.75 : 1 }}>
        {test.test}{' '}
        <Box component="span" sx={{ fontWeight: 400, whiteSpace: 'nowrap' }}>
          {test.minutes} min, {test.expectedGain.toFixed(1)} bit
        </Box>
      </Typography>
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{test.why}</Typography>
      {test.outageRisk ? (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
          {locked ? <Judgement tone="bad" word="Locked" /> : <Judgement tone="close" word="Released by you" />}
          <FormControlLabel
            sx={{ minHeight: 44, mr: 0 }}
            control={<Checkbox checked={confirmed} onChange={(_, checked) => setConfirmed(checked)} />}
            label={`Confirmed: ${test.precondition}`}
          />
        </Box>
      ) : (
        test.precondition !== 'none' && <Typography sx={{ fontSize: 14 }}>First: {test.precondition}.</Typography>
      )}
    </li>
  )
}
