import Box from '@mui/material/Box'
import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation } from '../../api/api.ts'
import { CsvButton } from '../../ui/CsvButton.tsx'
import { Problem } from '../../ui/Problem.tsx'
import type { StageProps } from '../callout/stageProps.ts'
import { readPowerCsv, type PowerReadings } from './powerCsv.ts'

/** Received powers from a table file: shown as they were understood, then used as evidence, each by itself. */
export function PowerFile({ callout, plant, link, onDone }: StageProps & { onDone(): void }) {
  const [file, setFile] = useState<{ name: string; read: PowerReadings; ids: string[] } | null>(null)
  const [add, { error, isLoading }] = useAddObservationMutation()
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const choose = async (chosen: File) => {
    const read = readPowerCsv(await chosen.text(), plant, link)
    setFile({ name: chosen.name, read, ids: (read.readings ?? []).map(() => uuidv7()) })
  }
  const use = async () => {
    for (const [k, evidence] of (file?.read.readings ?? []).entries()) {
      const { error: failed } = await add({
        calloutId: callout.id,
        id: file!.ids[k]!,
        observation: { entry: { kind: 'evidence', evidence }, observedAt: new Date().toISOString(), supersedes: null },
      })
      if (failed) return
    }
    onDone()
  }
  return (
    <Box sx={{ width: 1 }}>
      <CsvButton
        words="Read powers from a CSV file"
        label="CSV file of powers"
        variant="outlined"
        onFile={(chosen) => void choose(chosen)}
      />
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 0.5 }}>
        A row for each place, with the columns node, from, expected and measured (dBm).
      </Typography>
      {file?.read.problem && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {file.name}: {file.read.problem}. Nothing was taken from it.
        </Alert>
      )}
      {file?.read.readings && (
        <Box sx={{ mt: 1 }}>
          <Box component="ul" aria-label="Powers in the file" sx={{ pl: 2.5, m: 0 }}>
            {file.read.readings.map(({ node, from, expected, measured }, k) => (
              <li key={file.ids[k]}>
                {nameOf(node)}, from {nameOf(from === 'ab' ? link.from : link.to)}: {measured.toFixed(1)} dBm,{' '}
                {Math.abs(expected - measured) < 0.05
                  ? 'as expected'
                  : `${Math.abs(expected - measured).toFixed(1)} dB ${measured < expected ? 'too little' : 'more than expected'}`}
              </li>
            ))}
          </Box>
          <Button variant="contained" disabled={isLoading} onClick={() => void use()} sx={{ minHeight: 44, mt: 1 }}>
            {file.ids.length === 1 ? 'Use this reading' : `Use these ${file.ids.length} readings`}
          </Button>
        </Box>
      )}
      <Problem error={error} />
    </Box>
  )
}
