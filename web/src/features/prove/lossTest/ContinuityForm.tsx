import { continuitiesOf, judgeContinuity } from '@cold-thread/core/prove'
import type { Direction } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useMemo, useState } from 'react'
import { useObservationsQuery } from '../../../api/api.ts'
import { useEnter } from '../../../api/useEnter.ts'
import { canWork } from '../../../app/rights.ts'
import { Judgement } from '../../../ui/Judgement.tsx'
import { Problem } from '../../../ui/Problem.tsx'
import { Section } from '../../../ui/Section.tsx'
import { SelectField } from '../../../ui/SelectField.tsx'
import type { StageProps } from '../../callout/stageProps.ts'

const NOWHERE = ''

/** Light sent in at one end: at whose port it comes out. Tells a swapped pair, which no trace does. */
export function ContinuityForm({ account, callout, plant, link }: StageProps) {
  const { data: log } = useObservationsQuery(callout.id)
  const { enter, error, busy } = useEnter(callout.id)
  const cables = new Set(link.path.flatMap((step) => ('cable' in step ? [step.cable] : [])))
  /** Links that run in the same cables: one of them may have been taken for it. */
  const beside = plant.links.filter(({ path }) => path.some((step) => 'cable' in step && cables.has(step.cable)))
  const nameOf = (id: string) => plant.links.find((one) => one.id === id)?.name ?? id
  const place = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const judged = useMemo(
    () =>
      judgeContinuity(link.id, continuitiesOf(log ?? []), (id) => plant.links.find((one) => one.id === id)?.name ?? id),
    [log, link.id, plant],
  )
  const [sent, setSent] = useState(link.id)
  const [way, setWay] = useState<Direction>('ab')
  const [arrives, setArrives] = useState(link.id)
  const working = canWork(account) && callout.state !== 'closed'
  if (!working && judged.length === 0) return null
  const from = plant.links.find(({ id }) => id === sent) ?? link
  return (
    <Section title="Continuity">
      {judged.map(({ check, holds, words, next }) => (
        <Typography key={`${check.link} ${check.way}`} sx={{ mb: 1 }}>
          <Judgement tone={holds ? 'good' : 'bad'} word={holds ? 'right' : 'wrong'} />: {words}
          {next && `. Next: ${next}`}
        </Typography>
      ))}
      {working && (
        <>
          <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
            Visible light or a source at one end. Never look into a fiber: hold a card before the port, or the meter.
          </Typography>
          <Box
            component="form"
            onSubmit={(event) => {
              event.preventDefault()
              void enter({ kind: 'continuity', link: sent, way, arrivesAt: arrives === NOWHERE ? null : arrives })
            }}
            sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mt: 1 }}
          >
            <SelectField
              label="Light sent into"
              value={sent}
              onChoose={setSent}
              sx={{ flex: '1 1 220px' }}
              options={beside.map(({ id }) => [id, nameOf(id)] as const)}
            />
            <SelectField
              label="At"
              value={way}
              onChoose={setWay}
              sx={{ flex: '1 1 190px' }}
              options={[
                ['ab', place(from.from)],
                ['ba', place(from.to)],
              ]}
            />
            <SelectField
              label="Comes out at"
              value={arrives}
              onChoose={setArrives}
              sx={{ flex: '1 1 220px' }}
              options={[...beside.map(({ id }) => [id, nameOf(id)] as const), [NOWHERE, 'nowhere'] as const]}
            />
            <Button type="submit" variant="outlined" disabled={busy} sx={{ minHeight: 56 }}>
              Keep it
            </Button>
          </Box>
        </>
      )}
      <Problem error={error} />
    </Section>
  )
}
