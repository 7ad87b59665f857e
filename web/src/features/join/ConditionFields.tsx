import type { Conditions } from '@cold-thread/core/join'
import Box from '@mui/material/Box'
import TextField from '@mui/material/TextField'
import { readNumber } from '../../ui/readNumber.ts'

type Texts = Partial<Record<keyof Conditions, string>>

const FIELDS: readonly { key: keyof Conditions; label: string; factor: number; least: number; most: number }[] = [
  { key: 'altitude', label: 'Altitude, m', factor: 1, least: -500, most: 9000 },
  { key: 'temperature', label: 'Temperature, °C', factor: 1, least: -60, most: 80 },
  { key: 'humidity', label: 'Humidity, %', factor: 1, least: 0, most: 100 },
  { key: 'pressure', label: 'Air pressure, kPa', factor: 1000, least: 20, most: 120 },
]

function read(text: string | undefined, { factor, least, most }: (typeof FIELDS)[number]): number | null | 'bad' {
  if (text === undefined || text.trim() === '') return null
  const value = readNumber(text)
  return value === null || value < least || value > most ? 'bad' : value * factor
}

/** What was entered, in SI; null where a figure can't be. */
export function readConditions(texts: Texts): Conditions | null {
  const values = FIELDS.map((field) => [field.key, read(texts[field.key], field)] as const)
  if (values.some(([, value]) => value === 'bad')) return null
  return Object.fromEntries(values) as unknown as Conditions
}

/** Conditions as they stand in the fields. */
export function conditionTexts(conditions: Conditions): Texts {
  return Object.fromEntries(
    FIELDS.flatMap(({ key, factor }) => {
      const value = conditions[key]
      return value === null ? [] : [[key, String(Number((value / factor).toFixed(2)))]]
    }),
  )
}

/** What an arc depends on; a field left empty is not known. */
export function ConditionFields({ texts, onTexts }: { texts: Texts; onTexts(texts: Texts): void }) {
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mt: 1 }}>
      {FIELDS.map((field) => {
        const bad = read(texts[field.key], field) === 'bad'
        return (
          <TextField
            key={field.key}
            label={field.label}
            value={texts[field.key] ?? ''}
            onChange={({ target }) => onTexts({ ...texts, [field.key]: target.value })}
            error={bad}
            helperText={bad ? `${field.least} to ${field.most}` : ' '}
            slotProps={{ htmlInput: { inputMode: 'decimal', maxLength: 12 } }}
            sx={{ width: 170 }}
          />
        )
      })}
    </Box>
  )
}
