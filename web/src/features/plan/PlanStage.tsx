import type { Plan } from '@cold-thread/contract'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import CircularProgress from '@mui/material/CircularProgress'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { dequal } from 'dequal'
import { useEffect, useState } from 'react'
import { Link as RouterLink } from 'react-router'
import { useKitQuery, usePlansQuery, useStepTimesQuery, useSurveyQuery } from '../../api/api.ts'
import { canWork } from '../../app/rights.ts'
import { useKeptDraft, type KeptDraft } from '../../field/useKeptDraft.ts'
import { metres } from '@cold-thread/core/units'
import { Problem } from '../../ui/Problem.tsx'
import { printSection } from '../../ui/printSection.ts'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import type { ProposalView } from '../../worker/planView.ts'
import type { LocateView } from '../../worker/view.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { useLocated } from '../locate/useLocated.ts'
import { Cautions } from './Cautions.tsx'
import { draftOf, FRESH_DRAFT, upToDate, withEdit, type PlanDraft } from './draft.ts'
import { FiberRoll } from './FiberRoll.tsx'
import { LossBars } from './LossBars.tsx'
import { OptionsTable } from './OptionsTable.tsx'
import { PackingSection } from './PackingSection.tsx'
import { PlanVersions } from './PlanVersions.tsx'
import { OrderOfLines } from './OrderOfLines.tsx'
import { lower, minutesInWords } from './planWords.ts'
import { RestorationCurve } from './RestorationCurve.tsx'
import { RepairCard } from './RepairCard.tsx'
import { Rates } from './Rates.tsx'
import { SavePlan } from './SavePlan.tsx'
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
  const kept = useKeptDraft<LeftPlan>(`plan ${callout.id}`)
  if (kitError || plansError) return <Problem error={kitError ?? plansError} />
  if (!kit || !plans || !stepTimes || !kept) return <CircularProgress aria-label="Loading" />
  return <Planning {...props} kit={kit.kit} kitVersion={kit.version} plans={plans} stepTimes={stepTimes} kept={kept} />
}

/** A plan that is being changed, and the version that it was made on. */
interface LeftPlan {
  draft: PlanDraft
  base: number
}

type PlanningProps = StageProps &
  Pick<PlanInput, 'kit' | 'kitVersion' | 'stepTimes'> & { view: LocateView; plans: Plan[]; kept: KeptDraft<LeftPlan> }

function Planning(props: PlanningProps) {
  const { plant, link, callout, view, kit, kitVersion, plans, stepTimes, kept } = props
  const [which, setWhich] = useState(0)
  const fault = view.faults[Math.min(which, view.faults.length - 1)]!
  const { data: survey } = useSurveyQuery(callout.id)
  const surveyed =
    survey?.cable === fault.cable
      ? survey.fibers.flatMap(({ fiber, state }) => (state === 'sound' ? [] : [fiber]))
      : null
  /** As saved, or as proposed where nothing is saved yet. */
  const [stands, setStands] = useState<PlanDraft>(() =>
    plans[0] ? draftOf(plans[0].content) : { ...FRESH_DRAFT, hit: surveyed && surveyed.length > 0 ? surveyed : null },
  )
  const [draft, setDraft] = useState(kept.left ? upToDate(kept.left.draft) : stands)
  const change = (some: Partial<PlanDraft>) => setDraft((before) => ({ ...before, ...some }))
  /** Counts up when another draft takes the place of this one: fields show what that says. */
  const [turn, setTurn] = useState(0)
  const replace = (other: PlanDraft) => {
    setDraft(other)
    setTurn((before) => before + 1)
  }
  /** The version that the draft was made on: somebody may have saved a newer one since. */
  const [base, setBase] = useState(kept.left?.base ?? plans[0]?.version ?? 0)
  const working = canWork(props.account) && callout.state !== 'closed'
  const changed = working && !dequal(draft, stands)
  const { keep } = kept
  useEffect(() => keep(changed ? { draft, base } : null), [keep, changed, draft, base])
  const open = (plan: Plan) => {
    setStands(draftOf(plan.content))
    replace(draftOf(plan.content))
    setBase(plans[0]?.version ?? 0)
  }
  const drop = () => (plans[0] ? open(plans[0]) : replace(stands))
  const saved = (version: number) => {
    setStands(draft)
    setBase(version)
  }
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
        <SelectField
          size="small"
          label="Fault"
          value={Math.min(which, view.faults.length - 1)}
          onChoose={setWhich}
          sx={{ mb: 2, minWidth: 260 }}
          options={view.faults.map(
            ({ chainage, breaks, causes }, k) =>
              [k, `${breaks ? 'Break' : (causes[0]?.name ?? 'loss')} at ${metres(chainage)}`] as const,
          )}
        />
      )}
      {computed.status === 'failed' && <Alert severity="error">{computed.problem}</Alert>}
      {!proposal && computed.status === 'working' && <LinearProgress aria-label="Drawing up repairs" />}
      {proposal && (
        <Proposed
          {...props}
          input={input}
          proposal={proposal}
          draft={draft}
          change={change}
          replace={replace}
          base={base}
          onBase={setBase}
          onSaved={saved}
          onDrop={changed ? drop : null}
          onOpen={open}
        >
          <Section title="Site and crew">
            <SiteForm key={turn} draft={draft} onChange={change} kit={kit} cable={cable} surveyed={surveyed} />
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
  replace,
  base,
  onBase,
  onSaved,
  onDrop,
  onOpen,
  children,
  ...props
}: PlanningProps & {
  base: number
  onBase(version: number): void
  onSaved(version: number): void
  /** Drops what is not saved; null where nothing is changed. */
  onDrop: (() => void) | null
  onOpen(plan: Plan): void
  /** What the plan rests on, shown under the repairs compared. */
  children: React.ReactNode
  input: PlanInput
  proposal: ProposalView
  draft: PlanDraft
  replace(draft: PlanDraft): void
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
      {plans[0] && plans[0].version > base && (
        <Alert
          severity="info"
          variant="outlined"
          sx={{ mb: 1 }}
          action={
            <>
              <Button color="inherit" onClick={() => onOpen(plans[0]!)}>
                Open it
              </Button>
              <Button color="inherit" onClick={() => onBase(plans[0]!.version)}>
                Keep mine
              </Button>
            </>
          }
        >
          {plans[0].by} has saved version {plans[0].version} since this was opened.
        </Alert>
      )}
      {main === null || worked === null ? (
        <Section title="Nothing can be done with what is at hand">
          <Typography>
            Each repair below says what is missing. Enter people and things under Kit, or change the site.
          </Typography>
        </Section>
      ) : (
        <RepairCard
          main={main}
          before={before}
          withFirst={withFirst}
          onWithFirst={(value) => change({ withFirst: value })}
          order={order}
          worked={worked}
          proposal={proposal}
          action={
            working && order ? (
              <SavePlan
                {...props}
                input={input}
                main={main}
                before={withFirst ? before : null}
                order={order}
                base={base}
                onSaved={onSaved}
                onDrop={onDrop}
              />
            ) : null
          }
        />
      )}
      <PlanVersions
        account={account}
        callout={callout}
        plans={plans}
        onOpen={({ content }) => replace(draftOf(content))}
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
                <Button variant="outlined" onClick={() => printSection('Order of work')}>
                  Print
                </Button>
              </Box>
            }
          >
            <OrderOfLines
              {...props}
              computed={ordered}
              onEdit={working ? (edit) => change({ edits: withEdit(draft.edits, edit) }) : null}
              onUndo={() => change({ edits: draft.edits.slice(0, -1) })}
              working={working}
              stretch={(kind) =>
                draft.learnedRates ? (proposal.rates.find((rate) => rate.kind === kind)?.stretch ?? 1) : 1
              }
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
          {order && (
            <WhatIfs
              input={input}
              option={worked}
              order={order}
              onTake={(scenario) => change({ scenario, edits: [] })}
            />
          )}
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
              onSpares={proposal.options.find(({ kind }) => kind === 'spare-fibers')?.projected ?? []}
            />
          )}
          {ordered.last && <PackingSection account={account} callout={callout} packing={ordered.last.packing} />}
          <Cautions options={withFirst ? [before, main] : [main]} />
        </>
      )}
    </>
  )
}
