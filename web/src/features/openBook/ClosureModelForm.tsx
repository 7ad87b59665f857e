import {
  CLOSURE_WORDS,
  KINDS_WITH_SHEETS,
  LENGTH_RULES,
  plainDome,
  type ClosureKind,
  type ClosureModel,
  type Port,
} from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { readNumber } from '../../ui/readNumber.ts'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import { FormEnd } from './FormEnd.tsx'

/** A closure nothing is known of yet but six ports by habit. */
export function emptyModel(): ClosureModel {
  return { ...plainDome(''), source: '' }
}

/** Lengths that a closure's own table may give. */
const TABLE_LENGTHS = ['sheath', 'strength-member', 'aramid', 'basket-slack', 'tray-slack'] as const

/** Fields of figures, as they are called on the page. */
const LABELS: Readonly<Record<string, string>> = {
  bushing: 'Bushing below, mm',
  trays: 'Trays',
  splices: 'Splices on one',
  groups: 'Tubes to one',
  radius: 'Fiber stored at, mm',
  pressure: 'Gauge pressure, kPa',
  minutes: 'Minutes',
  lose: 'May be lost, kPa',
  ...Object.fromEntries(
    TABLE_LENGTHS.flatMap((id) => [
      [`${id}-min`, `${labelOf(id)}, least`],
      [`${id}-max`, `${labelOf(id)}, most`],
    ]),
  ),
}

const show = (value: number | null | undefined, factor: number) =>
  value === null || value === undefined ? '' : String(Number((value * factor).toFixed(4)))

/** A closure's sheet, as its maker has it; what is left empty is not known, and is not guessed. */
export function ClosureModelForm({
  model,
  taken,
  busy,
  onSave,
  onCancel,
}: {
  model: ClosureModel
  taken: readonly string[]
  busy: boolean
  onSave(model: ClosureModel): void
  onCancel(): void
}) {
  const [name, setName] = useState(model.model)
  const [kind, setKind] = useState<ClosureKind>(model.kind)
  const [source, setSource] = useState(model.source)
  const [ports, setPorts] = useState(
    model.ports.map(({ port, habit, least, most }) => ({
      port,
      habit,
      least: show(least, 1000),
      most: show(most, 1000),
    })),
  )
  const [texts, setTexts] = useState<Record<string, string>>({
    bushing: show(model.bushingBelow, 1000),
    trays: show(model.trays?.count, 1),
    splices: show(model.trays?.splices, 1),
    groups: show(model.trays?.groups, 1),
    radius: show(model.storingRadius, 1000),
    pressure: show(model.pressure?.test, 0.001),
    minutes: show(model.pressure?.minutes, 1),
    lose: show(model.pressure?.mayLose, 0.001),
    ...Object.fromEntries(
      TABLE_LENGTHS.flatMap((id) => [
        [`${id}-min`, show(model.lengths[id]?.min, 1000)],
        [`${id}-max`, show(model.lengths[id]?.max, 1000)],
      ]),
    ),
  })
  const [problem, setProblem] = useState<string | null>(null)
  const number = (key: string) => readNumber(texts[key] ?? '')
  const submit = () => {
    const read = readModel()
    if (typeof read === 'string') return setProblem(read)
    setProblem(null)
    onSave(read)
  }
  const readModel = (): ClosureModel | string => {
    if (name.trim() === '') return 'The closure’s name is missing.'
    if (name.trim() !== model.model && taken.includes(name.trim())) return `“${name.trim()}” is there already.`
    if (source.trim() === '') return 'Say where the figures come from.'
    for (const [key, text] of Object.entries(texts))
      if (text.trim() !== '' && (readNumber(text) === null || readNumber(text)! <= 0))
        return `${LABELS[key]}: “${text}” is not a figure above 0.`
    const outPorts: Port[] = []
    for (const { port, habit, least, most } of ports) {
      const [a, b] = [readNumber(least), readNumber(most)]
      if ((least.trim() !== '' && a === null) || (most.trim() !== '' && b === null))
        return `Port ${port}: not a diameter.`
      if (a !== null && b !== null && a > b) return `Port ${port}: the least diameter is above the most.`
      outPorts.push({ port, habit, least: a === null ? null : a / 1000, most: b === null ? null : b / 1000 })
    }
    const lengths: ClosureModel['lengths'] = {}
    for (const id of TABLE_LENGTHS) {
      const [a, b] = [number(`${id}-min`), number(`${id}-max`)]
      if (a === null && b === null) continue
      const [min, max] = [(a ?? b!) / 1000, (b ?? a!) / 1000]
      if (min > max) return `${labelOf(id)}: the least is above the most.`
      lengths[id] = { min, max }
    }
    const trays = [number('trays'), number('splices'), number('groups')] as const
    if (trays.some((one) => one !== null) && trays.some((one) => one === null))
      return 'Trays: their number, splices on one and tubes to one belong together.'
    const test = [number('pressure'), number('minutes'), number('lose')] as const
    if (test.some((one) => one !== null) && test.some((one) => one === null))
      return 'Pressure test: pressure, minutes and what may be lost belong together.'
    return {
      model: name.trim(),
      kind,
      ports: kind === 'gel-dome' ? outPorts : [],
      bushingBelow: number('bushing') === null ? null : number('bushing')! / 1000,
      trays: trays[0] === null ? null : { count: trays[0], splices: trays[1]!, groups: trays[2]! },
      lengths,
      storingRadius: number('radius') === null ? null : number('radius')! / 1000,
      pressure: test[0] === null ? null : { test: test[0] * 1000, minutes: test[1]!, mayLose: test[2]! * 1000 },
      source: source.trim(),
    }
  }
  const field = (key: string, width = 200, label = LABELS[key]) => (
    <TextField
      key={key}
      label={label}
      value={texts[key] ?? ''}
      onChange={({ target }) => setTexts({ ...texts, [key]: target.value })}
      slotProps={{ htmlInput: { inputMode: 'decimal' } }}
      sx={{ width }}
    />
  )
  const row = { display: 'flex', gap: 2, flexWrap: 'wrap', mb: 2 } as const
  return (
    <Section title={model.model === '' ? 'A closure’s sheet' : model.model}>
      <Box sx={{ ...row, mt: 1 }}>
        <TextField
          label="Name, as in the plant record"
          value={name}
          onChange={({ target }) => setName(target.value)}
          sx={{ width: 320 }}
        />
        <SelectField
          label="Kind"
          value={kind}
          onChoose={setKind}
          sx={{ width: 320 }}
          options={KINDS_WITH_SHEETS.map((one) => [one, CLOSURE_WORDS[one]] as const)}
        />
        <TextField
          label="Where the figures come from"
          value={source}
          onChange={({ target }) => setSource(target.value)}
          sx={{ width: 320 }}
        />
      </Box>
      {kind === 'gel-dome' && (
        <>
          <Typography variant="h3">Ports: cable diameters that they seal, mm</Typography>
          <Box sx={{ ...row, mt: 1 }}>
            {ports.map((port, i) => (
              <Box key={port.port} sx={{ display: 'flex', gap: 0.5, alignItems: 'center' }}>
                <Typography sx={{ width: 20 }}>{port.port}</Typography>
                {(['least', 'most'] as const).map((end) => (
                  <TextField
                    key={end}
                    size="small"
                    label={`Port ${port.port}, ${end}`}
                    value={port[end]}
                    onChange={({ target }) =>
                      setPorts(ports.map((one, at) => (at === i ? { ...one, [end]: target.value } : one)))
                    }
                    slotProps={{ htmlInput: { inputMode: 'decimal' } }}
                    sx={{ width: 120 }}
                  />
                ))}
              </Box>
            ))}
          </Box>
          <Box sx={row}>{field('bushing')}</Box>
          <Typography variant="h3">Pressure test, by its own sheet only</Typography>
          <Box sx={{ ...row, mt: 1 }}>
            {field('pressure')}
            {field('minutes')}
            {field('lose')}
          </Box>
        </>
      )}
      <Typography variant="h3">Trays</Typography>
      <Box sx={{ ...row, mt: 1 }}>
        {field('trays')}
        {field('splices')}
        {field('groups')}
        {field('radius')}
      </Box>
      <Typography variant="h3">Lengths, mm, least and most</Typography>
      <Box sx={{ ...row, mt: 1 }}>
        {TABLE_LENGTHS.map((id) => (
          <Box key={id} sx={{ display: 'flex', gap: 0.5 }}>
            {field(`${id}-min`, 190)}
            {field(`${id}-max`, 90, 'most')}
          </Box>
        ))}
      </Box>
      <FormEnd problem={problem} busy={busy} onSave={submit} onCancel={onCancel} />
    </Section>
  )
}

function labelOf(id: (typeof TABLE_LENGTHS)[number]): string {
  return LENGTH_RULES.find((rule) => rule.id === id)!.label
}
