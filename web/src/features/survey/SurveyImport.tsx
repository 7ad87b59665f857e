import type { SurveyRole } from '@cold-thread/contract'
import type { Direction } from '@cold-thread/core/plant'
import { matchFibers, type FileFacts, type FileMatch } from '@cold-thread/core/survey'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useRef, useState, type DragEvent } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { api, useUploadSurveyTraceMutation } from '../../api/api.ts'
import { errorText } from '../../api/errorText.ts'
import { useAppDispatch } from '../../app/store.ts'
import { CordFields, cordsOfShot, type Cords } from '../../ui/CordFields.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { TracePicker } from '../../ui/TracePicker.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import { workers } from '../../worker/workers.ts'
import type { CableProps } from './CableShell.tsx'

/** Files sent at a time: two are read by the server while the others travel. */
const AT_A_TIME = 4
/** Doubtful files shown at once; the rest follow when these are settled. */
const SHOWN = 40

interface Row extends FileMatch {
  file: File
}

const TITLES: Record<SurveyRole, readonly [string, string]> = {
  present: ['Traces of this cable', 'More traces of this cable'],
  after: ['Traces after the repair', 'More traces after the repair'],
}

type Step =
  | { name: 'choose' }
  | { name: 'reading'; done: number; of: number }
  | { name: 'preview'; rows: Row[]; refused: string[] }
  | { name: 'sending'; done: number; of: number }
  | { name: 'done'; sent: number; of: number; refused: string[] }

/** Many trace files at once: matched to fibers, shown before anything is sent, sent with progress. */
export function SurveyImport({
  callout,
  plant,
  link,
  cable,
  role,
  begun,
}: CableProps & { role: SurveyRole; begun: boolean }) {
  const [step, setStep] = useState<Step>({ name: 'choose' })
  const [direction, setDirection] = useState<Direction>('ab')
  const [cords, setCords] = useState<Cords>({
    from: String(link.launchCord ?? ''),
    to: String(link.receiveCord ?? ''),
  })
  const [upload] = useUploadSurveyTraceMutation()
  const dispatch = useAppDispatch()
  const stop = useRef(false)
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const ends = { from: nameOf(link.from), to: nameOf(link.to) }

  const read = async (files: readonly File[]) => {
    if (files.length === 0) return
    stop.current = false
    const facts: { file: File; facts: FileFacts }[] = []
    const refused: string[] = []
    for (const [k, file] of files.entries()) {
      if (stop.current) return setStep({ name: 'choose' })
      setStep({ name: 'reading', done: k, of: files.length })
      const found = await workers.core().identify(file.name, await file.arrayBuffer())
      if ('facts' in found) facts.push({ file, facts: found.facts })
      else refused.push(`${file.name}: ${found.problem}`)
    }
    const matches = matchFibers(
      facts.map((one) => one.facts),
      cable,
      ends,
    )
    setStep({ name: 'preview', refused, rows: matches.map((match, k) => ({ ...match, file: facts[k]!.file })) })
  }

  const send = async (rows: readonly Row[]) => {
    stop.current = false
    const refused: string[] = []
    let done = 0
    const open = [...rows]
    setStep({ name: 'sending', done, of: rows.length })
    const sender = async () => {
      for (let row = open.shift(); row && !stop.current; row = open.shift()) {
        const from = row.direction ?? direction
        const facts = { fileName: row.fileName, fiber: row.fiber!, direction: from, role, ...cordsOfShot(cords, from) }
        const { error } = await upload({ calloutId: callout.id, id: uuidv7(), facts, file: row.file })
        if (error) refused.push(`${row.fileName}: ${errorText(error)}`)
        setStep({ name: 'sending', done: ++done, of: rows.length })
      }
    }
    await Promise.all(Array.from({ length: AT_A_TIME }, sender))
    dispatch(api.util.invalidateTags(['Survey']))
    setStep({ name: 'done', sent: done - refused.length, of: rows.length, refused })
  }

  const onDrop = (event: DragEvent) => {
    event.preventDefault()
    void read([...event.dataTransfer.files])
  }
  return (
    <Section title={TITLES[role][begun ? 1 : 0]}>
      {(step.name === 'choose' || step.name === 'done') && (
        <Box
          onDragOver={(event) => event.preventDefault()}
          onDrop={onDrop}
          sx={{ border: '2px dashed', borderColor: 'divider', borderRadius: 1, p: 1.5, display: 'grid', gap: 1 }}
        >
          {step.name === 'done' && (
            <Alert severity={step.refused.length > 0 || step.sent < step.of ? 'warning' : 'success'} variant="outlined">
              {step.sent} of {step.of} files are in.
            </Alert>
          )}
          {step.name === 'done' && step.refused.map((line) => <Problem key={line} error={{ message: line }} />)}
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
            <CordFields cords={cords} onChange={setCords} names={ends} />
            <TracePicker label="Trace files of the cable" variant="contained" onFiles={(files) => void read(files)} />
          </Box>
          <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
            Drop or choose one file for each of the {cable.fiberCount} fibers, from one end or both, at one wavelength
            or more. Nothing is sent before you have seen which file goes to which fiber. Check each fiber for light
            before an OTDR is connected.
          </Typography>
        </Box>
      )}
      {(step.name === 'reading' || step.name === 'sending') && (
        <Box sx={{ display: 'grid', gap: 1 }}>
          <Typography role="status">
            {step.name === 'reading' ? 'Reading' : 'Sending'}: {step.done} of {step.of}
          </Typography>
          <LinearProgress variant="determinate" value={(100 * step.done) / step.of} aria-label="Progress" />
          <Button variant="outlined" sx={{ justifySelf: 'start' }} onClick={() => (stop.current = true)}>
            Stop
          </Button>
        </Box>
      )}
      {step.name === 'preview' && (
        <Preview
          step={step}
          fiberCount={cable.fiberCount}
          ends={ends}
          direction={direction}
          onDirection={setDirection}
          onChange={(rows) => setStep({ ...step, rows })}
          onCancel={() => setStep({ name: 'choose' })}
          onSend={(rows) => void send(rows)}
        />
      )}
    </Section>
  )
}

function Preview({
  step: { rows, refused },
  fiberCount,
  ends,
  direction,
  onDirection,
  onChange,
  onCancel,
  onSend,
}: {
  step: Extract<Step, { name: 'preview' }>
  fiberCount: number
  ends: { from: string; to: string }
  direction: Direction
  onDirection(direction: Direction): void
  onChange(rows: Row[]): void
  onCancel(): void
  onSend(rows: readonly Row[]): void
}) {
  const doubtful = rows.filter((row) => row.doubt !== null && row.fiber === null)
  const asked = rows.filter((row) => row.doubt !== null)
  const ready = rows.filter((row) => row.fiber !== null)
  const sure = rows.filter((row) => row.doubt === null)
  const by = (kind: FileMatch['by']) => sure.filter((row) => row.by === kind).length
  const unknownEnd = rows.some((row) => row.direction === null)
  const setFiber = (row: Row, text: string) => {
    const number = Number(text)
    const valid = Number.isInteger(number) && number >= 1 && number <= fiberCount
    onChange(rows.map((one) => (one === row ? { ...one, fiber: valid ? number : null } : one)))
  }
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <Typography sx={{ fontSize: '1.1rem' }}>
        <strong>{sure.length}</strong> of {rows.length} files matched to their fibers:{' '}
        {[
          [by('file and name'), 'by the number in the file and in its name'],
          [by('file'), 'by the number in the file'],
          [by('name'), 'by the number in the name'],
        ]
          .filter(([count]) => count !== 0)
          .map(([count, words]) => `${count} ${words}`)
          .join(', ') || 'none'}
        .
      </Typography>
      {refused.map((line) => (
        <Problem key={line} error={{ message: line }} />
      ))}
      {unknownEnd && (
        <SelectField
          size="small"
          label="Files that don’t tell their end were shot from"
          value={direction}
          onChoose={onDirection}
          sx={{ maxWidth: 420 }}
          options={[
            ['ab', ends.from],
            ['ba', ends.to],
          ]}
        />
      )}
      {asked.length > 0 && (
        <>
          <Typography>
            {asked.length} {asked.length === 1 ? 'file wants' : 'files want'} your eye. A file without a fiber number is
            left out.
          </Typography>
          <Box sx={{ overflowX: 'auto' }}>
            <Table size="small" aria-label="Doubtful files">
              <TableHead>
                <TableRow>
                  <TableCell>File</TableCell>
                  <TableCell>Why</TableCell>
                  <TableCell>Fiber</TableCell>
                </TableRow>
              </TableHead>
              <TableBody>
                {asked.slice(0, SHOWN).map((row) => (
                  <TableRow key={row.fileName}>
                    <TableCell>{row.fileName}</TableCell>
                    <TableCell>{row.doubt}</TableCell>
                    <TableCell>
                      <TextField
                        size="small"
                        type="number"
                        defaultValue={row.fiber ?? ''}
                        onChange={(event) => setFiber(row, event.target.value)}
                        slotProps={{ htmlInput: { 'aria-label': `Fiber of ${row.fileName}`, min: 1, max: fiberCount } }}
                        sx={{ width: 110 }}
                      />
                    </TableCell>
                  </TableRow>
                ))}
              </TableBody>
            </Table>
          </Box>
          {asked.length > SHOWN && <Typography>… and {asked.length - SHOWN} more.</Typography>}
        </>
      )}
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button variant="contained" disabled={ready.length === 0} onClick={() => onSend(ready)} sx={{ minHeight: 44 }}>
          Send {ready.length} {ready.length === 1 ? 'trace' : 'traces'}
          {doubtful.length > 0 ? `, leave ${doubtful.length} out` : ''}
        </Button>
        <Button variant="outlined" onClick={onCancel} sx={{ minHeight: 44 }}>
          Choose other files
        </Button>
      </Box>
    </Box>
  )
}
