import type { OpenBook } from '@cold-thread/contract'
import {
  BENCH_FACTS,
  BY_PERSON,
  closureModelOf,
  constructionWord,
  preparedConstructions,
  prepareEnd,
  slackIn,
  spanInWords,
  type GivenLengths,
  type Preparation,
} from '@cold-thread/core/open'
import type { Cable } from '@cold-thread/core/plant'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useAppSelector } from '../../app/store.ts'
import { readNumber } from '../../ui/readNumber.ts'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import { PaperButtons } from './PaperButtons.tsx'
import { ScaleDrawing } from './ScaleDrawing.tsx'

/** A cable end, by its construction and the closure it goes into. */
export function CableLengths({ book, cables }: { book: OpenBook; cables: readonly Cable[] }) {
  const units = useAppSelector((state) => state.settings.units)
  const [cableId, setCableId] = useState(cables[0]?.id ?? '')
  const cable = cables.find(({ id }) => id === cableId)
  const [construction, setConstruction] = useState(cable?.construction ?? 'loose-tube')
  const [modelName, setModelName] = useState(book.closures[0]?.model ?? '')
  const [armored, setArmored] = useState(cable?.armored ?? false)
  const [doubleJacket, setDoubleJacket] = useState(cable?.doubleJacket ?? false)
  const [diameter, setDiameter] = useState(
    cable?.outerDiameter ? String(Number((cable.outerDiameter * 1000).toFixed(2))) : '',
  )
  const [sheath, setSheath] = useState('')
  const model = closureModelOf(modelName || null, book.closures)
  const own = readNumber(sheath)
  const badSheath = sheath.trim() !== '' && (own === null || own <= 0 || own > 20)
  const mm = readNumber(diameter)
  const badDiameter = diameter.trim() !== '' && (mm === null || mm < 1 || mm > 100)
  const given: GivenLengths = {
    ...model?.lengths,
    ...(model?.storingRadius ? { 'storing-radius': { min: model.storingRadius, max: model.storingRadius } } : {}),
    ...(own === null || badSheath ? {} : { sheath: { min: own, max: own, by: BY_PERSON } }),
  }
  const facts = {
    ...BENCH_FACTS,
    construction,
    armored,
    doubleJacket,
    strengthMember: cable?.strengthMember ?? construction === 'loose-tube',
    diameter: mm === null || badDiameter ? null : mm / 1000,
  }
  const end = prepareEnd(facts, given)
  const take = (id: string) => {
    const next = cables.find((one) => one.id === id)
    setCableId(id)
    if (!next) return
    setConstruction(next.construction)
    setArmored(next.armored ?? false)
    setDoubleJacket(next.doubleJacket ?? false)
    setDiameter(next.outerDiameter ? String(Number((next.outerDiameter * 1000).toFixed(2))) : '')
  }
  const constructions = [...new Set([...preparedConstructions(), construction])]
  return (
    <Section title="Cable end">
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, mt: 1, mb: 1 }}>
        {cables.length > 0 && (
          <SelectField
            label="Cable"
            value={cableId}
            onChoose={take}
            sx={{ minWidth: 150 }}
            options={[...cables.map(({ id }) => [id, id] as const), ['', 'another']]}
          />
        )}
        <SelectField
          label="Construction"
          value={construction}
          onChoose={(value) => {
            // It is no longer the cable on record.
            setConstruction(value)
            setCableId('')
          }}
          sx={{ minWidth: 240 }}
          options={constructions.map((name) => [name, constructionWord(name)] as const)}
        />
        {book.closures.length > 0 && (
          <SelectField
            label="Closure"
            value={modelName}
            onChoose={setModelName}
            sx={{ minWidth: 240 }}
            options={[...book.closures.map((one) => [one.model, one.model] as const), ['', 'none of these']]}
          />
        )}
        <TextField
          label="Sheath off, m"
          value={sheath}
          onChange={({ target }) => setSheath(target.value)}
          error={badSheath}
          helperText={badSheath ? 'above 0, 20 at most' : 'where you know better than the table'}
          slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          sx={{ width: 190 }}
        />
        <TextField
          label="Outer diameter, mm"
          value={diameter}
          onChange={({ target }) => setDiameter(target.value)}
          error={badDiameter}
          helperText={badDiameter ? '1 to 100' : ' '}
          slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          sx={{ width: 170 }}
        />
      </Box>
      <Box sx={{ mb: 1 }}>
        <FormControlLabel
          control={<Checkbox checked={armored} onChange={({ target }) => setArmored(target.checked)} />}
          label="Armored"
        />
        <FormControlLabel
          control={<Checkbox checked={doubleJacket} onChange={({ target }) => setDoubleJacket(target.checked)} />}
          label="Second jacket"
        />
      </Box>
      {end === null ? (
        <Alert severity="warning" variant="outlined">
          No lengths here for a cable of construction “{construction}”: use the maker’s sheet.
        </Alert>
      ) : 'lacks' in end ? (
        <Alert severity="warning" variant="outlined">
          How much sheath comes off is in no table: take it from the closure’s sheet and enter it.
        </Alert>
      ) : (
        <Prepared
          name={`${constructionWord(construction)}${cable ? `, ${cable.id}` : ''}`}
          end={end}
          slack={model?.lengths ?? {}}
          units={units}
        />
      )}
    </Section>
  )
}

function Prepared({
  name,
  end,
  slack,
  units,
}: {
  name: string
  end: Preparation
  slack: GivenLengths
  units: Parameters<typeof spanInWords>[1]
}) {
  const { kept, spare } = slackIn(end, slack)
  return (
    <>
      <Typography sx={{ fontSize: 20, mb: 0.5 }}>
        Mark the sheath at <strong>{spanInWords(end.layers[0]!.endsAt, units)}</strong>
        {end.cutOff.max > 0 && <>, cut {spanInWords(end.cutOff, units)} off the ends</>}; free in the end{' '}
        {spanInWords(end.free, units)}.
      </Typography>
      {kept.length > 0 && (
        <Typography sx={{ mb: 0.5 }}>
          To be kept: {kept.map(({ label, span }) => `${label} ${spanInWords(span, units)}`).join(', ')};{' '}
          {spare < 0
            ? `that is more than is free. Take ${spanInWords({ min: -spare, max: -spare }, units)} more sheath off.`
            : `${spanInWords({ min: spare, max: spare }, units)} to spare.`}
        </Typography>
      )}
      <Typography sx={{ mb: 1 }}>
        Bend no tighter than{' '}
        {end.bends
          .map(({ name: what, radius }) => `${spanInWords({ min: radius, max: radius }, units)} (${what})`)
          .join(', ')}
        .
      </Typography>
      <ScaleDrawing preparation={end} units={units} />
      <Box sx={{ mt: 1.5 }}>
        <PaperButtons
          strip={{
            name,
            marks: [
              ...end.layers.flatMap(({ name: layer, endsAt }) => [
                { at: endsAt.min * 1000, label: endsAt.min === endsAt.max ? layer : `${layer}, least` },
                ...(endsAt.min === endsAt.max ? [] : [{ at: endsAt.max * 1000, label: `${layer}, most` }]),
              ]),
              ...end.marks.map(({ name: mark, at }) => ({ at: at.max * 1000, label: mark })),
            ].filter(({ at }) => at > 0),
          }}
        />
      </Box>
    </>
  )
}
