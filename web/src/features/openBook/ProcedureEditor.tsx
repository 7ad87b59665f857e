import {
  CAUTION_IDS,
  CAUTIONS,
  checkProcedures,
  CLOSURE_KINDS,
  CLOSURE_WORDS,
  EXPOSURES,
  LENGTH_RULES,
  PART_WORDS,
  PARTS,
  stepId,
  type CautionId,
  type ClosureKind,
  type Condition,
  type Exposure,
  type Part,
  type Procedure,
  type ProcedureStep,
} from '@cold-thread/core/open'
import { KIT_KINDS } from '@cold-thread/core/kit'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { dequal } from 'dequal'
import { useState } from 'react'
import { readNumber } from '../../ui/readNumber.ts'
import { Section } from '../../ui/Section.tsx'
import { Several } from '../../ui/Several.tsx'
import { FieldsForm } from './FieldsForm.tsx'
import { FormEnd } from './FormEnd.tsx'

/** A procedure being written or changed: steps in their order, each with what it needs; checked as a whole. */
export function ProcedureEditor({
  procedure,
  others,
  taken,
  busy,
  onSave,
  onCancel,
}: {
  procedure: Procedure
  others: readonly Procedure[]
  taken: readonly string[]
  busy: boolean
  onSave(procedure: Procedure): void
  onCancel(): void
}) {
  const [draft, setDraft] = useState(procedure)
  const [constructions, setConstructions] = useState((procedure.for.construction ?? []).join(', '))
  const [problem, setProblem] = useState<string | null>(null)
  /** The step that is open; the others are a line each. */
  const [open, setOpen] = useState<string | null>(procedure.id === '' ? procedure.steps[0]!.id : null)
  const isNew = procedure.id === ''
  const change = (some: Partial<Procedure>) => setDraft({ ...draft, ...some })
  const setStep = (at: number, step: ProcedureStep) =>
    change({ steps: draft.steps.map((one, i) => (i === at ? step : one)) })
  const move = (at: number, by: -1 | 1) => {
    const steps = [...draft.steps]
    const [step] = steps.splice(at, 1)
    steps.splice(at + by, 0, step!)
    change({ steps })
  }
  const submit = () => {
    const names = constructions
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean)
    const id = isNew ? nameFrom(draft.name) : draft.id
    const next: Procedure = {
      ...draft,
      id,
      for: { ...draft.for, construction: names.length > 0 ? names : undefined },
      steps: draft.steps.map((step) => withOwnId(step, procedure.id, id)),
    }
    if (next.name.trim() === '') return setProblem('The procedure needs a name.')
    if (next.source.trim() === '')
      return setProblem('Say where the steps come from: the maker’s sheet, or whose practice.')
    if (isNew && taken.includes(id)) return setProblem(`A procedure of this name is there already: change that one.`)
    const unnamed = next.steps.findIndex(({ fields = [] }) => fields.some(({ label }) => label.trim() === ''))
    if (unnamed >= 0) return setProblem(`Step ${unnamed + 1}: what is measured needs a name.`)
    const empty = next.steps.findIndex((step) => step.do.trim() === '')
    if (empty >= 0) return setProblem(`Step ${empty + 1} says nothing.`)
    if (next.part === 'prepare' && names.length === 0)
      return setProblem('For which construction? Steps for one cable must not be taken for another.')
    try {
      checkProcedures([...others, next])
    } catch (error) {
      return setProblem(error instanceof Error ? error.message : String(error))
    }
    setProblem(null)
    onSave(next)
  }
  return (
    <Section title={isNew ? 'A new procedure' : `${procedure.name}, version ${draft.version}`}>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', mt: 1, mb: 2 }}>
        <TextField
          label="Name"
          value={draft.name}
          onChange={({ target }) => change({ name: target.value })}
          sx={{ width: 320 }}
        />
        <TextField
          select
          label="Part of the work"
          value={draft.part}
          onChange={({ target }) => change({ part: target.value as Part })}
          sx={{ width: 200 }}
        >
          {PARTS.map((part) => (
            <MenuItem key={part} value={part}>
              {PART_WORDS[part]}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="For cables of construction"
          value={constructions}
          onChange={({ target }) => setConstructions(target.value)}
          helperText="as in the record, with commas between; empty: any"
          sx={{ width: 300 }}
        />
        <TextField
          select
          label="Closure"
          value={draft.for.closure?.[0] ?? ''}
          onChange={({ target }) =>
            change({ for: { ...draft.for, closure: target.value === '' ? undefined : [target.value as ClosureKind] } })
          }
          sx={{ width: 260 }}
        >
          <MenuItem value="">any</MenuItem>
          {CLOSURE_KINDS.map((kind) => (
            <MenuItem key={kind} value={kind}>
              {CLOSURE_WORDS[kind]}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Entry"
          value={draft.for.entry?.length === 1 ? draft.for.entry[0] : ''}
          onChange={({ target }) =>
            change({
              for: { ...draft.for, entry: target.value === '' ? undefined : [target.value as 'end' | 'mid-span'] },
            })
          }
          sx={{ width: 160 }}
        >
          <MenuItem value="">either</MenuItem>
          <MenuItem value="end">at the end</MenuItem>
          <MenuItem value="mid-span">mid-span</MenuItem>
        </TextField>
        <TextField
          label="Source of the steps"
          value={draft.source}
          onChange={({ target }) => change({ source: target.value })}
          sx={{ width: 320 }}
        />
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mb: 1 }}>
        Lengths stand in a step by name, in braces, and are filled in for each closure:{' '}
        {LENGTH_RULES.filter(({ id }, i, all) => all.findIndex((one) => one.id === id) === i)
          .map(({ id }) => `{${id}}`)
          .join(' ')}
      </Typography>
      {draft.steps.map((step, i) => (
        <Box key={step.id} sx={{ borderBottom: 1, borderColor: 'divider', py: 0.5 }}>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center' }}>
            <Typography sx={{ flex: '1 1 300px' }}>
              {i + 1}. {step.do}
            </Typography>
            <Button disabled={i === 0} onClick={() => move(i, -1)} aria-label={`Step ${i + 1} up`}>
              Up
            </Button>
            <Button
              disabled={i === draft.steps.length - 1}
              onClick={() => move(i, 1)}
              aria-label={`Step ${i + 1} down`}
            >
              Down
            </Button>
            <Button
              aria-expanded={open === step.id}
              aria-label={`${open === step.id ? 'Close' : 'Change'} step ${i + 1}`}
              onClick={() => setOpen(open === step.id ? null : step.id)}
            >
              {open === step.id ? 'Close' : 'Change'}
            </Button>
          </Box>
          {open === step.id && (
            <StepForm
              step={step}
              number={i + 1}
              count={draft.steps.length}
              earlier={draft.steps.slice(0, i).map((one) => ({ id: stepId(draft, one), words: one.do }))}
              onStep={(next) => setStep(i, next)}
              onRemove={() => change({ steps: draft.steps.filter((_, at) => at !== i) })}
            />
          )}
        </Box>
      ))}
      <Button
        variant="outlined"
        onClick={() => {
          const id = freshId(draft.steps)
          change({ steps: [...draft.steps, { id, do: '' }] })
          setOpen(id)
        }}
        sx={{ my: 2 }}
      >
        Add a step
      </Button>
      <FormEnd problem={problem} busy={busy} onSave={submit} onCancel={onCancel} />
    </Section>
  )
}

function StepForm({
  step,
  number,
  count,
  earlier,
  onStep,
  onRemove,
}: {
  step: ProcedureStep
  number: number
  count: number
  earlier: { id: string; words: string }[]
  onStep(step: ProcedureStep): void
  onRemove(): void
}) {
  const set = (some: Partial<ProcedureStep>) => onStep({ ...step, ...some })
  const [timer, setTimer] = useState(step.timer === undefined ? '' : String(step.timer))
  const tick = (label: string, value: boolean, some: (on: boolean) => Partial<ProcedureStep>) => (
    <FormControlLabel
      control={<Checkbox checked={value} onChange={({ target }) => set(some(target.checked))} />}
      label={label}
      sx={{ minHeight: 44 }}
    />
  )
  return (
    <Box role="group" aria-label={`Step ${number}`} sx={{ py: 1.5 }}>
      <TextField
        label={`What is done in step ${number}`}
        value={step.do}
        onChange={({ target }) => set({ do: target.value })}
        multiline
        fullWidth
        sx={{ mb: 1.5 }}
      />
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap' }}>
        <TextField
          label={`Why, step ${number}`}
          value={step.why ?? ''}
          onChange={({ target }) => set({ why: target.value || undefined })}
          sx={{ flex: '1 1 280px' }}
        />
        <TextField
          select
          label={`Cautions, step ${number}`}
          value={step.cautions ?? []}
          onChange={({ target }) => {
            const chosen = target.value as unknown as CautionId[]
            set({ cautions: chosen.length > 0 ? chosen : undefined })
          }}
          slotProps={{ select: { multiple: true } }}
          sx={{ flex: '1 1 200px' }}
        >
          {CAUTION_IDS.map((id) => (
            <MenuItem key={id} value={id} title={CAUTIONS[id].text}>
              {id}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label={`Waits for a lead because, step ${number}`}
          value={step.hold ?? ''}
          onChange={({ target }) => set({ hold: target.value || undefined })}
          sx={{ flex: '1 1 280px' }}
        />
        <TextField
          select
          label={`Only after, step ${number}`}
          value={(step.locks ?? [])
            .filter(({ step: id }) => earlier.some((one) => one.id === id))
            .map(({ step: id }) => id)}
          onChange={({ target }) => {
            const chosen = target.value as unknown as string[]
            const kept = (step.locks ?? []).filter(
              (lock) => !earlier.some(({ id }) => id === lock.step) || chosen.includes(lock.step),
            )
            const added = chosen
              .filter((id) => !kept.some((lock) => lock.step === id))
              .map((id) => ({ step: id, why: 'the operator’s order' }))
            set({ locks: [...kept, ...added] })
          }}
          slotProps={{ select: { multiple: true } }}
          disabled={earlier.length === 0}
          sx={{ flex: '1 1 200px' }}
        >
          {earlier.map(({ id, words }, i) => (
            <MenuItem key={id} value={id}>
              {i + 1}. {words.slice(0, 60)}
            </MenuItem>
          ))}
        </TextField>
      </Box>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', mt: 1.5 }}>
        <Several
          label={`Tools and parts, step ${number}`}
          value={[...(step.tools ?? []), ...(step.parts ?? [])]}
          options={KIT_KINDS.map(({ kind, name }) => [kind, name] as const)}
          onValue={(kinds) => {
            const isPart = (kind: string) => KIT_KINDS.some((one) => one.kind === kind && PART_GROUPS.has(one.group))
            set({ tools: filled(kinds.filter((kind) => !isPart(kind))), parts: filled(kinds.filter(isPart)) })
          }}
        />
        <Several
          label={`Only where, step ${number}`}
          value={WHERE.filter(([, , when]) => isWithin(when, step.when)).map(([id]) => id)}
          options={WHERE.map(([id, words]) => [id, words] as const)}
          onValue={(chosen) => set({ when: whenFrom(chosen, step.when) })}
        />
        <Several
          label={`Lies open from here, step ${number}`}
          value={[...(step.exposes ?? [])]}
          options={EXPOSURES.map((one) => [one, one] as const)}
          onValue={(chosen) => set({ exposes: filled(chosen as Exposure[]) })}
        />
        <Several
          label={`Covered again here, step ${number}`}
          value={[...(step.covers ?? [])]}
          options={EXPOSURES.map((one) => [one, one] as const)}
          onValue={(chosen) => set({ covers: filled(chosen as Exposure[]) })}
        />
      </Box>
      <FieldsForm fields={step.fields ?? []} number={number} onFields={(fields) => set({ fields: filled(fields) })} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center' }}>
        {tick('Cautions are said aloud', step.acknowledge === true, (on) => ({ acknowledge: on || undefined }))}
        {tick('Photo', step.photo === true, (on) => ({ photo: on || undefined }))}
        <TextField
          label={`Takes its time, min, step ${number}`}
          value={timer}
          onChange={({ target }) => {
            setTimer(target.value)
            const minutes = readNumber(target.value)
            set({ timer: minutes !== null && minutes > 0 ? minutes : undefined })
          }}
          error={timer.trim() !== '' && !(Number(readNumber(timer)) > 0)}
          slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          size="small"
          sx={{ width: 220, mr: 2 }}
        />
        {tick('Loss is watched', step.watch === true, (on) => ({ watch: on || undefined }))}
        <Box sx={{ flex: 1 }} />
        <Button disabled={count === 1} onClick={onRemove} aria-label={`Take step ${number} out`}>
          Take out
        </Button>
      </Box>
    </Box>
  )
}

/** Groups of the kit that are used up. */
const PART_GROUPS = new Set(['part', 'consumable', 'cord'])

/** A list, or nothing where it is empty. */
function filled<T>(list: readonly T[]): readonly T[] | undefined {
  return list.length > 0 ? list : undefined
}

/** What a step can be kept to. */
const WHERE: readonly (readonly [string, string, Condition])[] = [
  ['armored', 'armored', { armored: true }],
  ['plain', 'not armored', { armored: false }],
  ['double', 'second jacket', { doubleJacket: true }],
  ['metallic', 'copper, tracer wire or messenger', { metallic: true }],
  ['member', 'strength member to hold', { strengthMember: true }],
  ['no-member', 'no strength member to hold', { strengthMember: false }],
  ['thin', 'cable under 12.7 mm', { thin: true }],
  ['live', 'traffic on its fibers', { live: true }],
  ['dark', 'no traffic', { live: false }],
  ['service', 'closure in service', { inService: true }],
  ['new', 'new closure', { inService: false }],
  ['mid-span', 'mid-span entry', { entry: ['mid-span'] }],
  ['basket', 'sheath run to the basket', { sheathEnd: 'basket' }],
  ['attachment', 'sheath ends at the attachment', { sheathEnd: 'attachment' }],
]

function isWithin(part: Condition, whole: Condition = {}): boolean {
  return Object.entries(part).every(([key, value]) => dequal(whole[key as keyof Condition], value))
}

/** The condition of what was chosen; what can't be chosen here stays. */
function whenFrom(chosen: readonly string[], was: Condition = {}): Condition | undefined {
  const choosable = new Set(WHERE.flatMap(([, , when]) => Object.keys(when)))
  const kept = Object.fromEntries(Object.entries(was).filter(([key]) => !choosable.has(key)))
  const next: Condition = Object.assign(kept, ...WHERE.filter(([id]) => chosen.includes(id)).map(([, , when]) => when))
  return Object.keys(next).length > 0 ? next : undefined
}

/** A name for addresses and locks, from a name for people. */
function nameFrom(name: string): string {
  const plain = name
    .toLowerCase()
    .normalize('NFD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
  return plain.slice(0, 60) || 'procedure'
}

function freshId(steps: readonly ProcedureStep[]): string {
  let n = steps.length + 1
  while (steps.some(({ id }) => id === `step-${n}`)) n++
  return `step-${n}`
}

/** Locks on steps of the same procedure go by its id. */
function withOwnId(step: ProcedureStep, was: string, is: string): ProcedureStep {
  if (was === is || !step.locks) return step
  return {
    ...step,
    locks: step.locks.map((lock) =>
      lock.step.startsWith(`${was}.`) ? { ...lock, step: `${is}${lock.step.slice(was.length)}` } : lock,
    ),
  }
}
