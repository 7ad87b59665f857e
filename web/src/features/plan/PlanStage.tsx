import type { Plan, StepEntry } from '@cold-thread/contract'
import type { OrderLine, RepairOption } from '@cold-thread/core/plan'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import CircularProgress from '@mui/material/CircularProgress'
import FormControlLabel from '@mui/material/FormControlLabel'
import LinearProgress from '@mui/material/LinearProgress'
import MenuItem from '@mui/material/MenuItem'
import Switch from '@mui/material/Switch'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Link as RouterLink } from 'react-router'
import {
  useAddObservationMutation,
  useAddPlanMutation,
  useKitQuery,
  useObservationsQuery,
  usePlansQuery,
  useStepTimesQuery,
  useSurveyQuery,
} from '../../api/api.ts'
import { v7 as uuidv7 } from 'uuid'
import { canWork } from '../../app/rights.ts'
import { metres } from '../../thread/axisTicks.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import type { OrderView, ProposalView } from '../../worker/planView.ts'
import type { LocateView } from '../../worker/view.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { useLocated } from '../locate/useLocated.ts'
import { DoneDialog } from './DoneDialog.tsx'
import { draftOf, FRESH_DRAFT, withEdit, type PlanDraft } from './draft.ts'
import { FiberRoll } from './FiberRoll.tsx'
import { LossBars } from './LossBars.tsx'
import { OptionsTable } from './OptionsTable.tsx'
import { PackingSection } from './PackingSection.tsx'
import { PlanVersions } from './PlanVersions.tsx'
import { finishInWords, minutesInWords, tightest } from './planWords.ts'
import { RestorationCurve } from './RestorationCurve.tsx'
import { ScheduleChart, type DoneLine } from './ScheduleChart.tsx'
import { SiteForm } from './SiteForm.tsx'
import { useOrder, useProposal, type PlanInput } from './usePlan.ts'
import { WhatIfs } from './WhatIfs.tsx'
import { WindowPicker } from './WindowPicker.tsx'

/** Which repair, in which order? The proposed one first and large; all that it rests on within reach. */
export function PlanStage(props: StageProps) {
  const located = useLocated(props)
  if (located.status === 'failed') return <Alert severity="error">{located.problem}</Alert>
  if (located.status === 'working')
    return (
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', p: 2 }}>
        <CircularProgress size={24} aria-label="Computing" /> Placing the fault…
      </Box>
    )
  if (located.view.faults.length === 0)
    return (
      <Section title="No fault is placed yet">
        <Typography sx={{ mb: 1 }}>A repair is planned for a place: shoot the link or enter what is known.</Typography>
        <Button
          variant="contained"
          component={RouterLink}
          to={`/callouts/${props.callout.id}/locate`}
          sx={{ minHeight: 44 }}
        >
          Go to Locate
        </Button>
      </Section>
    )
  return <PlanOfFault {...props} view={located.view} />
}

function PlanOfFault(props: StageProps & { view: LocateView }) {
  const { callout } = props
  const { data: kit, error: kitError } = useKitQuery()
  const { data: plans, error: plansError } = usePlansQuery(callout.id, { pollingInterval: 15_000 })
  const { data: stepTimes } = useStepTimesQuery()
  if (kitError || plansError) return <Problem error={kitError ?? plansError} />
  if (!kit || !plans || !stepTimes) return <CircularProgress aria-label="Loading" />
  return <Planning {...props} kit={kit.kit} kitVersion={kit.version} plans={plans} stepTimes={stepTimes} />
}

type PlanningProps = StageProps &
  Pick<PlanInput, 'kit' | 'kitVersion' | 'stepTimes'> & { view: LocateView; plans: Plan[] }

function Planning(props: PlanningProps) {
  const { plant, link, callout, view, kit, kitVersion, plans, stepTimes } = props
  const [which, setWhich] = useState(0)
  const fault = view.faults[Math.min(which, view.faults.length - 1)]!
  const { data: survey } = useSurveyQuery(callout.id)
  const surveyed =
    survey?.cable === fault.cable
      ? survey.fibers.flatMap(({ fiber, state }) => (state === 'sound' ? [] : [fiber]))
      : null
  const [draft, setDraft] = useState<PlanDraft>(() =>
    plans[0] ? draftOf(plans[0].content) : { ...FRESH_DRAFT, hit: surveyed && surveyed.length > 0 ? surveyed : null },
  )
  const change = (some: Partial<PlanDraft>) => setDraft((before) => ({ ...before, ...some }))
  const input: PlanInput = {
    plant,
    link,
    fault,
    measured: view.measured,
    kit,
    kitVersion,
    stepTimes,
    draft,
    today: new Date().toISOString().slice(0, 10),
  }
  const computed = useProposal(input)
  const proposal = computed.last
  const cable = plant.cables.find(({ id }) => id === fault.cable)!
  return (
    <>
      {view.faults.length > 1 && (
        <TextField
          select
          size="small"
          label="Fault"
          value={Math.min(which, view.faults.length - 1)}
          onChange={(event) => setWhich(Number(event.target.value))}
          sx={{ mb: 2, minWidth: 260 }}
        >
          {view.faults.map(({ chainage, breaks, causes }, k) => (
            <MenuItem key={chainage} value={k}>
              {breaks ? 'Break' : (causes[0]?.name ?? 'loss')} at {metres(chainage)}
            </MenuItem>
          ))}
        </TextField>
      )}
      {computed.status === 'failed' && <Alert severity="error">{computed.problem}</Alert>}
      {!proposal && computed.status === 'working' && <LinearProgress aria-label="Drawing up repairs" />}
      {proposal && (
        <Proposed {...props} input={input} proposal={proposal} draft={draft} change={change}>
          <Section title="Site and crew">
            <SiteForm draft={draft} onChange={change} kit={kit} cable={cable} surveyed={surveyed} />
            <Rates proposal={proposal} draft={draft} change={change} />
          </Section>
        </Proposed>
      )}
    </>
  )
}

function Proposed({
  input,
  proposal,
  draft,
  change,
  children,
  ...props
}: PlanningProps & {
  /** What the plan rests on, shown under the repairs compared. */
  children: React.ReactNode
  input: PlanInput
  proposal: ProposalView
  draft: PlanDraft
  change(some: Partial<PlanDraft>): void
}) {
  const { account, callout, plant, kit, plans } = props
  const possible = proposal.options.filter((option) => option.possible)
  const byId = (id: string | null) => possible.find((option) => option.id === id) ?? null
  const chosen = byId(draft.optionId)
  const main =
    chosen === null || chosen.id === proposal.lasting?.id
      ? (proposal.lasting ?? proposal.first ?? possible[0] ?? null)
      : chosen
  const before = main && proposal.first && main.permanence === 'permanent' ? proposal.first : null
  const withFirst = before !== null && (draft.withFirst ?? true)
  const [shown, setShown] = useState<'first' | 'then'>('first')
  const worked = withFirst && shown === 'first' ? before : main
  const others = withFirst ? [shown === 'first' ? main! : before!] : []
  const ordered = useOrder(input, proposal, worked, others)
  const working = canWork(account) && callout.state !== 'closed'
  const order = ordered.last?.order ?? null
  const down = input.fault.breaks
  return (
    <>
      {proposal.warnings.map((warning) => (
        <Alert key={warning} severity="warning" variant="outlined" sx={{ mb: 1 }}>
          {warning}
        </Alert>
      ))}
      {main === null || worked === null ? (
        <Section title="Nothing can be done with what is at hand">
          <Typography>
            Each repair below says what is missing. Enter people and things under Kit, or change the site.
          </Typography>
        </Section>
      ) : (
        <Card
          main={main}
          before={before}
          withFirst={withFirst}
          onWithFirst={(value) => change({ withFirst: value })}
          order={order}
          worked={worked}
          proposal={proposal}
          action={
            working && order ? (
              <SavePlan {...props} input={input} main={main} before={withFirst ? before : null} order={order} />
            ) : null
          }
        />
      )}
      <PlanVersions
        account={account}
        callout={callout}
        plans={plans}
        onOpen={({ content }) => change(draftOf(content))}
      />
      <Section title="Repairs compared">
        <OptionsTable
          options={proposal.options}
          chosen={main?.id ?? null}
          onChoose={(id) => change({ optionId: id, edits: [] })}
        />
      </Section>
      {children}
      {main && worked && (
        <>
          <Section title="Loss after the repair">
            <LossBars projected={main.projected} />
          </Section>
          <Section
            title="Order of work"
            action={
              <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }} className="not-on-paper">
                {withFirst && (
                  <>
                    <Button variant={shown === 'first' ? 'contained' : 'outlined'} onClick={() => setShown('first')}>
                      First: {lower(before.name)}
                    </Button>
                    <Button variant={shown === 'then' ? 'contained' : 'outlined'} onClick={() => setShown('then')}>
                      Then: {lower(main.name)}
                    </Button>
                  </>
                )}
                {draft.edits.length > 0 && (
                  <Button variant="outlined" onClick={() => change({ edits: draft.edits.slice(0, -1) })}>
                    Take the last change back
                  </Button>
                )}
                <Button variant="outlined" onClick={() => window.print()}>
                  Print
                </Button>
              </Box>
            }
          >
            <Order
              {...props}
              computed={ordered}
              onEdit={working ? (edit) => change({ edits: withEdit(draft.edits, edit) }) : null}
              onUndo={() => change({ edits: draft.edits.slice(0, -1) })}
              working={working}
            />
          </Section>
          {order && order.curve.length > 0 && (
            <Section title="Circuits back over time">
              <RestorationCurve order={order} />
              <Box component="ul" sx={{ pl: 3, my: 0.5 }}>
                {order.restored.map(({ linkId, name, circuits, at }) => (
                  <li key={linkId}>
                    <strong>{minutesInWords(at.p50)}</strong>, 90 % by {minutesInWords(at.p90)}: {name} (
                    {circuits.map((circuit) => circuit.name).join(', ')})
                  </li>
                ))}
              </Box>
            </Section>
          )}
          <WhatIfs input={input} optionId={worked.id} onTake={(scenario) => change({ scenario, edits: [] })} />
          {order && (
            <WindowPicker
              order={order}
              kit={kit}
              crews={draft.scenario.crews}
              carriesTraffic={!down}
              chosen={draft.window}
              onChoose={(window) => change({ window })}
              calendar={{
                id: `${callout.id}-plan`,
                title: `${worked.name}: ${props.link.name}`,
                place: `${input.fault.cable} at ${metres(input.fault.chainage)}`,
                text: order.lines.map(({ name, site }) => `${name} (${site})`).join('\n'),
              }}
            />
          )}
          {order && (
            <FiberRoll
              plant={plant}
              cable={plant.cables.find(({ id }) => id === proposal.cable)!}
              chainage={input.fault.chainage}
              hit={proposal.hit}
              order={order}
              down={down}
            />
          )}
          {ordered.last && <PackingSection account={account} callout={callout} packing={ordered.last.packing} />}
          <Cautions options={withFirst ? [before, main] : [main]} />
        </>
      )}
    </>
  )
}

function Card({
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
            label={first ? `${first.circuits[0]?.name ?? first.name} back` : 'Circuits back'}
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
            value={least ? `${least.margin.toFixed(1)}\u00a0dB` : 'not known'}
            more={
              least ? `${least.link.name}, ${least.wavelength} nm, ± ${(2 * least.after.sigma).toFixed(1)}\u00a0dB` : ''
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

const lower = (name: string) => name.charAt(0).toLowerCase() + name.slice(1)

function Key({ label, value, more }: { label: string; value: string; more: string }) {
  return (
    <Box>
      <Typography sx={{ color: 'text.secondary' }}>{label}</Typography>
      <Typography sx={{ fontSize: '1.8rem', fontWeight: 650, lineHeight: 1.15 }}>{value}</Typography>
      <Typography sx={{ fontSize: 14 }}>{more}</Typography>
    </Box>
  )
}

function Order({
  computed,
  onEdit,
  onUndo,
  working,
  callout,
  kit,
}: StageProps & {
  computed: ReturnType<typeof useOrder>
  onEdit: React.ComponentProps<typeof ScheduleChart>['onEdit']
  onUndo(): void
  working: boolean
  kit: PlanningProps['kit']
}) {
  const { data: log } = useObservationsQuery(callout.id)
  const [add, { error }] = useAddObservationMutation()
  const [asked, setAsked] = useState<OrderLine | null>(null)
  const done = new Map<string, DoneLine>(
    (log ?? []).flatMap(({ entry, superseded, by }) =>
      entry.kind === 'step' && !superseded ? [[entry.line, { minutes: entry.minutes, by }] as const] : [],
    ),
  )
  const order = computed.last?.order
  return (
    <>
      <Problem error={error} />
      {computed.status === 'failed' && (
        <Alert
          severity="error"
          variant="outlined"
          sx={{ mb: 1 }}
          action={
            order && (
              <Button color="inherit" onClick={onUndo}>
                Take the change back
              </Button>
            )
          }
        >
          {computed.problem}
          {order && '. Below stands the plan before this change.'}
        </Alert>
      )}
      {computed.status === 'working' && (
        <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', mb: 1, minHeight: 44 }}>
          <LinearProgress variant="determinate" value={100 * computed.part} sx={{ flex: 1 }} aria-label="Scheduling" />
          <Button onClick={computed.cancel}>Cancel</Button>
        </Box>
      )}
      {computed.status === 'cancelled' && (
        <Alert severity="info" variant="outlined" sx={{ mb: 1 }}>
          Cancelled{order ? ': below stands the plan before.' : '. Change anything above to schedule again.'}
        </Alert>
      )}
      {order && (
        <>
          <Typography sx={{ mb: 1 }}>
            Finished in <strong>{finishInWords(order.finish)}</strong>, counted from leaving. Dark bars decide the end;
            thin lines reach to nine runs of ten. {order.steps} steps, {order.runs.toLocaleString('en-GB')} runs; no
            order of them ends before {minutesInWords(order.bound)}.
          </Typography>
          <ScheduleChart
            order={order}
            kit={kit}
            onEdit={onEdit}
            done={done}
            onDone={working ? (line) => setAsked(line) : null}
          />
        </>
      )}
      {asked && (
        <DoneDialog
          line={asked}
          onClose={() => setAsked(null)}
          onDone={(minutes) => {
            const entry: StepEntry = {
              kind: 'step',
              step: asked.kind,
              line: asked.id,
              name: asked.name,
              minutes,
              planned: Math.max(0, asked.end.planned - asked.start),
            }
            void add({
              calloutId: callout.id,
              id: uuidv7(),
              observation: { entry, observedAt: new Date().toISOString(), supersedes: null },
            })
            setAsked(null)
          }}
        />
      )}
    </>
  )
}

function SavePlan({
  callout,
  plans,
  input,
  main,
  before,
  order,
}: PlanningProps & { input: PlanInput; main: RepairOption; before: RepairOption | null; order: OrderView['order'] }) {
  const [save, { error, isLoading }] = useAddPlanMutation()
  const { draft, fault } = input
  const first = order.restored[0]
  const content: Plan['content'] = {
    cable: fault.cable,
    chainage: fault.chainage,
    optionIds: before ? [before.id, main.id] : [main.id],
    hit: draft.hit,
    site: draft.site,
    scenario: draft.scenario,
    weights: draft.weights,
    edits: draft.edits,
    learnedRates: draft.learnedRates,
    window: draft.window,
    rules: { name: 'repair plan', version: 1 },
    summary: {
      name: before ? `${before.name}, then ${main.name}` : main.name,
      finish50: order.finish.p50,
      finish90: order.finish.p90,
      firstCircuit: first
        ? { name: first.circuits[0]?.name ?? first.name, p50: first.at.p50, p90: first.at.p90 }
        : null,
      margin: tightest(main.projected)?.margin ?? null,
    },
  }
  return (
    <Box sx={{ textAlign: 'right' }}>
      <Button
        variant="contained"
        size="large"
        disabled={isLoading}
        className="not-on-paper"
        onClick={() =>
          void save({ calloutId: callout.id, id: uuidv7(), plan: { content, version: plans[0]?.version ?? 0 } })
        }
      >
        Save as version {(plans[0]?.version ?? 0) + 1}
      </Button>
      <Problem error={error} />
    </Box>
  )
}

/** What was learned of the minutes of steps: shown, and used only when asked for. */
function Rates({
  proposal,
  draft,
  change,
}: {
  proposal: ProposalView
  draft: PlanDraft
  change(some: Partial<PlanDraft>): void
}) {
  const minutes = ({ best, likely, worst }: { best: number; likely: number; worst: number }) =>
    `${likely.toFixed(0)} (${best.toFixed(0)} to ${worst.toFixed(0)}) min`
  return (
    <Box component="details" sx={{ mt: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', minHeight: 44, pt: 1.25 }}>
        Where the minutes come from
      </Box>
      <Typography>{proposal.rulesSource}.</Typography>
      {proposal.rates.length > 0 && (
        <>
          <Box component="ul" sx={{ pl: 3, my: 0.5 }}>
            {proposal.rates.map(({ kind, count, planned, learned }) => (
              <li key={kind}>
                {kind}: {minutes(planned)} by the rule book, {minutes(learned)} with {count} done
              </li>
            ))}
          </Box>
          <FormControlLabel
            control={
              <Switch
                checked={draft.learnedRates}
                onChange={(event) => change({ learnedRates: event.target.checked })}
              />
            }
            label="Plan with the learned minutes"
          />
        </>
      )}
    </Box>
  )
}

function Cautions({ options }: { options: readonly RepairOption[] }) {
  const hazards = [...new Set(options.flatMap((option) => option.hazards))]
  if (hazards.length === 0) return null
  return (
    <Section title="Cautions">
      <Box component="ul" sx={{ pl: 3, my: 0 }}>
        {hazards.map((hazard) => (
          <li key={hazard}>{hazard}</li>
        ))}
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 1 }}>
        Local codes, the operator’s rules and the makers’ sheets come first; licensed work stays with those licensed.
      </Typography>
    </Section>
  )
}
