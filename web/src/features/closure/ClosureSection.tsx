import type { Account, Callout, ClosureHistory, ClosureStateEntry } from '@cold-thread/contract'
import {
  cablesIn,
  checkPorts,
  closureChanges,
  closureModelOf,
  splicesAt,
  portCable,
  suggestPorts,
  suggestTrays,
  trayStates,
  trayUnits,
  type CableAt,
  type ClosureModel,
  type ClosureState,
} from '@cold-thread/core/open'
import type { PlantBundle, PlantNode } from '@cold-thread/core/plant'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation, useClosureHistoryQuery, useOpenBookQuery } from '../../api/api.ts'
import { canWork } from '../../app/rights.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { SelectField } from '../../ui/SelectField.tsx'
import { PortsDrawing } from './PortsDrawing.tsx'
import { TraysDrawing } from './TraysDrawing.tsx'

interface ClosureProps {
  account: Account
  node: PlantNode
  plant: PlantBundle
  /** Open callouts on links that pass here: a state is entered on one of them. */
  callouts: readonly Callout[]
}

/** A closure as it is by the record, and as it was found, is meant to be, and was left: ports, trays, history. */
export function ClosureSection(props: ClosureProps) {
  const { node, plant } = props
  const { data: book, error } = useOpenBookQuery()
  const { data: history, error: historyError } = useClosureHistoryQuery(node.id)
  if (!book || !history) return <Problem error={error ?? historyError} />
  const model = closureModelOf(node.closureModel ?? null, book.book.closures)
  if (!model)
    return (
      <Alert severity="info" variant="outlined" sx={{ mb: 2 }}>
        {node.closureModel === undefined
          ? 'The plant record does not say what closure this is.'
          : `Nothing is on record of the closure “${node.closureModel}”.`}{' '}
        Its ports and trays are drawn once its sheet is in the book of closures.
      </Alert>
    )
  return <Closure {...props} model={model} history={history} plantCables={cablesIn(plant, node)} />
}

const WHEN: Record<ClosureStateEntry['when'], string> = {
  found: 'as found',
  planned: 'as planned',
  left: 'as left',
}

function Closure({
  account,
  node,
  plant,
  callouts,
  model,
  history,
  plantCables,
}: ClosureProps & { model: ClosureModel; history: ClosureHistory; plantCables: CableAt[] }) {
  const cables = plantCables.map(portCable)
  const splices = splicesAt(plant, node.id)
  const units = trayUnits(splices, plant.cables)
  const states = history.flatMap(({ what, ...rest }) => (what.kind === 'closure-state' ? [{ ...rest, what }] : []))
  const lastSeen = states.find(({ what }) => what.when !== 'planned')
  const byHabit: ClosureState = { ports: suggestPorts(model, cables), trays: suggestTrays(model, units), remark: '' }
  /** What was seen last is the record; before anybody looked it is what habit and the splices suggest. */
  const record = lastSeen?.what.state ?? byHabit
  const [edited, setDraft] = useState<ClosureState | null>(null)
  const draft = edited ?? { ...record, remark: '' }
  const [calloutId, setCalloutId] = useState(callouts[0]?.id ?? '')
  const [add, { error, isLoading }] = useAddObservationMutation()
  const working = canWork(account) && callouts.length > 0
  const findings = checkPorts(model, draft.ports, cables)
  const { trays, off } = trayStates(model, draft.trays, units, plant.cables)
  const changes = closureChanges(record, draft, units)
  const keep = async (when: ClosureStateEntry['when']) => {
    const entry = {
      kind: 'closure-state' as const,
      node: node.id,
      when,
      state: { ...draft, remark: draft.remark.trim() },
    }
    const { error: failed } = await add({
      calloutId,
      id: uuidv7(),
      observation: { entry, observedAt: new Date().toISOString(), supersedes: null },
    })
    if (!failed) setDraft(null)
  }
  return (
    <>
      <Section title="Ports">
        <Typography sx={{ mb: 1, color: 'text.secondary' }}>
          {lastSeen
            ? `${lastSeen.what.when === 'left' ? 'As left' : 'As found'} ${clock(lastSeen.at)} by ${lastSeen.by}.`
            : 'Nobody has recorded its ports: this is what habit suggests. Look, and put it right.'}
        </Typography>
        <PortsDrawing
          model={model}
          cables={cables}
          uses={draft.ports}
          findings={findings}
          working={working}
          onUses={(ports) => setDraft({ ...draft, ports })}
        />
        <Findings
          findings={findings.map(({ port, kind, text }) => ({
            kind,
            text: port === null ? text : `port ${port}: ${text}`,
          }))}
        />
      </Section>
      <Section title="Trays">
        {model.trays === null ? (
          <Typography>The closure’s sheet does not say what its trays hold.</Typography>
        ) : (
          <TraysDrawing
            trays={trays}
            off={off}
            cables={plantCables}
            splices={splices}
            linkName={(id) => plant.links.find((link) => link.id === id)?.name ?? id}
            working={working}
            onUses={(next) => setDraft({ ...draft, trays: next })}
          />
        )}
        <Findings
          findings={trays.flatMap(({ tray, conflicts }) =>
            conflicts.map((text) => ({ kind: 'conflict' as const, text: `tray ${tray}: ${text}` })),
          )}
        />
        <FiberSums cables={plantCables} />
      </Section>
      {working && (
        <Section title="Record what is here">
          {changes.length > 0 ? (
            <>
              <Typography>Against the record:</Typography>
              <Box component="ul" sx={{ mt: 0.5 }}>
                {changes.map((change) => (
                  <li key={change}>{change}</li>
                ))}
              </Box>
            </>
          ) : (
            <Typography sx={{ mb: 1 }}>As on record.</Typography>
          )}
          <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'flex-start' }}>
            <SelectField
              label="On callout"
              value={calloutId}
              onChoose={setCalloutId}
              sx={{ minWidth: 260 }}
              options={callouts.map(({ id, title }) => [id, title] as const)}
            />
            <TextField
              label="Remark"
              value={draft.remark}
              onChange={({ target }) => setDraft({ ...draft, remark: target.value })}
              slotProps={{ htmlInput: { maxLength: 1000 } }}
              sx={{ flex: '1 1 240px' }}
            />
          </Box>
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mt: 1.5 }}>
            <Button variant="contained" size="large" disabled={isLoading} onClick={() => void keep('found')}>
              This is how I found it
            </Button>
            <Button variant="outlined" size="large" disabled={isLoading} onClick={() => void keep('planned')}>
              This is the plan
            </Button>
            <Button variant="outlined" size="large" disabled={isLoading} onClick={() => void keep('left')}>
              This is how I leave it
            </Button>
            {changes.length > 0 && <Button onClick={() => setDraft(null)}>Back to the record</Button>}
          </Box>
          <Problem error={error} />
        </Section>
      )}
      <Section title="History">
        {history.length === 0 && <Typography>Nobody has opened it under Cold Thread yet.</Typography>}
        {history.map(({ at, by, title, what }, i) => (
          <Box key={`${at} ${i}`} sx={{ borderBottom: 1, borderColor: 'divider', py: 0.75 }}>
            <Typography>
              {what.kind === 'sheet'
                ? `Run sheet: ${what.name}, ${what.done} of ${what.all} steps`
                : `State ${WHEN[what.when]}`}
            </Typography>
            {what.kind === 'sheet' &&
              what.differences.map((difference) => (
                <Typography key={difference} sx={{ fontSize: 15 }}>
                  The record differs. {difference}
                </Typography>
              ))}
            {what.kind === 'closure-state' &&
              closureChanges(before(states, at, byHabit), what.state, units).map((change) => (
                <Typography key={change} sx={{ fontSize: 15 }}>
                  {change}
                </Typography>
              ))}
            {what.kind === 'closure-state' && what.state.remark && (
              <Typography sx={{ fontSize: 15 }}>{what.state.remark}</Typography>
            )}
            <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
              {clock(at)}, {by}, {title}
            </Typography>
          </Box>
        ))}
      </Section>
    </>
  )
}

/** The record at a time: what was seen last before it. */
function before(
  states: readonly { at: string; what: ClosureStateEntry }[],
  at: string,
  byHabit: ClosureState,
): ClosureState {
  return states.find((one) => one.at < at && one.what.when !== 'planned')?.what.state ?? byHabit
}

function Findings({ findings }: { findings: readonly { kind: 'conflict' | 'notice'; text: string }[] }) {
  if (findings.length === 0) return null
  return (
    <Box component="ul" sx={{ listStyle: 'none', p: 0, mt: 1, mb: 0 }} aria-label="What to know">
      {findings.map(({ kind, text }) => (
        <Box component="li" key={text} sx={{ py: 0.25 }}>
          <Judgement tone={kind === 'conflict' ? 'bad' : 'unknown'} word={kind === 'conflict' ? 'conflict' : 'note'} />:{' '}
          {text}
        </Box>
      ))}
    </Box>
  )
}

/** Spliced, passing and unused fibers by cable. */
function FiberSums({ cables }: { cables: readonly CableAt[] }) {
  return (
    <Box component="ul" sx={{ listStyle: 'none', p: 0, mt: 1.5, mb: 0 }}>
      {cables.map(({ cable, passes, spliced }) => (
        <li key={cable.id}>
          {cable.id}: {spliced.length} of {cable.fiberCount} fibers spliced by the record,{' '}
          {cable.fiberCount - spliced.length} {passes ? 'pass uncut (express)' : 'end here unused (butt)'}
        </li>
      ))}
    </Box>
  )
}
