import type { LogEntry } from '@cold-thread/contract'
import { changeNear, readMeter, receivedAgrees, receivedPowersOf, type Proof } from '@cold-thread/core/prove'
import type { Direction } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useMemo, useState } from 'react'
import { useObservationsQuery } from '../../../api/api.ts'
import { useEnter } from '../../../api/useEnter.ts'
import { canWork } from '../../../app/rights.ts'
import { Judgement } from '../../../ui/Judgement.tsx'
import { Problem } from '../../../ui/Problem.tsx'
import { Section } from '../../../ui/Section.tsx'
import { SelectField } from '../../../ui/SelectField.tsx'
import type { StageProps } from '../../callout/stageProps.ts'

const WAVELENGTHS = [850, 1300, 1310, 1490, 1550, 1625] as const

/** What the equipment's receiver sees, before and after: it has to tell the same story as the traces. */
export function ReceivedPowerForm({ account, callout, plant, link, proof }: StageProps & { proof: Proof | undefined }) {
  const { data: log } = useObservationsQuery(callout.id)
  const { enter, error, busy } = useEnter(callout.id)
  const powers = useMemo(() => receivedPowersOf(log ?? []).filter((one) => one.link === link.id), [log, link.id])
  const [way, setWay] = useState<Direction>('ab')
  const [wavelength, setWavelength] = useState<number>(1310)
  const [texts, setTexts] = useState({ before: '', after: '' })
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
      <Problem error={error} />
    </Section>
  )
}
