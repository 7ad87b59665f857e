import type { Conditions, SessionState } from '@cold-thread/core/join'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Paper from '@mui/material/Paper'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Problem } from '../../ui/Problem.tsx'
import { ConditionFields, conditionTexts, readConditions } from './ConditionFields.tsx'
import { askCalibration, askConditions, type Splicer } from './splicer.ts'

/** The arc is calibrated before anything is spliced, with single-mode fiber, until it is accepted. */
export function ArcCalibration({
  state,
  splicer,
  multimode,
  busy,
  onCalibrated,
}: {
  state: SessionState
  splicer: Splicer
  /** Multimode will be spliced: its fiber is not the one to calibrate with. */
  multimode: boolean
  busy: boolean
  onCalibrated(
    outcome: 'accepted' | 'refused',
    fiber: 'single-mode' | 'multimode',
    conditions: Conditions,
  ): Promise<unknown>
}) {
  const [asking, setAsking] = useState(false)
  const [error, setError] = useState<unknown>(null)
  const [texts, setTexts] = useState<Partial<Record<keyof Conditions, string>>>({})
  const conditions = readConditions(texts)
  const run = async () => {
    setError(null)
    setAsking(true)
    try {
      await onCalibrated(await askCalibration(splicer, 'single-mode'), 'single-mode', conditions!)
    } catch (problem) {
      setError(problem)
    } finally {
      setAsking(false)
    }
  }
  const readSensors = async () => {
    setError(null)
    setAsking(true)
    try {
      setTexts(conditionTexts(await askConditions(splicer)))
    } catch (problem) {
      setError(problem)
    } finally {
      setAsking(false)
    }
  }
  const still = busy || asking || conditions === null
  const byHand = (label: string, outcome: 'accepted' | 'refused', fiber: 'single-mode' | 'multimode') => (
    <Button
      size="large"
      variant="outlined"
      disabled={still}
      onClick={() => void onCalibrated(outcome, fiber, conditions!)}
      sx={{ minHeight: 56 }}
    >
      {label}
    </Button>
  )
  return (
    <Paper
      component="section"
      aria-label="Arc calibration"
      sx={{ p: { xs: 1.5, sm: 2.5 }, mb: 2, border: 2, borderColor: 'warning.main' }}
    >
      <Typography sx={{ fontSize: { xs: '1.3rem', sm: '1.5rem' }, fontWeight: 600 }}>Calibrate the arc</Typography>
      {state.demands.map((why) => (
        <Typography key={why} sx={{ mb: 0.5 }}>
          {why[0]!.toUpperCase() + why.slice(1)}.
        </Typography>
      ))}
      <Typography sx={{ mb: 1 }}>
        With single-mode fiber{multimode ? ', also where multimode will be spliced' : ''}. Two fresh ends, cleaved;
        again until it is accepted.
      </Typography>
      {state.advice && (
        <Alert severity="warning" variant="outlined" sx={{ mb: 1.5 }}>
          {state.advice}.
        </Alert>
      )}
      <Box component="details" sx={{ mb: 1 }}>
        <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
          Altitude and weather now
        </Box>
        <ConditionFields texts={texts} onTexts={setTexts} />
        <Button disabled={busy || asking} onClick={() => void readSensors()} sx={{ minHeight: 44 }}>
          As the simulated splicer shows them
        </Button>
      </Box>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button
          variant="contained"
          size="large"
          disabled={still}
          onClick={() => void run()}
          sx={{ minHeight: 64, flex: '2 1 220px' }}
        >
          {asking ? 'Calibrating' : 'Calibrate on the simulated splicer'}
        </Button>
        {byHand('It was accepted', 'accepted', 'single-mode')}
        {byHand('It was refused', 'refused', 'single-mode')}
        {byHand('It was done with multimode', 'refused', 'multimode')}
      </Box>
      <Problem error={error} />
    </Paper>
  )
}
