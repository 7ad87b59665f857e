import type { SpliceEntry } from '@cold-thread/contract'
import { placeOfFiber, whyNotFound } from '@cold-thread/core/fiber'
import { judgeSplice } from '@cold-thread/core/join'
import { ruleBook } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Link from '@mui/material/Link'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Link as RouterLink } from 'react-router'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation } from '../../api/api.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import { FiberWords } from '../fibers/FiberWords.tsx'
import type { StageProps } from '../callout/stageProps.ts'
import { useSites } from './sites.ts'
import { FELT, OUTCOMES, TONES, WORDS } from './spliceWords.ts'

const RULES = ruleBook('standard')
/** One attempt at a splice: the place and the fiber come from Locate and the records, the judgement from the rule book. */
export function SpliceForm({ callout, plant, link, splices }: StageProps & { splices: SpliceEntry[] }) {
  const { sites, locating } = useSites({ callout, plant, link })
  const [chosen, setChosen] = useState<string | null>(null)
  const [estimate, setEstimate] = useState('')
  const [left, setLeft] = useState('')
  const [right, setRight] = useState('')
  const [remark, setRemark] = useState('')
  const [entryId, setEntryId] = useState(() => uuidv7())
  const [add, { error, isLoading }] = useAddObservationMutation()
  const site = sites.find((candidate) => candidate.key === chosen) ?? sites[0]
  if (!site) return null
  // The place would change under the finger when the fault has been located.
  const unplaced = locating && chosen === null
  const earlier = splices.filter(
    (entry) =>
      entry.node === site.node &&
      entry.cable === site.cable &&
      entry.fiber === site.fiber &&
      (site.node !== null || entry.chainage === site.chainage),
  )
  const attempt = { estimate: figure(estimate), cleaveLeft: figure(left), cleaveRight: figure(right) }
  const entered = attempt.estimate !== null || attempt.cleaveLeft !== null || attempt.cleaveRight !== null
  const judgement = judgeSplice(attempt, earlier, RULES)

  const log = async (outcome: SpliceEntry['outcome']) => {
    const { node, chainage, cable, fiber } = site
    const entry = {
      kind: 'splice' as const,
      node,
      chainage,
      cable,
      fiber,
      attempt: earlier.length + 1,
      ...attempt,
      outcome,
      remark,
    }
    const { error: failed } = await add({
      calloutId: callout.id,
      id: entryId,
      observation: { entry, observedAt: new Date().toISOString(), supersedes: null },
    })
    if (failed) return
    navigator.vibrate?.(FELT[outcome])
    setEntryId(uuidv7())
    setEstimate('')
    setLeft('')
    setRight('')
    setRemark('')
  }
  const number = (label: string, value: string, set: (value: string) => void) => (
    <TextField
      label={label}
      value={value}
      onChange={(event) => set(event.target.value.replace(',', '.'))}
      inputMode="decimal"
      error={value !== '' && figure(value) === null}
      sx={{ width: { xs: '100%', sm: 170 } }}
    />
  )

  return (
    <Section title={`Splice, attempt ${earlier.length + 1}`}>
      <Box sx={{ display: 'grid', gap: 2 }}>
        <SelectField
          label="Where"
          value={site.key}
          onChoose={setChosen}
          fullWidth
          helperText={unplaced ? 'the fault is still being located' : undefined}
          options={sites.map(({ key, label }) => [key, label] as const)}
        />
        <FiberColors plant={plant} cable={site.cable} fiber={site.fiber} />
        <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap' }}>
          {number('Estimated loss, dB', estimate, setEstimate)}
          {number('Left cleave, °', left, setLeft)}
          {number('Right cleave, °', right, setRight)}
          <TextField
            label="Remark"
            value={remark}
            onChange={(event) => setRemark(event.target.value)}
            sx={{ flex: 1, minWidth: 180 }}
          />
        </Box>
        {entered && (
          <Box role="status">
            <Judgement tone={TONES[judgement.advice]} word={WORDS[judgement.advice]} large />
            <Typography>{judgement.reasons.join('; ')}</Typography>
          </Box>
        )}
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
          <Button
            variant="contained"
            size="large"
            disabled={!entered || isLoading || unplaced}
            onClick={() => void log(OUTCOMES[judgement.advice])}
          >
            Log: {OUTCOMES[judgement.advice]}
          </Button>
          {judgement.advice !== 'accept' && (
            <Button
              variant="outlined"
              size="large"
              disabled={!entered || isLoading || unplaced || remark.trim() === ''}
              onClick={() => void log('accepted')}
            >
              Accept all the same (remark needed)
            </Button>
          )}
        </Box>
        <Problem error={error} />
        <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
          Sleeve on first. The splicer’s figure is an estimate: the two-way trace decides. Splice at the surface, never
          near fuel gas. Every shard into the closed bin.
        </Typography>
      </Box>
    </Section>
  )
}

function figure(text: string): number | null {
  const value = Number(text)
  return text.trim() === '' || !Number.isFinite(value) ? null : value
}

/** Which fiber to take: its tube, ribbon and colours, by the cable's record. */
export function FiberColors({ plant, cable, fiber }: { plant: StageProps['plant']; cable: string; fiber: number }) {
  const record = plant.cables.find((candidate) => candidate.id === cable)
  if (!record || fiber > record.fiberCount) return null
  const why = whyNotFound(record)
  return (
    <Typography sx={{ fontSize: why === null ? '1.25rem' : undefined }}>
      {cable} fiber {fiber}:{' '}
      {why ?? (
        <>
          <FiberWords place={placeOfFiber(record, fiber)} />{' '}
          <Box component="span" sx={{ fontSize: 14, color: 'text.secondary' }}>
            {record.colorOrder}
          </Box>{' '}
          <Link
            component={RouterLink}
            to={`/fibers?cable=${encodeURIComponent(cable)}&fiber=${fiber}`}
            sx={{ fontSize: 14 }}
          >
            Fiber finder
          </Link>
        </>
      )}
    </Typography>
  )
}
