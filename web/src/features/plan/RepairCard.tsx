import type { RepairOption } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import Typography from '@mui/material/Typography'
import { Section } from '../../ui/Section.tsx'
import type { OrderView, ProposalView } from '../../worker/planView.ts'
import { lower, minutesInWords, tightest } from './planWords.ts'

/** The repair with what a lead decides by: when circuits are back, when it is finished, what margin is left, and why. */
export function RepairCard({
  main,
  before,
  withFirst,
  onWithFirst,
  order,
  worked,
  proposal,
  action,
}: {
  main: RepairOption
  before: RepairOption | null
  withFirst: boolean
  onWithFirst(value: boolean): void
  order: OrderView['order'] | null
  worked: RepairOption
  proposal: ProposalView
  action: React.ReactNode
}) {
  const least = tightest(main.projected)
  const digits = least && least.after.sigma < 0.1 ? 2 : 1
  const first = order?.restored[0]
  const proposed = main.id === proposal.lasting?.id
  return (
    <Section title={proposed ? 'Proposed repair' : 'Chosen repair'} action={action}>
      <Typography sx={{ fontSize: { xs: '1.35rem', sm: '1.6rem' }, fontWeight: 650, lineHeight: 1.2 }}>
        {withFirst ? `First: ${lower(before!.name)}. Then: ${lower(main.name)}` : main.name}
      </Typography>
      {before && (
        <FormControlLabel
          control={<Switch checked={withFirst} onChange={(event) => onWithFirst(event.target.checked)} />}
          label={`${before.name} first: ${before.reasons[0]}; permanent at the next chance`}
        />
      )}
      {order && (
        <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr 1fr' }, gap: 2, my: 1.5 }}>
          <Key
            label={
              first
                ? `${first.circuits[0]?.name ?? first.name} ${main.projected.some(({ dark }) => dark) ? 'back' : 'restored'}`
                : 'Circuits back'
            }
            value={first ? minutesInWords(first.at.p50) : 'none'}
            more={first ? `90\u00a0% by ${minutesInWords(first.at.p90)} after leaving` : ''}
          />
          <Key
            label={
              withFirst
                ? `${worked.permanence === 'permanent' ? 'Permanent' : 'Temporary'} repair finished`
                : 'Finished and proved'
            }
            value={minutesInWords(order.finish.p50)}
            more={`90\u00a0% by ${minutesInWords(order.finish.p90)}`}
          />
          <Key
            label="Least margin after"
            value={least ? `${least.margin.toFixed(digits)}\u00a0dB` : 'not known'}
            more={
              least
                ? `${least.link.name}, ${least.wavelength} nm, ±\u00a0${least.after.sigma.toFixed(digits)}\u00a0dB`
                : ''
            }
          />
        </Box>
      )}
      <Box component="ul" sx={{ pl: 3, my: 0 }}>
        {main.reasons.map((reason) => (
          <li key={reason}>{reason}</li>
        ))}
        {main.reflectanceRisk && <li>{main.reflectanceRisk}</li>}
        {main.leavesOut.length > 0 && <li>not brought back: {main.leavesOut.join(', ')}</li>}
        {(withFirst ? [before!, main] : [main]).flatMap(({ lacks }) =>
          lacks.map(({ what, needed, there, unit, substitute }) => (
            <li key={what}>
              <strong>not at hand: {what}</strong>, {there} of {needed}
              {unit === 'm' ? ' m' : ''}
              {substitute ? `; ${substitute} would do` : '; nothing in the kit does instead'}
            </li>
          )),
        )}
      </Box>
    </Section>
  )
}

function Key({ label, value, more }: { label: string; value: string; more: string }) {
  return (
    <Box>
      <Typography sx={{ color: 'text.secondary' }}>{label}</Typography>
      <Typography sx={{ fontSize: '1.8rem', fontWeight: 650, lineHeight: 1.15 }}>{value}</Typography>
      <Typography sx={{ fontSize: 14 }}>{more}</Typography>
    </Box>
  )
}
