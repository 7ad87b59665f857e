import {
  fibersOf,
  judgeTraceReadings,
  sidesOf,
  tracedSplices,
  type TraceAdvice,
  type TracedSplice,
  type TraceReading,
} from '@cold-thread/core/join'
import type { PlantBundle } from '@cold-thread/core/plant'
import type { RuleBook } from '@cold-thread/core/prove'
import { metres } from '@cold-thread/core/units'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useMemo, useState } from 'react'
import { useEnter } from '../../api/useEnter.ts'
import type { LoggedObservation } from '../../field/waitingEntries.ts'
import { Judgement, type Tone } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { readNumber } from '../../ui/readNumber.ts'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import type { StageProps } from '../callout/stageProps.ts'

const WAVELENGTHS = [850, 1300, 1310, 1490, 1550, 1625, 1650] as const
const ADVICE: Record<TraceAdvice, { tone: Tone; word: string }> = {
  accept: { tone: 'good', word: 'Good both ways' },
  close: { tone: 'close', word: 'Close' },
  wait: { tone: 'unknown', word: 'Wait for the other way' },
  doubt: { tone: 'close', word: 'Shoot again' },
  redo: { tone: 'bad', word: 'Redo' },
}

/** Steps that somebody reads off traces of the splices: what one way alone can say, and what both ways say. */
export function TraceReadings({
  callout,
  plant,
  working,
  log,
  rules,
}: Pick<StageProps, 'callout' | 'plant'> & { working: boolean; log: readonly LoggedObservation[]; rules: RuleBook }) {
  const { enter, error, busy } = useEnter(callout.id)
  const splices = useMemo(() => tracedSplices(plant, log), [plant, log])
  const [chosen, setChosen] = useState<string | null>(null)
  const [way, setWay] = useState<TraceReading['way']>('ab')
  const [wavelength, setWavelength] = useState<number>(1550)
  const [text, setText] = useState('')
  const splice = splices.find((one) => idOf(one) === chosen) ?? splices.at(-1)
  if (!splice) return null
  const loss = readNumber(text)
  const bad = text.trim() !== '' && (loss === null || loss < -5 || loss > 20)
  const sides = sidesOf(plant, splice.a, splice.b)
  const judge = (one: TracedSplice, readings: readonly TraceReading[]) =>
    judgeTraceReadings(readings, fibersOf(plant, one.a, one.b), rules)
  const judged = loss === null || bad ? null : judge(splice, [...splice.readings, { way, wavelength, loss }])
  const save = async () => {
    const { node, chainage, a } = splice
    const done = await enter({ kind: 'trace-reading', node, chainage, ...a, way, wavelength, loss: loss! })
    if (!done) return
    setText('')
    // What is asked for next is the way back.
    setWay(way === 'ab' ? 'ba' : 'ab')
  }
  const read = splices.flatMap((one) => {
    const judgement = judge(one, one.readings)
    return judgement ? [{ one, judgement }] : []
  })
  const waiting = read.filter(({ judgement }) => judgement.advice === 'wait').length
  return (
    <Section
      title={`Splices on traces${waiting > 0 ? `: ${waiting} wait${waiting === 1 ? 's' : ''} for the other way` : ''}`}
    >
      {working && (
        <Box
          component="form"
          onSubmit={(event) => {
            event.preventDefault()
            void save()
          }}
        >
          <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mb: 1.5 }}>
            <SelectField
              label="Splice"
              value={idOf(splice)}
              onChoose={setChosen}
              sx={{ flex: '2 1 220px' }}
              options={splices.map((one) => [idOf(one), wordsOf(plant, one)] as const)}
            />
            <SelectField
              label="The light came"
              value={way}
              onChoose={setWay}
              sx={{ flex: '2 1 220px' }}
              options={[
                ['ab', `through ${sides.a}`],
                ['ba', `through ${sides.b}`],
              ]}
            />
            <SelectField
              label="At"
              value={wavelength}
              onChoose={setWavelength}
              sx={{ flex: '1 1 110px' }}
              options={WAVELENGTHS.map((one) => [one, `${one} nm`] as const)}
            />
            <TextField
              label="Loss on the trace, dB"
              value={text}
              onChange={({ target }) => setText(target.value)}
              error={bad}
              helperText={bad ? 'a loss from -5 to 20 dB' : 'below zero where it seems to gain'}
              slotProps={{ htmlInput: { inputMode: 'text', maxLength: 8 } }}
              sx={{ flex: '1 1 150px' }}
            />
          </Box>
          {judged && (
            <Box role="status" sx={{ mb: 1.5 }}>
              <Judgement {...ADVICE[judged.advice]} large />
              {judged.reasons.map((reason) => (
                <Typography key={reason}>{reason}.</Typography>
              ))}
            </Box>
          )}
          <Button type="submit" variant="outlined" disabled={loss === null || bad || busy} sx={{ minHeight: 56 }}>
            Keep the reading
          </Button>
          <Problem error={error} />
        </Box>
      )}
      {read.length > 0 && (
        <Box component="ul" sx={{ listStyle: 'none', p: 0, mt: 2, mb: 0 }} aria-label="Splices with trace readings">
          {read
            .toSorted((x, y) => FIRST.indexOf(x.judgement.advice) - FIRST.indexOf(y.judgement.advice))
            .map(({ one, judgement }) => (
              <Box component="li" key={idOf(one)} sx={{ borderTop: 1, borderColor: 'divider', py: 1 }}>
                <Typography>
                  <strong>{wordsOf(plant, one)}</strong> <Judgement {...ADVICE[judgement.advice]} />
                </Typography>
                {judgement.reasons.map((reason) => (
                  <Typography key={reason} sx={{ fontSize: 14 }}>
                    {reason}
                  </Typography>
                ))}
              </Box>
            ))}
        </Box>
      )}
    </Section>
  )
}

/** What wants a hand comes first. */
const FIRST: readonly TraceAdvice[] = ['redo', 'doubt', 'wait', 'close', 'accept']

function idOf({ node, chainage, a }: TracedSplice): string {
  return JSON.stringify([node, chainage, a.cable, a.fiber])
}

function wordsOf(plant: PlantBundle, { node, chainage, a, b }: TracedSplice): string {
  const place = node === null ? metres(chainage) : (plant.nodes.find(({ id }) => id === node)?.name ?? node)
  return `${place}, ${a.cable} ${a.fiber}${b && b.cable !== a.cable ? ` to ${b.cable} ${b.fiber}` : ''}`
}
