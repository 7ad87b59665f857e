import type { StepField } from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { readNumber } from '../../ui/readNumber.ts'
import { SelectField } from '../../ui/SelectField.tsx'

const UNITS: readonly StepField['unit'][] = ['', 'mm', 'm', '°C', 'kPa', 'min', 'dBm']
const FIELD_KINDS: readonly (readonly [StepField['kind'], string])[] = [
  ['number', 'a figure'],
  ['count', 'a count, made twice where it differs'],
  ['text', 'words'],
]

/** What is measured, counted or read in a step. */
export function FieldsForm({
  fields,
  number,
  onFields,
}: {
  fields: readonly StepField[]
  number: number
  onFields(fields: readonly StepField[]): void
}) {
  const set = (at: number, some: Partial<StepField>) =>
    onFields(fields.map((field, i) => (i === at ? { ...field, ...some } : field)))
  const figure = (text: string): number | undefined => readNumber(text) ?? undefined
  return (
    <Box sx={{ mt: 1.5 }}>
      {fields.map((field, i) => (
        <Box key={field.id} sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mb: 1 }}>
          <TextField
            size="small"
            label={`Measured ${i + 1}, step ${number}`}
            value={field.label}
            onChange={({ target }) => set(i, { label: target.value })}
          />
          <SelectField
            size="small"
            label="What it is"
            value={field.kind}
            onChoose={(value) => set(i, { kind: value })}
            sx={{ width: 200 }}
            options={FIELD_KINDS}
          />
          <SelectField
            size="small"
            label="Unit"
            value={field.unit}
            onChoose={(value) => set(i, { unit: value })}
            sx={{ width: 100 }}
            options={UNITS.map((unit) => [unit, unit === '' ? 'none' : unit] as const)}
          />
          <TextField
            size="small"
            label="Expected"
            defaultValue={field.nominal ?? ''}
            onChange={({ target }) => set(i, { nominal: figure(target.value) ?? (target.value.trim() || undefined) })}
            helperText="a figure, or a length’s name"
            sx={{ width: 180 }}
          />
          <TextField
            size="small"
            label="Either side"
            defaultValue={field.tolerance ?? ''}
            onChange={({ target }) => set(i, { tolerance: figure(target.value) })}
            sx={{ width: 110 }}
          />
          <Button onClick={() => onFields(fields.filter((_, at) => at !== i))}>Take out</Button>
        </Box>
      ))}
      <Button
        onClick={() => {
          let n = fields.length + 1
          while (fields.some(({ id }) => id === `value-${n}`)) n++
          onFields([...fields, { id: `value-${n}`, label: '', unit: 'mm', kind: 'number' }])
        }}
      >
        Measure something in step {number}
      </Button>
    </Box>
  )
}
