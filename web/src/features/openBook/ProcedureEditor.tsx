import {
  checkProcedures,
  CLOSURE_KINDS,
  CLOSURE_WORDS,
  LENGTH_RULES,
  PART_WORDS,
  PARTS,
  stepId,
  type ClosureKind,
  type Procedure,
  type ProcedureStep,
} from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import { FormEnd } from './FormEnd.tsx'
import { StepForm } from './StepForm.tsx'

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
        <SelectField
          label="Part of the work"
          value={draft.part}
          onChoose={(value) => change({ part: value })}
          sx={{ width: 200 }}
          options={PARTS.map((part) => [part, PART_WORDS[part]] as const)}
        />
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
