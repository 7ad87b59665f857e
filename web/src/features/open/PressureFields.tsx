import { judgePressure, type PressureTest, type RunSheet } from '@cold-thread/core/open'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useEffect, useState } from 'react'
import { Judgement, type Tone } from '../../ui/Judgement.tsx'
import { readNumber } from '../../ui/readNumber.ts'

const FIELDS = [
  ['startGauge', 'Gauge at the start, kPa', 1000],
  ['startTemperature', 'Temperature then, °C', 1],
  ['endGauge', 'Gauge at the end, kPa', 1000],
  ['endTemperature', 'Temperature at the end, °C', 1],
  ['minutes', 'Minutes between', 1],
  ['ambient', 'Air pressure, kPa', 1000],
] as const satisfies readonly (readonly [keyof PressureTest, string, number])[]

const TONE: Record<ReturnType<typeof judgePressure>['outcome'], Tone> = {
  holds: 'good',
  close: 'close',
  leaks: 'bad',
  'not a test': 'unknown',
}

/** A pressure test with its readings and the judgement on absolute pressure and kelvin. */
export function PressureFields({
  limit,
  onTest,
}: {
  limit: NonNullable<RunSheet['closure']>['pressure']
  onTest(test: PressureTest | null): void
}) {
  const [texts, setTexts] = useState<Record<string, string>>({ ambient: '101.3' })
  const [startedAt, setStartedAt] = useState<number | null>(null)
  const [now, setNow] = useState(() => Date.now())
  useEffect(() => {
    if (startedAt === null) return
    const timer = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(timer)
  }, [startedAt])
  if (limit === null)
    return (
      <Alert severity="error" variant="outlined" sx={{ mb: 1.5 }}>
        The closure’s record has no test pressure: no pressure test. Leave the step out with that reason, or have the
        figure of the maker’s sheet put on record.
      </Alert>
    )
  const change = (next: Record<string, string>) => {
    setTexts(next)
    onTest(readTest(next))
  }
  const test = readTest(texts)
  const judged = test && judgePressure(test, limit)
  const passed = startedAt === null ? null : Math.max(0, (now - startedAt) / 60_000)
  return (
    <Box sx={{ mb: 1.5 }}>
      <Typography sx={{ fontSize: 20, mb: 1 }}>
        To <strong>{limit.test / 1000} kPa</strong>, never above; {limit.minutes} minutes; {limit.mayLose / 1000} kPa
        may be lost.
      </Typography>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, mb: 1.5, flexWrap: 'wrap' }}>
        <Button
          variant="outlined"
          size="large"
          onClick={() => {
            setStartedAt(Date.now())
            setNow(Date.now())
          }}
        >
          {startedAt === null ? 'Start the clock' : 'Start it anew'}
        </Button>
        {passed !== null && (
          <>
            <Typography component="output" sx={{ fontSize: 22, fontVariantNumeric: 'tabular-nums' }}>
              {Math.floor(passed)}:{String(Math.floor((passed % 1) * 60)).padStart(2, '0')} of {limit.minutes} min
            </Typography>
            <Button onClick={() => change({ ...texts, minutes: passed.toFixed(1) })}>Take this time</Button>
          </>
        )}
      </Box>
      <Box sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr 1fr', sm: 'repeat(3, 220px)' } }}>
        {FIELDS.map(([key, label]) => (
          <TextField
            key={key}
            label={label}
            value={texts[key] ?? ''}
            onChange={({ target }) => change({ ...texts, [key]: target.value })}
            error={(texts[key] ?? '') !== '' && readNumber(texts[key]!) === null}
            slotProps={{ htmlInput: { inputMode: 'decimal' }, input: { sx: { fontSize: 20 } } }}
          />
        ))}
      </Box>
      {judged && (
        <Typography role="status" sx={{ mt: 1.5 }}>
          <Judgement tone={TONE[judged.outcome]} word={judged.outcome} />: {judged.reasons.join('; ')}.
        </Typography>
      )}
    </Box>
  )
}

function readTest(texts: Record<string, string>): PressureTest | null {
  const out: Partial<PressureTest> = {}
  for (const [key, , factor] of FIELDS) {
    const value = readNumber(texts[key] ?? '')
    if (value === null) return null
    out[key] = value * factor
  }
  const test = out as PressureTest
  // Readings that no gauge, thermometer or barometer on earth shows are typing errors: no judgement on them.
  const sane = test.minutes >= 0 && test.ambient >= 50_000 && test.ambient <= 120_000
  const warm = [test.startTemperature, test.endTemperature].every((value) => value >= -60 && value <= 80)
  const gauges = [test.startGauge, test.endGauge].every((value) => value > -test.ambient && value <= 1_000_000)
  return sane && warm && gauges ? test : null
}
