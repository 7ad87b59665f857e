import {
  checkedToday,
  judgeNext,
  readMeter,
  SOURCE_KINDS,
  type CheckWord,
  type LoggedCheck,
  type SourceCheck,
  type SourceKind,
} from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { Fragment, useState } from 'react'
import { useEnter } from '../../../api/useEnter.ts'
import { Judgement, type Tone } from '../../../ui/Judgement.tsx'
import { Problem } from '../../../ui/Problem.tsx'
import { SelectField } from '../../../ui/SelectField.tsx'
import { clock } from '../../../ui/time.ts'
import type { StageProps } from '../../callout/stageProps.ts'
import { CHECKED_WAVELENGTHS, coreOfLink, NOT_SAID, said, TEST_WAVELENGTHS, useInstruments } from './instruments.ts'

const TONES: Record<CheckWord, { tone: Tone; word: string }> = {
  good: { tone: 'good', word: 'Good' },
  'go on': { tone: 'unknown', word: 'Level as it should be' },
  low: { tone: 'bad', word: 'Low' },
  high: { tone: 'close', word: 'Too high' },
  'third bad': { tone: 'bad', word: 'Third cord or sleeve loses too much' },
  'to service': { tone: 'bad', word: 'Source or meter: to service' },
  'below zero': { tone: 'close', word: 'Below zero' },
}

/** What is checked, as it is chosen and typed. */
interface Things {
  kind: SourceKind
  source: string
  meter: string
  cord: string
  thirdCord: string
  sleeve: string
}

/** An instrument that was named before, where the kit still has it. */
function knownOf(id: string | null | undefined, options: readonly (readonly [string, string])[]): string {
  return id != null && options.some(([one]) => one === id) ? id : NOT_SAID
}

/** A check in a few words. */
function Looked({ check: { judgement, cord, wavelength, at, own } }: { check: LoggedCheck }) {
  return (
    <>
      <Judgement {...TONES[judgement.word]} /> {cord}, {wavelength} nm, {clock(at)}
      {!own && ', in another callout'}
    </>
  )
}

/** Source, cord and meter before anything is tested with them: level first, then the third cord. */
export function DailyCheck({
  callout,
  plant,
  link,
  checks,
}: Pick<StageProps, 'callout' | 'plant' | 'link'> & { checks: readonly LoggedCheck[] }) {
  const { enter, error, busy } = useEnter(callout.id)
  const sources = useInstruments('light source')
  const meters = useInstruments('power meter')
  const wavelengths = TEST_WAVELENGTHS[coreOfLink(plant, link).kind]
  const today = checkedToday(checks, CHECKED_WAVELENGTHS[coreOfLink(plant, link).kind], new Date())
  const missing = today.filter(({ last }) => last?.judgement.word !== 'good')
  const [chosen, setWavelength] = useState<number | null>(null)
  const wavelength = chosen ?? missing[0]?.wavelength ?? wavelengths[0]
  const last = checks.at(-1)
  const [typed, setTyped] = useState<Partial<Things>>({})
  // What was checked last is at hand: it need not be said again.
  const { kind, source, meter, cord, thirdCord, sleeve }: Things = {
    kind: last?.kind ?? 'laser',
    source: knownOf(last?.source, sources),
    meter: knownOf(last?.meter, meters),
    cord: last?.cord ?? '',
    thirdCord: last?.thirdCord ?? '',
    sleeve: last?.sleeve ?? '',
    ...typed,
  }
  const type = (some: Partial<Things>) => setTyped({ ...typed, ...some })
  const [level, setLevel] = useState('')
  const [third, setThird] = useState('')
  const [levelRead, thirdRead] = [readMeter(level, 'level'), readMeter(third, 'loss')]
  const dark = level.trim().toLowerCase() === 'low'
  const shown = dark ? 'low' : levelRead && 'level' in levelRead ? levelRead.level : null
  const lost = thirdRead && 'loss' in thirdRead ? thirdRead.loss : null
  const bad = [
    level.trim() !== '' && shown === null,
    third.trim() !== '' && (lost === null || lost < -5 || lost > 60),
  ] as const
  const check: SourceCheck | null =
    shown === null || bad[1]
      ? null
      : {
          source: said(source),
          meter: said(meter),
          cord: cord.trim(),
          wavelength,
          kind,
          level: shown,
          third: dark ? null : lost,
          thirdCord: thirdCord.trim(),
          sleeve: sleeve.trim(),
        }
  const judged = check && judgeNext(checks, check)
  const done = missing.length === 0
  const keep = async () => {
    if (!(await enter({ kind: 'source-check', check: check! }))) return
    setLevel('')
    setThird('')
    // The next wavelength that is still to be checked.
    if (judged?.word === 'good') setWavelength(null)
  }
  const figure = (label: string, value: string, set: (value: string) => void, isBad: boolean, help: string) => (
    <TextField
      label={label}
      value={value}
      onChange={({ target }) => set(target.value)}
      error={isBad}
      helperText={help}
      slotProps={{ htmlInput: { maxLength: 20 }, input: { sx: { fontSize: 22 } } }}
      sx={{ flex: '1 1 220px', maxWidth: 320 }}
    />
  )
  const named = (label: string, value: string, set: (value: string) => void) => (
    <TextField
      label={label}
      value={value}
      onChange={({ target }) => set(target.value)}
      slotProps={{ htmlInput: { maxLength: 200 } }}
      sx={{ flex: '1 1 150px' }}
    />
  )
  return (
    <Box component="details" open={!done} sx={{ mb: 1 }}>
      <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
        <strong>Daily check of source, cords and meter</strong>
        {': '}
        {last === undefined && 'not made yet'}
        {last !== undefined && today.every((one) => one.last === null) && (
          <>
            not made today; the last one: <Looked check={last} />
          </>
        )}
        {today.some((one) => one.last !== null) &&
          today.map((one, i) => (
            <Fragment key={one.wavelength}>
              {i > 0 && '; '}
              {one.last === null ? `${one.wavelength} nm not yet` : <Looked check={one.last} />}
            </Fragment>
          ))}
      </Box>
      <Box
        component="form"
        onSubmit={(event) => {
          event.preventDefault()
          void keep()
        }}
      >
        <Typography sx={{ mb: 1.5 }}>
          Caps off, ends inspected and clean. Source to meter through the cord; then zero the meter and put adapter and
          third cord in. Once at each wavelength that is tested at.
        </Typography>
        <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mb: 1.5 }}>
          <SelectField
            label="Source checked"
            value={source}
            onChoose={(one) => type({ source: one })}
            sx={{ flex: '1 1 170px' }}
            options={sources}
          />
          <SelectField
            label="It is a"
            value={kind}
            onChoose={(one) => type({ kind: one })}
            sx={{ flex: '1 1 100px' }}
            options={SOURCE_KINDS.map((one) => [one, one] as const)}
          />
          <SelectField
            label="Meter checked"
            value={meter}
            onChoose={(one) => type({ meter: one })}
            sx={{ flex: '1 1 170px' }}
            options={meters}
          />
          <SelectField
            label="Both set to"
            value={wavelength}
            onChoose={setWavelength}
            sx={{ flex: '1 1 110px' }}
            options={wavelengths.map((one) => [one, `${one} nm`] as const)}
          />
          {named('Cord', cord, (one) => type({ cord: one }))}
          {named('Third cord', thirdCord, (one) => type({ thirdCord: one }))}
          {named('Sleeve', sleeve, (one) => type({ sleeve: one }))}
        </Box>
        <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'flex-start' }}>
          {figure('Through the cord, dBm', level, setLevel, bad[0], 'a level, dBm or µW, or “low”')}
          {figure('Zeroed, through the third cord, dB', third, setThird, bad[1], 'a loss, once the level is right')}
          <Button type="submit" variant="outlined" disabled={check === null || busy} sx={{ minHeight: 56 }}>
            Keep the check
          </Button>
        </Box>
        {judged && (
          <Box role="status" sx={{ mt: 0.5 }}>
            <Judgement {...TONES[judged.word]} large />
            <Typography>{judged.reasons.join('; ')}.</Typography>
            <Typography>
              <strong>Next:</strong> {judged.next}
            </Typography>
          </Box>
        )}
        <Problem error={error} />
      </Box>
    </Box>
  )
}
