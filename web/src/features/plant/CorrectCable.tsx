import { placeInWords, placeOfFiber, whyNotFound } from '@cold-thread/core/fiber'
import { CONSTRUCTION_WORDS, constructionWord } from '@cold-thread/core/open'
import { correctionInWords, type Cable, type CableCorrection } from '@cold-thread/core/plant'
import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import FormControlLabel from '@mui/material/FormControlLabel'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useCorrectRecordMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { readNumber } from '../../ui/readNumber.ts'
import { SelectField } from '../../ui/SelectField.tsx'

const TICKS = [
  ['armored', 'Armored'],
  ['doubleJacket', 'Second jacket'],
  ['strengthMember', 'Strength member to hold'],
  ['metallic', 'Copper, tracer wire or messenger'],
] as const

/** The first fiber that a change gives another place, in words; null where all keep theirs. */
function firstMoved(before: Cable, after: Cable): string | null {
  if (whyNotFound(before) !== null || whyNotFound(after) !== null || after.tubeSize > after.fiberCount) return null
  for (let fiber = 1; fiber <= Math.min(before.fiberCount, after.fiberCount); fiber++) {
    const [was, is] = [before, after].map((cable) => placeInWords(placeOfFiber(cable, fiber)))
    if (was !== is) return `fiber ${fiber} is ${was} on record, and would be ${is}`
  }
  return null
}

/** A cable's record put right, or let stand, with the reason: what changes is told before it is kept. */
export function CorrectCable({
  cable,
  changes: found,
  reason: given,
  stands,
  version,
  onClose,
}: {
  cable: Cable
  changes: CableCorrection
  reason: string
  /** Only that it was looked at is kept. */
  stands: boolean
  version: number
  onClose(): void
}) {
  const start = { ...cable, ...found }
  const [texts, setTexts] = useState({
    fiberCount: String(start.fiberCount),
    tubeSize: String(start.tubeSize),
    diameter: start.outerDiameter === undefined ? '' : String(Number((start.outerDiameter * 1000).toFixed(2))),
  })
  const [construction, setConstruction] = useState(start.construction)
  const [ticks, setTicks] = useState<CableCorrection>(
    Object.fromEntries(TICKS.flatMap(([field]) => (start[field] === undefined ? [] : [[field, start[field]]]))),
  )
  const [reason, setReason] = useState(stands ? '' : given)
  const [tried, setTried] = useState(false)
  const [save, { error, isLoading }] = useCorrectRecordMutation()
  const whole = (text: string, most: number) => {
    const value = readNumber(text)
    return value !== null && Number.isInteger(value) && value >= 1 && value <= most ? value : null
  }
  const fiberCount = whole(texts.fiberCount, 10_000)
  const tubeSize = whole(texts.tubeSize, 1000)
  const millimetres = texts.diameter.trim() === '' ? undefined : readNumber(texts.diameter)
  const badDiameter = millimetres === null || (millimetres !== undefined && (millimetres < 1 || millimetres > 200))
  const changes: CableCorrection = stands
    ? {}
    : {
        ...ticks,
        construction,
        ...(fiberCount === null ? {} : { fiberCount }),
        ...(tubeSize === null ? {} : { tubeSize }),
        ...(badDiameter || millimetres === undefined ? {} : { outerDiameter: Number((millimetres / 1000).toFixed(6)) }),
      }
  const words = correctionInWords(cable, changes)
  const moved = firstMoved(cable, { ...cable, ...changes })
  const faults = [
    ...(stands || fiberCount !== null ? [] : ['fibers: a whole number from 1 to 10000']),
    ...(stands || tubeSize !== null ? [] : ['to a tube: a whole number from 1 to 1000']),
    ...(badDiameter ? ['outer diameter: from 1 to 200 mm'] : []),
    ...(stands || words.length > 0 ? [] : ['nothing is changed']),
    ...(reason.trim().length < 3 ? ['say why'] : []),
  ]
  const submit = async () => {
    setTried(true)
    if (faults.length > 0) return
    // Only what differs: a field that nobody touched stays as it is on record, also where it is not there.
    const differing = Object.fromEntries(
      Object.entries(changes).filter(([field, value]) => cable[field as keyof CableCorrection] !== value),
    )
    const { error: failed } = await save({ cable: cable.id, changes: differing, reason: reason.trim(), version })
    if (!failed) onClose()
  }
  const figure = (field: keyof typeof texts, label: string) => (
    <TextField
      label={label}
      value={texts[field]}
      onChange={({ target }) => setTexts({ ...texts, [field]: target.value })}
      slotProps={{ htmlInput: { inputMode: 'decimal', maxLength: 12 } }}
      fullWidth
      sx={{ mt: 2 }}
    />
  )
  return (
    <Dialog open onClose={onClose} aria-labelledby="correct-cable" fullWidth maxWidth="xs">
      <form
        noValidate
        onSubmit={(event) => {
          event.preventDefault()
          void submit()
        }}
      >
        <DialogTitle id="correct-cable">
          {stands ? `The record of ${cable.id} stands` : `Correct the record of ${cable.id}`}
        </DialogTitle>
        <DialogContent>
          {!stands && (
            <>
              {figure('fiberCount', 'Fibers')}
              {figure('tubeSize', 'Fibers to a tube, module or bundle')}
              <SelectField
                label="Construction"
                value={construction}
                onChoose={setConstruction}
                fullWidth
                sx={{ mt: 2 }}
                options={[...new Set([cable.construction, ...Object.keys(CONSTRUCTION_WORDS)])].map(
                  (one) => [one, constructionWord(one)] as const,
                )}
              />
              {figure('diameter', 'Outer diameter, mm')}
              {TICKS.map(([field, label]) => (
                <FormControlLabel
                  key={field}
                  control={
                    <Checkbox
                      checked={ticks[field] ?? false}
                      indeterminate={ticks[field] === undefined}
                      onChange={({ target }) => setTicks({ ...ticks, [field]: target.checked })}
                    />
                  }
                  label={ticks[field] === undefined ? `${label}: not on record` : label}
                  sx={{ display: 'flex', minHeight: 44 }}
                />
              ))}
            </>
          )}
          <TextField
            label="Reason"
            value={reason}
            onChange={({ target }) => setReason(target.value)}
            slotProps={{ htmlInput: { maxLength: 1000 } }}
            fullWidth
            multiline
            sx={{ mt: 2 }}
          />
          {moved && (
            <Alert severity="warning" variant="outlined" sx={{ mt: 1.5 }}>
              Numbers then mean other fibers: {moved}. Splices and links on record go by these numbers.
            </Alert>
          )}
          {words.length > 0 && <Typography sx={{ mt: 1.5 }}>Will say: {words.join('; ')}.</Typography>}
          <Problem error={error ?? (tried && faults.length > 0 ? { message: `${faults.join('; ')}.` } : undefined)} />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Back</Button>
          <Button type="submit" variant="contained" disabled={isLoading}>
            {stands ? 'Let it stand' : 'Correct it'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
