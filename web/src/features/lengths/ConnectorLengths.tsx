import {
  BENCH_FACTS,
  CONNECTOR_WORDS,
  lengthOf,
  lengthRulesFor,
  spanInWords,
  type ConnectorWay,
} from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useAppSelector } from '../../app/store.ts'
import { readNumber } from '../../ui/readNumber.ts'
import { Section } from '../../ui/Section.tsx'
import { PaperButtons } from './PaperButtons.tsx'

const CONNECTORS: { way: ConnectorWay; ferrule: 'SC' | 'LC'; lengths: readonly string[] }[] = [
  { way: 'soft-coated', ferrule: 'SC', lengths: ['soft-jacket', 'soft-coating', 'soft-cleave-sc'] },
  { way: 'soft-coated', ferrule: 'LC', lengths: ['soft-jacket', 'soft-coating', 'soft-cleave-lc'] },
  { way: 'tube-900', ferrule: 'SC', lengths: ['tube-off', 'tube-cleave-sc'] },
  { way: 'field-lc', ferrule: 'LC', lengths: ['lc-buffer', 'lc-cleave'] },
]

/** Strip and cleave lengths of connectors put on in the field. */
export function ConnectorLengths() {
  const units = useAppSelector((state) => state.settings.units)
  const rules = lengthRulesFor({ ...BENCH_FACTS, work: 'connector' })
  return (
    <Section title="Connectors">
      <Typography sx={{ mb: 1 }}>Common practice; the connector’s own sheet comes first.</Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>Way</TableCell>
            <TableCell>Lengths</TableCell>
            <TableCell>1:1</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {CONNECTORS.map(({ way, ferrule, lengths }) => {
            const spans = lengths.map((id) => lengthOf(id, {}, rules)!)
            const name = `${CONNECTOR_WORDS[way]}${way === 'field-lc' ? '' : `, ${ferrule}`}`
            return (
              <TableRow key={name}>
                <TableCell component="th" scope="row">
                  {name}
                </TableCell>
                <TableCell>{spans.map((span) => `${span.label} ${spanInWords(span, units)}`).join('; ')}</TableCell>
                <TableCell>
                  <PaperButtons strip={{ name, marks: spans.map(({ label, max }) => ({ at: max * 1000, label })) }} />
                </TableCell>
              </TableRow>
            )
          })}
        </TableBody>
      </Table>
    </Section>
  )
}

/** Lengths of a sheet that is not here, drawn in true size. */
export function OwnTemplate() {
  const [texts, setTexts] = useState({ jacket: '', coating: '', cleave: '' })
  const labels = { jacket: 'Jacket off, mm', coating: 'Coating off, mm', cleave: 'Cleave, mm' } as const
  const read = Object.entries(texts).map(([key, text]) => ({
    key: key as keyof typeof labels,
    text,
    value: readNumber(text),
  }))
  const bad = (value: number | null, text: string) =>
    text.trim() !== '' && (value === null || value <= 0 || value > 5000)
  const marks = read.flatMap(({ key, value, text }) =>
    value === null || bad(value, text) ? [] : [{ at: value, label: labels[key].replace(', mm', '') }],
  )
  return (
    <Section title="By another sheet">
      <Typography sx={{ mb: 1.5 }}>
        Enter what the connector’s or the closure’s sheet says, each from the fiber’s end.
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, mb: 1.5 }}>
        {read.map(({ key, text, value }) => (
          <TextField
            key={key}
            label={labels[key]}
            value={text}
            onChange={({ target }) => setTexts({ ...texts, [key]: target.value })}
            error={bad(value, text)}
            helperText={bad(value, text) ? 'above 0, 5,000 at most' : ' '}
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
            sx={{ width: 170 }}
          />
        ))}
      </Box>
      <PaperButtons
        strip={{ name: 'Strip and cleave, by its own sheet', marks }}
        disabled={marks.length === 0 || read.some(({ value, text }) => bad(value, text))}
      />
    </Section>
  )
}
