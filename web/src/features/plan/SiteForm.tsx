import { countOf, crewsOf, type Kit } from '@cold-thread/core/kit'
import type { Weights } from '@cold-thread/core/plan'
import type { Cable } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Slider from '@mui/material/Slider'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import type { PlanDraft } from './draft.ts'
import { WISHES } from './OptionsTable.tsx'
import { readFibers } from './planWords.ts'
import { SelectField } from '../../ui/SelectField.tsx'

/** What the site and the crew give: the plan follows each change. */
export function SiteForm({
  draft,
  onChange,
  kit,
  cable,
  surveyed,
}: {
  draft: PlanDraft
  onChange(change: Partial<PlanDraft>): void
  kit: Kit
  cable: Cable
  /** Fibers that a cable survey found hit; null without one. */
  surveyed: number[] | null
}) {
  const { site, scenario } = draft
  const metres = (label: string, key: 'toBench' | 'preparation' | 'lost' | 'section') => (
    <Metres label={label} value={site[key]} onChange={(value) => onChange({ site: { ...site, [key]: value } })} />
  )
  const tick = (label: string, checked: boolean, set: (checked: boolean) => void) => (
    <FormControlLabel
      control={<Checkbox checked={checked} onChange={(event) => set(event.target.checked)} />}
      label={label}
    />
  )
  const crews = crewsOf(kit).length
  const ribbons = countOf(kit, 'ribbon splicer') > 0
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
        {metres('To the bench, m', 'toBench')}
        {metres('Prepared a side, m', 'preparation')}
        {metres('Cut away, m', 'lost')}
        {metres('New section, m', 'section')}
        <SelectField
          size="small"
          label="Crews"
          value={scenario.crews}
          onChoose={(value) => onChange({ scenario: { ...scenario, crews: value } })}
          sx={{ width: 110 }}
          helperText={crews === 0 ? 'none in the kit' : `${crews} in the kit`}
          options={[
            [1, '1'],
            [2, '2'],
          ]}
        />
        <SelectField
          size="small"
          label="Splicers"
          value={scenario.splicers}
          onChoose={(value) => onChange({ scenario: { ...scenario, splicers: value } })}
          sx={{ width: 120 }}
          helperText={`${countOf(kit, scenario.ribbon ? 'ribbon splicer' : 'splicer')} in the kit`}
          options={[1, 2, 3, 4].map((count) => [count, count] as const)}
        />
      </Box>
      <HitFibers key={String(draft.hit)} draft={draft} onChange={onChange} cable={cable} surveyed={surveyed} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2 }}>
        {tick('Road or traffic at the place', site.traffic, (traffic) => onChange({ site: { ...site, traffic } }))}
        {tick('Closures lie in a chamber', site.belowGround, (belowGround) =>
          onChange({ site: { ...site, belowGround } }),
        )}
        {tick(`Ribbons at once${ribbons ? '' : ' (no ribbon splicer in the kit)'}`, scenario.ribbon, (ribbon) =>
          onChange({ scenario: { ...scenario, ribbon } }),
        )}
        {tick('Haul from both ends', scenario.haulFromBothEnds, (haulFromBothEnds) =>
          onChange({ scenario: { ...scenario, haulFromBothEnds } }),
        )}
      </Box>
      <Wishes weights={draft.weights} onChange={(weights) => onChange({ weights })} />
    </Box>
  )
}

/** A length that is taken over when it is one. */
function Metres({ label, value, onChange }: { label: string; value: number; onChange(value: number): void }) {
  const [text, setText] = useState(String(value))
  const read = Number(text.replace(',', '.'))
  const bad = text.trim() === '' || !(read >= 0 && read <= 10_000)
  return (
    <TextField
      size="small"
      label={label}
      value={text}
      error={bad}
      helperText={bad ? '0 to 10,000 m' : `${(value / 0.3048).toFixed(0)} ft`}
      onChange={(event) => {
        setText(event.target.value)
        const next = Number(event.target.value.replace(',', '.'))
        if (event.target.value.trim() !== '' && next >= 0 && next <= 10_000) onChange(next)
      }}
      slotProps={{ htmlInput: { inputMode: 'decimal' } }}
      sx={{ width: { xs: 'calc(50% - 6px)', sm: 160 } }}
    />
  )
}

function HitFibers({
  draft,
  onChange,
  cable,
  surveyed,
}: Pick<Parameters<typeof SiteForm>[0], 'draft' | 'onChange' | 'cable' | 'surveyed'>) {
  const [text, setText] = useState(draft.hit?.join(', ') ?? '')
  const bad = text.trim() !== '' && readFibers(text, cable.fiberCount) === null
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'flex-start' }}>
      <TextField
        size="small"
        label="Fibers that are hit"
        placeholder="by the kind of fault"
        value={text}
        error={bad}
        helperText={
          bad
            ? `numbers from 1 to ${cable.fiberCount}, such as 1-12, 29`
            : 'empty: a break in the run takes the cable, a fault at a joint its own fiber'
        }
        onChange={(event) => setText(event.target.value)}
        onBlur={() => {
          if (!bad) onChange({ hit: text.trim() === '' ? null : readFibers(text, cable.fiberCount) })
        }}
        sx={{ width: { xs: '100%', sm: 420 } }}
        slotProps={{ inputLabel: { shrink: true } }}
      />
      {surveyed && surveyed.length > 0 && (
        <FormControlLabel
          control={
            <Checkbox
              checked={String(draft.hit) === String(surveyed)}
              onChange={(event) => onChange({ hit: event.target.checked ? surveyed : null })}
            />
          }
          label={`as the cable survey found: ${surveyed.length} fibers`}
        />
      )}
    </Box>
  )
}

function Wishes({ weights, onChange }: { weights: Weights; onChange(weights: Weights): void }) {
  return (
    <Box component="details">
      <Box component="summary" sx={{ cursor: 'pointer', minHeight: 44, pt: 1.25 }}>
        What counts in the ranking
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr', md: '1fr 1fr 1fr' }, columnGap: 4 }}>
        {(Object.keys(weights) as (keyof Weights)[]).map((wish) => (
          <Box key={wish}>
            <Typography id={`wish-${wish}`} sx={{ fontSize: 14 }}>
              {WISHES[wish]}: {weights[wish]}
            </Typography>
            <Slider
              aria-labelledby={`wish-${wish}`}
              value={weights[wish]}
              min={0}
              max={5}
              step={1}
              onChange={(_, value) => onChange({ ...weights, [wish]: value })}
            />
          </Box>
        ))}
      </Box>
    </Box>
  )
}
