import type { ConnectorWay } from '@cold-thread/core/open'
import {
  chooseTermination,
  TERMINATION_AIMS,
  type TerminationAim,
  type TerminationCase,
  type TerminationChoice,
  type TerminationWay,
} from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useKitQuery } from '../../api/api.ts'
import { SelectField } from '../../ui/SelectField.tsx'

/** Ways that have a run sheet of their own; a pigtail or splice-on connector is a splice under Join. */
const SHEETS: Partial<Record<TerminationWay, ConnectorWay>> = {
  mechanical: 'soft-coated',
  anaerobic: 'anaerobic',
  'hot-melt': 'hot-melt',
  epoxy: 'epoxy',
}

const AIMS: Record<TerminationAim, string> = {
  time: 'time',
  loss: 'loss',
  reflectance: 'reflectance',
  cost: 'cost of the parts',
  hand: 'little practice',
}
const ENDS: Record<TerminationChoice['end'], string> = {
  factory: 'polished in a factory',
  'by hand': 'polished by hand',
  cleaved: 'cleaved, in gel',
}

/** Which way to put the connector on, by what counts here and what the kit has, with the reasons. */
export function ConnectorWays({
  fiber,
  polish,
  onTake,
}: Pick<TerminationCase, 'fiber' | 'polish'> & { onTake(way: ConnectorWay): void }) {
  const { data: kit } = useKitQuery()
  const [first, setFirst] = useState<TerminationAim>('time')
  if (!kit) return null
  return (
    <Box component="details" sx={{ mb: 2 }}>
      <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
        Which way?
      </Box>
      <SelectField
        label="What counts first"
        value={first}
        onChoose={setFirst}
        sx={{ minWidth: 220, mb: 1 }}
        options={TERMINATION_AIMS.map((aim) => [aim, AIMS[aim]] as const)}
      />
      <Box component="ol" aria-label="Ways, the best first" sx={{ pl: 3, m: 0 }}>
        {chooseTermination({ fiber, polish, kit: kit.kit, first }).map(
          ({ way, name, minutes, loss, end, cost, hand, reasons, against }) => {
            const sheet = SHEETS[way]
            return (
              <Box component="li" key={way} sx={{ py: 0.75, color: against ? 'text.secondary' : undefined }}>
                <Typography>
                  <strong>{name}</strong>: {minutes.mean.toFixed(0)} ± {minutes.sigma.toFixed(0)} min,{' '}
                  {loss.expected.toFixed(2)} ± {loss.sigma.toFixed(2)} dB, end {ENDS[end]}, {cost} cost, {hand} practice
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
        Minutes, losses, cost and practice are judgement from common practice. A lone connector has no loss: it belongs
        to the mated pair.
      </Typography>
    </Box>
  )
}
