import type { LogEntry } from '@cold-thread/contract'
import {
  changeNear,
  readMeter,
  receivedAgrees,
  receivedPowersOf,
  type Proof,
  type ReceivedPower,
} from '@cold-thread/core/prove'
import type { Direction } from '@cold-thread/core/plant'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useMemo, useState } from 'react'
import { useObservationsQuery } from '../../../api/api.ts'
import { useEnter } from '../../../api/useEnter.ts'
import { canWork } from '../../../app/rights.ts'
import { CsvButton } from '../../../ui/CsvButton.tsx'
import { Judgement } from '../../../ui/Judgement.tsx'
import { Problem } from '../../../ui/Problem.tsx'
import { Section } from '../../../ui/Section.tsx'
import { SelectField } from '../../../ui/SelectField.tsx'
import type { StageProps } from '../../callout/stageProps.ts'
import { readReceivedCsv } from './receivedCsv.ts'

const WAVELENGTHS = [850, 1300, 1310, 1490, 1550, 1625] as const

/** What the equipment's receiver sees, before and after: it has to tell the same story as the traces. */
export function ReceivedPowerForm({ account, callout, plant, link, proof }: StageProps & { proof: Proof | undefined }) {
  const { data: log } = useObservationsQuery(callout.id)
  const { enter, error, busy } = useEnter(callout.id)
  const powers = useMemo(() => receivedPowersOf(log ?? []).filter((one) => one.link === link.id), [log, link.id])
  const [way, setWay] = useState<Direction>('ab')
  const [wavelength, setWavelength] = useState<number>(1310)
  const [texts, setTexts] = useState({ before: '', after: '' })
  const [file, setFile] = useState<{ name: string; read: ReturnType<typeof readReceivedCsv> } | null>(null)
  const working = canWork(account) && callout.state !== 'closed'
  if (!working && powers.length === 0) return null
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const levelOf = (text: string) => {
    const read = readMeter(text, 'level')
    return read && 'level' in read ? read.level : null
  }
  const [before, after] = [levelOf(texts.before), levelOf(texts.after)]
  const said = (power: { before: number; after: number; wavelength: number }) => {
    const change = proof ? changeNear(proof.total, power.wavelength) : null
    return change === null ? null : receivedAgrees(power, change)
  }
  const now = before === null || after === null ? null : said({ before, after, wavelength })
  const keep = async () => {
    const entry: LogEntry = {
      kind: 'received-power',
      power: { link: link.id, way, wavelength, before: before!, after: after! },
    }
    if (await enter(entry)) setTexts({ before: '', after: '' })
  }
  const keepFile = async (found: readonly ReceivedPower[]) => {
    for (const power of found) if (!(await enter({ kind: 'received-power', power }))) return
    setFile(null)
  }
  const field = (key: 'before' | 'after', label: string) => (
    <TextField
      label={label}
      value={texts[key]}
      onChange={({ target }) => setTexts({ ...texts, [key]: target.value })}
      error={texts[key].trim() !== '' && levelOf(texts[key]) === null}
      slotProps={{ htmlInput: { maxLength: 20 } }}
      sx={{ flex: '1 1 190px', maxWidth: 300 }}
    />
  )
  return (
    <Section title="Received power">
      {powers.map((power) => {
        const judged = said(power)
        return (
          <Typography key={`${power.way} ${power.wavelength}`} sx={{ mb: 1 }}>
            At {nameOf(power.way === 'ab' ? link.to : link.from)}, {power.wavelength} nm:{' '}
            {judged ? (
              <>
                <Judgement
                  tone={judged.agrees ? 'good' : 'bad'}
                  word={judged.agrees ? 'agrees' : 'contradicts the traces'}
                />{' '}
                {judged.words}
              </>
            ) : (
              `${power.before.toFixed(1)} dBm before, ${power.after.toFixed(1)} dBm after; no traces of both times to hold it against`
            )}
          </Typography>
        )
      })}
      {working && (
        <Box
          component="form"
          onSubmit={(event) => {
            event.preventDefault()
            void keep()
          }}
          sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mt: 1 }}
        >
          <SelectField
            label="Seen at"
            value={way}
            onChoose={setWay}
            sx={{ flex: '1 1 190px' }}
            options={[
              ['ab', nameOf(link.to)],
              ['ba', nameOf(link.from)],
            ]}
          />
          <SelectField
            label="Equipment’s wavelength"
            value={wavelength}
            onChoose={setWavelength}
            sx={{ flex: '1 1 150px' }}
            options={WAVELENGTHS.map((one) => [one, `${one} nm`] as const)}
          />
          {field('before', 'Before the fault, dBm')}
          {field('after', 'After the repair, dBm')}
          <Button
            type="submit"
            variant="outlined"
            disabled={before === null || after === null || busy}
            sx={{ minHeight: 56 }}
          >
            Keep both
          </Button>
        </Box>
      )}
      {now && (
        <Typography role="status" sx={{ mt: 1 }}>
          {now.words}
        </Typography>
      )}
      {working && (
        <>
          <CsvButton
            words="Received powers from a CSV file"
            label="CSV file of received powers"
            onFile={(chosen) =>
              void chosen
                .text()
                .then((text) => setFile({ name: chosen.name, read: readReceivedCsv(text, plant, link, wavelength) }))
            }
          />
          <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
            A row for each end, with the columns place, before and after (dBm), and wavelength (nm) where it is not the
            equipment’s above.
          </Typography>
        </>
      )}
      {file && 'problem' in file.read && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {file.name}: {file.read.problem}. Nothing was taken from it.
        </Alert>
      )}
      {file && 'powers' in file.read && (
        <Box sx={{ mt: 1 }}>
          <Box component="ul" aria-label="Received powers in the file" sx={{ pl: 2.5, m: 0 }}>
            {file.read.powers.map((power) => (
              <li key={`${power.way} ${power.wavelength}`}>
                At {nameOf(power.way === 'ab' ? link.to : link.from)}, {power.wavelength} nm: {power.before.toFixed(1)}{' '}
                dBm before, {power.after.toFixed(1)} dBm after{said(power) && `; ${said(power)!.words}`}
              </li>
            ))}
          </Box>
          <Button
            variant="contained"
            disabled={busy}
            onClick={() => void keepFile((file.read as { powers: ReceivedPower[] }).powers)}
            sx={{ minHeight: 48, mt: 1 }}
          >
            {file.read.powers.length === 1 ? 'Keep this reading' : `Keep these ${file.read.powers.length} readings`}
          </Button>
          <Button onClick={() => setFile(null)} sx={{ minHeight: 48, mt: 1 }}>
            Drop the file
          </Button>
        </Box>
      )}
      <Problem error={error} />
    </Section>
  )
}
