import { rentOrBuy } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Section } from '../../ui/Section.tsx'

const FIELDS = [
  ['price', 'Price'],
  ['years', 'Years kept'],
  ['resale', 'Worth then'],
  ['upkeep', 'Upkeep a year'],
  ['rentPerDay', 'Rent a day'],
  ['days', 'Days of use a year'],
] as const

type Key = (typeof FIELDS)[number][0]

/** Owning a splicer against renting one, over a year's use: a lead's sum, in whatever currency is entered. */
export function RentOrBuy() {
  const [texts, setTexts] = useState<Record<Key, string>>({
    price: '',
    years: '',
    resale: '',
    upkeep: '',
    rentPerDay: '',
    days: '',
  })
  const values = Object.fromEntries(FIELDS.map(([key]) => [key, Number(texts[key].replace(',', '.'))])) as Record<
    Key,
    number
  >
  const bad = (key: Key) => texts[key] !== '' && !(values[key] >= 0 && (key !== 'years' || values[key] > 0))
  const ready = FIELDS.every(([key]) => texts[key].trim() !== '' && !bad(key))
  const sum = ready ? rentOrBuy(values) : null
  const money = (value: number) => value.toLocaleString('en-GB', { maximumFractionDigits: 0 })
  return (
    <Section title="Rent or buy a splicer">
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 1 }}>
        {FIELDS.map(([key, label]) => (
          <TextField
            key={key}
            size="small"
            label={label}
            value={texts[key]}
            error={bad(key)}
            onChange={(event) => setTexts({ ...texts, [key]: event.target.value })}
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
            sx={{ width: 160 }}
          />
        ))}
      </Box>
      <Typography>
        {sum ? (
          <>
            <strong>{sum.better === 'buy' ? 'Buy' : 'Rent'}</strong>: owning costs {money(sum.own)} a year ((price −
            worth then) ÷ years + upkeep), renting {money(sum.rent)} (rent × days);{' '}
            {Number.isFinite(sum.evenAtDays) ? `even at ${sum.evenAtDays.toFixed(0)} days a year.` : 'renting is free.'}
          </>
        ) : (
          'Enter all six, in one currency.'
        )}
      </Typography>
    </Section>
  )
}
