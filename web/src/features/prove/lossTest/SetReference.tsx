import type { LossReferenceEntry } from '@cold-thread/contract'
import {
  LOW_BY,
  readMeter,
  REFERENCE_METHODS,
  REFERENCE_WORDS,
  USUAL_LEVEL,
  WARM_UP,
  type LoggedCheck,
  type ReferenceMethod,
} from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useEnter } from '../../../api/useEnter.ts'
import { Problem } from '../../../ui/Problem.tsx'
import { readNumber } from '../../../ui/readNumber.ts'
import { SelectField } from '../../../ui/SelectField.tsx'
import type { StageProps } from '../../callout/stageProps.ts'
import { coreOfLink, NOT_SAID, said, TEST_WAVELENGTHS, useInstruments } from './instruments.ts'
import { CordChooser } from './CordChooser.tsx'
import { CordField } from './CordField.tsx'
import { FromMeter } from './FromMeter.tsx'
import { TestSetDrawing } from './TestSetDrawing.tsx'
import type { StandInMeterProps } from './useSimulatedMeter.ts'

/** Cords, method and level: what every reading after it is held against. */
export function SetReference({
  callout,
  plant,
  link,
  first,
  checked,
  standIn,
}: Pick<StageProps, 'callout' | 'plant' | 'link'> & {
  first: boolean
  /** The last daily check: its instruments are the ones at hand. */
  checked: LoggedCheck | undefined
  standIn: StandInMeterProps
}) {
  const { enter, error, busy } = useEnter(callout.id)
  const sources = useInstruments('light source')
  const meters = useInstruments('power meter')
  const core = coreOfLink(plant, link)
  const { kind } = core
  const [method, setMethod] = useState<ReferenceMethod>('one-cord')
  const [wavelength, setWavelength] = useState<number>(TEST_WAVELENGTHS[kind][0])
  const [source, setSource] = useState<string | null>(null)
  const [meter, setMeter] = useState<string | null>(null)
  const [cords, setCords] = useState('')
  const [graded, setGraded] = useState(false)
  const [flux, setFlux] = useState(false)
  const [text, setText] = useState('')
  const [onFor, setOnFor] = useState('')
  const [open, setOpen] = useState(false)
  if (!open && !first)
    return (
      <Button onClick={() => setOpen(true)} sx={{ mt: 1.5, minHeight: 48 }}>
        Set another reference
      </Button>
    )
  const usedSource = source ?? checked?.source ?? NOT_SAID
  const usedMeter = meter ?? checked?.meter ?? NOT_SAID
  const read = readMeter(text, 'level')
  const level = read && 'level' in read ? read.level : null
  const minutes = readNumber(onFor)
  const badMinutes = onFor.trim() !== '' && (minutes === null || minutes < 0 || minutes > 100_000)
  const keep = async () => {
    const entry: LossReferenceEntry = {
      kind: 'loss-reference',
      method,
      wavelength,
      level: level!,
      source: said(usedSource),
      meter: said(usedMeter),
      cords: cords.trim(),
      referenceGrade: graded,
      encircledFlux: kind === 'single-mode' ? null : flux,
      sourceOn: minutes,
    }
    if (!(await enter(entry))) return
    setText('')
    setOpen(false)
  }
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault()
        void keep()
      }}
      sx={{ mt: 1.5 }}
    >
      <Typography variant="h3" sx={{ mb: 0.5 }}>
        Set the reference
      </Typography>
      <Typography sx={{ mb: 1 }}>
        {REFERENCE_WORDS[method].set[0]!.toUpperCase() + REFERENCE_WORDS[method].set.slice(1)}; every end inspected and
        clean, the source on for {WARM_UP} min, continuous, both at {wavelength} nm. A result counts{' '}
        {REFERENCE_WORDS[method].counts}.
      </Typography>
      <CordChooser plant={plant} link={link} />
      <TestSetDrawing method={method} ends={link.ends} />
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mt: 1.5, mb: 1 }}>
        <SelectField
          label="Method"
          value={method}
          onChoose={setMethod}
          sx={{ flex: '1 1 150px' }}
          options={REFERENCE_METHODS.map((one) => [one, one] as const)}
        />
        <SelectField
          label="Wavelength"
          value={wavelength}
          onChoose={setWavelength}
          sx={{ flex: '1 1 120px' }}
          options={TEST_WAVELENGTHS[kind].map((one) => [one, `${one} nm`] as const)}
        />
        <SelectField
          label="Source"
          value={usedSource}
          onChoose={setSource}
          sx={{ flex: '1 1 180px' }}
          options={sources}
        />
        <SelectField label="Meter" value={usedMeter} onChoose={setMeter} sx={{ flex: '1 1 180px' }} options={meters} />
        <CordField value={cords} core={core} onValue={setCords} />
      </Box>
      <FormControlLabel
        control={<Checkbox checked={graded} onChange={({ target }) => setGraded(target.checked)} />}
        label="Cords have reference-grade connectors"
        sx={{ minHeight: 44, mr: 3 }}
      />
      {kind === 'multimode' && (
        <FormControlLabel
          control={<Checkbox checked={flux} onChange={({ target }) => setFlux(target.checked)} />}
          label="Encircled-flux launch (IEC 61280-4-1)"
          sx={{ minHeight: 44 }}
        />
      )}
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'flex-start', mt: 1 }}>
        <TextField
          label="The meter shows, dBm"
          value={text}
          onChange={({ target }) => setText(target.value)}
          error={text.trim() !== '' && level === null}
          helperText={text.trim() !== '' && level === null ? 'a level: -10.2, -10,2 dBm or 95 µW' : ' '}
          slotProps={{ htmlInput: { maxLength: 20 }, input: { sx: { fontSize: 22 } } }}
          sx={{ flex: '1 1 200px', maxWidth: 300 }}
        />
        <TextField
          label="Source on for, min"
          value={onFor}
          onChange={({ target }) => setOnFor(target.value)}
          error={badMinutes}
          helperText={
            badMinutes
              ? 'minutes, or nothing'
              : minutes !== null && minutes < WARM_UP
                ? `${WARM_UP - minutes} min more: until then it drifts by tenths of a dB`
                : ' '
          }
          slotProps={{ htmlInput: { inputMode: 'decimal', maxLength: 8 } }}
          sx={{ flex: '1 1 150px', maxWidth: 240 }}
        />
        {standIn && (
          <FromMeter
            set={standIn.set}
            label="As the simulated meter shows it"
            what="The reference"
            loss={standIn.held(method)}
            onLevel={(found) => setText(found.toFixed(2))}
          />
        )}
        <Button
          type="submit"
          variant="contained"
          disabled={level === null || badMinutes || busy}
          sx={{ minHeight: 56 }}
        >
          Keep the reference
        </Button>
        {!first && <Button onClick={() => setOpen(false)}>Back</Button>}
      </Box>
      {level !== null && <LevelWord level={level} />}
      <Problem error={error} />
    </Box>
  )
}

/** Under the first a laser is low; from the second on it may be an LED. */
const LOW = USUAL_LEVEL.laser - LOW_BY
const LED = USUAL_LEVEL.LED + LOW_BY

/** What a low level may mean: a dirty port, a bad cord, another wavelength. */
function LevelWord({ level }: { level: number }) {
  if (level >= LOW) return null
  return (
    <Typography role="status">
      {level <= LED
        ? `Usual for an LED source (about ${USUAL_LEVEL.LED} dBm). From a laser it would be low: the wrong wavelength on the meter, the wrong leg of a duplex cord, or dirt.`
        : `Low for a laser source (about ${USUAL_LEVEL.laser} dBm): clean both ends and the ports, check that both are at one wavelength, then the other cord.`}
    </Typography>
  )
}
