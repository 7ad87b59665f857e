import type { ConnectorWay } from '@cold-thread/core/open'
import { chooseTermination, type TerminationCase, type TerminationWay } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useKitQuery } from '../../api/api.ts'

/** Ways that have a run sheet of their own; a pigtail or splice-on connector is a splice under Join. */
const SHEETS: Partial<Record<TerminationWay, ConnectorWay>> = {
  mechanical: 'soft-coated',
  anaerobic: 'anaerobic',
  'hot-melt': 'hot-melt',
  epoxy: 'epoxy',
}

/** Which way to put the connector on, by what counts here and what the kit has, with the reasons. */
export function ConnectorWays({
  fiber,
  polish,
  onTake,
}: Pick<TerminationCase, 'fiber' | 'polish'> & { onTake(way: ConnectorWay): void }) {
  const { data: kit } = useKitQuery()
  const [first, setFirst] = useState<TerminationCase['first']>('time')
  if (!kit) return null
  return (
    <Box component="details" sx={{ mb: 2 }}>
      <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
        Which way?
      </Box>
      <ToggleButtonGroup
        exclusive
        value={first}
        onChange={(_event, value: TerminationCase['first'] | null) => value && setFirst(value)}
        aria-label="What counts first"
        sx={{ mb: 1 }}
      >
        <ToggleButton value="time" sx={{ minHeight: 44 }}>
          Time first
        </ToggleButton>
        <ToggleButton value="loss" sx={{ minHeight: 44 }}>
          Loss first
        </ToggleButton>
      </ToggleButtonGroup>
      <Box component="ol" aria-label="Ways, the best first" sx={{ pl: 3, m: 0 }}>
        {chooseTermination({ fiber, polish, kit: kit.kit, first }).map(
          ({ way, name, minutes, loss, reasons, against }) => {
            const sheet = SHEETS[way]
            return (
              <Box component="li" key={way} sx={{ py: 0.75, color: against ? 'text.secondary' : undefined }}>
                <Typography>
                  <strong>{name}</strong>: {minutes.mean.toFixed(0)} ± {minutes.sigma.toFixed(0)} min,{' '}
                  {loss.expected.toFixed(2)} ± {loss.sigma.toFixed(2)} dB
                </Typography>
                <Typography sx={{ fontSize: 15 }}>
                  {against !== null && <strong>Not here: {against}. </strong>}
                  {reasons.join('. ')}.{sheet === undefined && ' It is a splice: make it under Join.'}
                </Typography>
                {sheet !== undefined && against === null && (
                  <Button onClick={() => onTake(sheet)} sx={{ minHeight: 44 }}>
                    Take this way
                  </Button>
                )}
              </Box>
            )
          },
        )}
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
        Minutes and losses are judgement from common practice. A lone connector has no loss: it belongs to the mated
        pair.
      </Typography>
    </Box>
  )
}
