import type { Observation, PackedEntry } from '@cold-thread/contract'
import type { PackingLine } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Typography from '@mui/material/Typography'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation, useObservationsQuery } from '../../api/api.ts'
import { canWork } from '../../app/rights.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { printSection } from '../../ui/printSection.ts'
import { Section } from '../../ui/Section.tsx'
import type { OrderView } from '../../worker/planView.ts'
import type { StageProps } from '../callout/stageProps.ts'

const GROUPS: [PackingLine['group'], string][] = [
  ['part', 'Parts'],
  ['consumable', 'Consumables'],
  ['instrument', 'Instruments'],
  ['cord', 'Cords'],
  ['tool', 'Tools'],
  ['access', 'Access'],
  ['safety', 'Safety'],
]

type Packed = Observation & { entry: PackedEntry }

/** What goes into the van; ticked by touch, missing things with what would do instead. */
export function PackingSection({
  account,
  callout,
  packing: { lines, cords },
}: Pick<StageProps, 'account' | 'callout'> & { packing: OrderView['packing'] }) {
  const { data: log } = useObservationsQuery(callout.id)
  const [add, { error }] = useAddObservationMutation()
  const packed = new Map(
    (log ?? [])
      .filter((entry): entry is Packed => entry.entry.kind === 'packed' && !entry.superseded)
      .map((entry) => [entry.entry.line, entry]),
  )
  const working = canWork(account) && callout.state !== 'closed'
  const write = (entry: PackedEntry | { kind: 'withdrawn'; reason: string }, supersedes: string | null) =>
    void add({
      calloutId: callout.id,
      id: uuidv7(),
      observation: { entry, observedAt: new Date().toISOString(), supersedes },
    })
  const missing = lines.filter((line) => line.missing > 0 && !packed.has(line.id))
  return (
    <Section
      title="Packing"
      action={
        <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center' }}>
          <Typography>
            {lines.filter(({ id }) => packed.has(id)).length} of {lines.length} packed
          </Typography>
          <Button variant="outlined" sx={{ minHeight: 44 }} onClick={() => printSection('Packing')}>
            Print
          </Button>
        </Box>
      }
    >
      <Problem error={error} />
      {missing.length > 0 && (
        <Typography sx={{ mb: 1 }}>
          <Judgement tone="bad" word={`${missing.length} missing`} />: {missing.map(({ name }) => name).join(', ')}
        </Typography>
      )}
      <Box sx={{ columns: { xs: 1, md: 2 }, columnGap: 4 }}>
        {GROUPS.map(([group, title]) => {
          const some = lines.filter((line) => line.group === group)
          if (some.length === 0) return null
          return (
            <Box key={group} sx={{ breakInside: 'avoid', mb: 1.5 }}>
              <Typography variant="h3">{title}</Typography>
              {some.map((line) => (
                <Line
                  key={line.id}
                  line={line}
                  packed={packed.get(line.id) ?? null}
                  working={working}
                  onTick={(substitute) => write({ kind: 'packed', line: line.id, substitute }, null)}
                  onUntick={(id) => write({ kind: 'withdrawn', reason: '' }, id)}
                />
              ))}
            </Box>
          )
        })}
      </Box>
      {cords && (
        <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
          Cords for the loss test: {cords.cords.map(({ from, to, count }) => `${count} × ${from} to ${to}`).join(', ')}
          {cords.meterCap && `, meter cap ${cords.meterCap}`}. {cords.words.join('; ')}.
        </Typography>
      )}
    </Section>
  )
}

function Line({
  line,
  packed,
  working,
  onTick,
  onUntick,
}: {
  line: PackingLine
  packed: Packed | null
  working: boolean
  onTick(substitute: string | null): void
  onUntick(id: string): void
}) {
  const { name, count, unit, why, places, missing, substitute, unfit } = line
  const amount = unit === 'm' ? `${count} m` : `${count} ×`
  return (
    <Box sx={{ borderBottom: 1, borderColor: 'divider', py: 0.25 }}>
      <FormControlLabel
        control={
          <Checkbox
            checked={packed !== null}
            disabled={!working}
            onChange={() => (packed ? onUntick(packed.id) : onTick(null))}
            sx={{ minWidth: 44, minHeight: 44 }}
          />
        }
        label={
          <>
            <strong>
              {amount} {packed?.entry.substitute ?? name}
            </strong>
            <Box component="span" sx={{ fontSize: 14, color: 'text.secondary' }}>
              {' '}
              {packed?.entry.substitute ? `in place of ${name}` : why}
            </Box>
          </>
        }
      />
      <Box sx={{ pl: 5.5, fontSize: 14 }}>
        {missing > 0 && packed === null ? (
          <>
            <Judgement tone="bad" word={`${missing}${unit === 'm' ? ' m' : ''} missing`} />
            {substitute ? (
              <>
                {' '}
                {substitute} would do.{' '}
                {working && (
                  <Button size="small" onClick={() => onTick(substitute)} className="not-on-paper">
                    Take it instead
                  </Button>
                )}
              </>
            ) : (
              ' Nothing in the kit does instead: fetch it before leaving.'
            )}
          </>
        ) : (
          places.join('; ')
        )}
        {unfit.map((reason) => (
          <Box key={reason}>not counted: {reason}</Box>
        ))}
      </Box>
    </Box>
  )
}
