import type { Callout } from '@cold-thread/contract'
import type { Direction, Link } from '@cold-thread/core/plant'
import { readMeter, type LoggedReference, type LossFigure, type LossWord } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableContainer from '@mui/material/TableContainer'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useRef, useState } from 'react'
import { useEnter } from '../../../api/useEnter.ts'
import type { StandInLossSet } from '../../../devices/powerMeter.ts'
import { Figure } from '../../../ui/Figure.tsx'
import { Judgement, type Tone } from '../../../ui/Judgement.tsx'
import { Problem } from '../../../ui/Problem.tsx'
import { FromMeter } from './FromMeter.tsx'
import { pastedTexts } from './lossCsv.ts'
import { LossFile } from './LossFile.tsx'

const WORDS: Record<LossWord, Tone> = {
  within: 'good',
  close: 'close',
  over: 'bad',
  'no proof': 'bad',
  'no limit': 'unknown',
}

/** On a phone each row is a card: name and field above, figures beside each other, the verdict below. */
const CARDS = {
  '@media (max-width: 600px)': {
    '& thead': { display: 'none' },
    '& tr': {
      display: 'grid',
      gridTemplateColumns: '1fr 1fr',
      borderBottom: 1,
      borderColor: 'divider',
      py: 1,
    },
    '& td': { border: 0, px: 0.5, py: 0.5, textAlign: 'left' },
    '& td:first-of-type, & td:last-of-type': { gridColumn: '1 / -1' },
    '& td[data-label]::before': { content: 'attr(data-label) ": "', color: 'text.secondary' },
  },
} as const

/** Every fiber's level at one wavelength and way: typed one after the other, or pasted as a column. */
export function LossReadings({
  callout,
  links,
  reference,
  way,
  figures,
  working,
  standIn,
}: {
  callout: Callout
  links: readonly Link[]
  reference: LoggedReference
  way: Direction
  figures: readonly LossFigure[]
  working: boolean
  /** The simulated meter, and what a link loses on it, dB; null where there is none. */
  standIn: { set: StandInLossSet; lossOf(link: Link): number } | null
}) {
  const { enter, error, busy } = useEnter(callout.id)
  const [texts, setTexts] = useState<Readonly<Record<string, string>>>({})
  const [pasted, setPasted] = useState<string | null>(null)
  const fields = useRef<Record<string, HTMLInputElement | null>>({})
  const levelOf = (id: string): number | 'bad' | null => {
    const text = texts[id] ?? ''
    if (text.trim() === '') return null
    const read = readMeter(text, 'level')
    if (!read) return 'bad'
    // A meter that was zeroed shows the loss itself.
    return 'level' in read ? read.level : reference.level - read.loss
  }
  const typed = links.flatMap((link) => {
    const level = levelOf(link.id)
    return level === null ? [] : [{ link, level }]
  })
  const keep = async (id: string): Promise<boolean> => {
    const level = levelOf(id)
    if (level === null || level === 'bad') return false
    const kept = await enter({ kind: 'loss-reading', referenceId: reference.id, link: id, way, level })
    if (kept) setTexts((before) => ({ ...before, [id]: '' }))
    return kept !== null
  }
  const keepAll = async () => {
    for (const { link } of typed) if (!(await keep(link.id))) return
    setPasted(null)
  }
  const next = (id: string, step: 1 | -1) =>
    fields.current[links[links.findIndex((link) => link.id === id) + step]?.id ?? '']?.focus()
  const paste = (id: string, text: string) => {
    const found = pastedTexts(
      text,
      links,
      links.findIndex((link) => link.id === id),
    )
    if ('problem' in found) {
      setPasted(`${found.problem}: nothing was taken`)
      return
    }
    setPasted(`${Object.keys(found.texts).length} rows pasted: look at them, then keep them`)
    setTexts((before) => ({ ...before, ...found.texts }))
  }
  const [asked, setAsked] = useState<string | null>(null)
  const read = new Set(figures.map(({ reading }) => reading.link))
  const unread = links.find((link) => link.id === asked) ?? links.find(({ id }) => !read.has(id))
  const take = async (id: string, level: number) => {
    await enter({ kind: 'loss-reading', referenceId: reference.id, link: id, way, level })
    setAsked(null)
  }
  const bad = typed.filter(({ level }) => level === 'bad').length
  return (
    <>
      <TableContainer tabIndex={0}>
        <Table size="small" sx={CARDS} aria-label={`Losses at ${reference.wavelength} nm`}>
          <TableHead>
            <TableRow>
              <TableCell>Link</TableCell>
              {working && <TableCell>Meter, dBm</TableCell>}
              <TableCell align="right">Loss, dB</TableCell>
              <TableCell align="right">Allowed, dB</TableCell>
              <TableCell>Verdict</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {links.map((link) => {
              const figure = figures.find(({ reading }) => reading.link === link.id)
              return (
                <TableRow key={link.id}>
                  <TableCell>
                    {link.name}
                    {working && standIn && figure && (
                      <Button size="small" onClick={() => setAsked(link.id)} sx={{ ml: 1 }}>
                        Read again
                      </Button>
                    )}
                  </TableCell>
                  {working && (
                    <TableCell sx={{ minWidth: 130, gridColumn: '1 / -1' }}>
                      <TextField
                        value={texts[link.id] ?? ''}
                        placeholder={figure ? figure.reading.level.toFixed(2) : ''}
                        onChange={({ target }) => setTexts({ ...texts, [link.id]: target.value })}
                        error={levelOf(link.id) === 'bad'}
                        inputRef={(field: HTMLInputElement | null) => {
                          fields.current[link.id] = field
                        }}
                        onPaste={(event) => {
                          const text = event.clipboardData.getData('text')
                          if (!/\n/.test(text.trimEnd())) return
                          event.preventDefault()
                          paste(link.id, text)
                        }}
                        onKeyDown={(event) => {
                          if (event.key === 'ArrowDown') next(link.id, 1)
                          if (event.key === 'ArrowUp') next(link.id, -1)
                          if (event.key !== 'Enter') return
                          event.preventDefault()
                          void keep(link.id).then((kept) => kept && next(link.id, 1))
                        }}
                        slotProps={{ htmlInput: { maxLength: 20, 'aria-label': `Meter at ${link.name}, dBm` } }}
                        size="small"
                        sx={{ width: 130, '& .MuiInputBase-root': { minHeight: 44 } }}
                      />
                    </TableCell>
                  )}
                  <TableCell align="right" data-label="loss, dB">
                    <Figure
                      value={figure?.loss ?? null}
                      unit=""
                      why={
                        figure
                          ? `± ${(2 * figure.sigma).toFixed(2)} dB (k = 2): ${figure.components.map(({ name, sigma }) => `${name} ${sigma.toFixed(2)}`).join(', ')} dB`
                          : undefined
                      }
                    />
                  </TableCell>
                  <TableCell align="right" data-label="allowed, dB">
                    {figure?.budget.allowed == null ? (
                      '–'
                    ) : (
                      <Figure
                        value={figure.budget.allowed}
                        unit=""
                        why={figure.budget.parts
                          .map(
                            ({ what, count, each, source }) =>
                              `${count.toFixed(what.startsWith('km') ? 2 : 0)} ${what} × ${each} dB (${source})`,
                          )
                          .join(', ')}
                      />
                    )}
                  </TableCell>
                  <TableCell>
                    {figure ? (
                      <>
                        <Judgement tone={WORDS[figure.word]} word={figure.word} />
                        <Typography sx={{ fontSize: 14 }}>
                          {figure.reasons.join('; ')}
                          {figure.next && `. Next: ${figure.next}`}
                        </Typography>
                      </>
                    ) : (
                      <Judgement tone="unknown" word="not read" />
                    )}
                  </TableCell>
                </TableRow>
              )
            })}
          </TableBody>
        </Table>
      </TableContainer>
      {working && standIn && unread && (
        <Box sx={{ mt: 1.5 }}>
          <FromMeter
            key={unread.id}
            set={standIn.set}
            label={`Simulated meter: ${unread.name}`}
            what={unread.name}
            loss={standIn.lossOf(unread)}
            onLevel={(level) => void take(unread.id, level)}
          />
        </Box>
      )}
      {working && (
        <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap', mt: 1.5 }}>
          {typed.length > 0 && (
            <Button
              variant="contained"
              disabled={bad > 0 || busy}
              onClick={() => void keepAll()}
              sx={{ minHeight: 48 }}
            >
              {typed.length === 1 ? 'Keep the reading' : `Keep ${typed.length} readings`}
            </Button>
          )}
          <Typography role="status" sx={{ fontSize: 14 }}>
            {bad > 0
              ? `${bad === 1 ? 'One cell is' : `${bad} cells are`} no level: dBm, µW or, where the meter was zeroed, dB`
              : (pasted ?? 'Enter keeps a reading and goes on to the next; a column can be pasted.')}
          </Typography>
        </Box>
      )}
      {working && (
        <LossFile
          wavelength={reference.wavelength}
          links={links}
          onTexts={(found) => {
            setTexts((before) => ({ ...before, ...found }))
            setPasted(`${Object.keys(found).length} rows read: look at them, then keep them`)
          }}
        />
      )}
      <Problem error={error} />
    </>
  )
}
