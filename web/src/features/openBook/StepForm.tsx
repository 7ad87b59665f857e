import {
  CAUTION_IDS,
  CAUTIONS,
  EXPOSURES,
  type CautionId,
  type Condition,
  type Exposure,
  type ProcedureStep,
} from '@cold-thread/core/open'
import { KIT_KINDS } from '@cold-thread/core/kit'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { dequal } from 'dequal'
import { useState } from 'react'
import { readNumber } from '../../ui/readNumber.ts'
import { Several } from '../../ui/Several.tsx'
import { FieldsForm } from './FieldsForm.tsx'

/** One step of a procedure: what is done, why, what it needs, and what it waits for. */
export function StepForm({
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
            set({ timer: readTimer(target.value) })
          }}
          error={timer.trim() !== '' && readTimer(timer) === undefined}
          helperText={`or “${BY_ITS_SHEET}”`}
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

const BY_ITS_SHEET = 'by its sheet'

/** Minutes, or that a sheet says them; nothing for what is neither. */
function readTimer(text: string): ProcedureStep['timer'] {
  if (text.trim() === BY_ITS_SHEET) return BY_ITS_SHEET
  const minutes = readNumber(text)
  return minutes !== null && minutes > 0 ? minutes : undefined
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
  ['grounded', 'armor is grounded here', { grounded: true }],
  ['double', 'second jacket', { doubleJacket: true }],
  ['metallic', 'copper, tracer wire or messenger', { metallic: true }],
  ['member', 'strength member to hold', { strengthMember: true }],
  ['no-member', 'no strength member to hold', { strengthMember: false }],
  ['thin', 'cable so thin that it takes a bushing', { thin: true }],
  ['live', 'traffic on its fibers', { live: true }],
  ['dark', 'no traffic', { live: false }],
  ['neighbours', 'traffic on other cables beside it', { liveNeighbours: true }],
  ['service', 'closure in service', { inService: true }],
  ['new', 'new closure', { inService: false }],
  ['mid-span', 'mid-span entry', { entry: ['mid-span'] }],
  ['basket', 'sheath run to the basket', { sheathEnd: 'basket' }],
  ['attachment', 'sheath ends at the attachment', { sheathEnd: 'attachment' }],
  ['ground-before', 'ground cable before the wedge', { groundCable: 'before-wedge' }],
  ['ground-after', 'ground cable after the wedge', { groundCable: 'after-wedge' }],
  ['ribbon-pigtails', 'pigtails in ribbons', { pigtails: 'ribbon' }],
  ['single-pigtails', 'pigtails one by one', { pigtails: 'single' }],
  ['one-connector', 'one connector to make', { connectors: 'one' }],
  ['several-connectors', 'more than one connector to make', { connectors: 'several' }],
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
