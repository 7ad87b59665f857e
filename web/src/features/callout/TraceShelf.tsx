import type { TraceRecord, TraceRole } from '@cold-thread/contract'
import type { Direction } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import IconButton from '@mui/material/IconButton'
import Radio from '@mui/material/Radio'
import RadioGroup from '@mui/material/RadioGroup'
import Typography from '@mui/material/Typography'
import { useState, type DragEvent } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { DeleteOutlinedIcon } from '../../ui/icons.tsx'
import { useTracesQuery, useUploadTraceMutation, useWithdrawTraceMutation } from '../../api/api.ts'
import { errorText } from '../../api/errorText.ts'
import { canWork } from '../../app/rights.ts'
import { CordFields, cordsOfShot, type Cords } from '../../ui/CordFields.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { TracePicker } from '../../ui/TracePicker.tsx'
import { guessDirection } from './guessDirection.ts'
import { StandInPanel } from './StandInPanel.tsx'
import type { StageProps } from './stageProps.ts'

/** Traces of one kind: what is there, files in by drop or pick, shots of the simulated OTDR. */
export function TraceShelf({
  account,
  callout,
  plant,
  link,
  role,
  title,
}: StageProps & { role: Extract<TraceRole, 'present' | 'after'>; title: string }) {
  const { data: traces } = useTracesQuery(callout.id)
  const [upload] = useUploadTraceMutation()
  const [direction, setDirection] = useState<Direction>('ab')
  const [cords, setCords] = useState<Cords>({
    from: String(link.launchCord ?? ''),
    to: String(link.receiveCord ?? ''),
  })
  const [refused, setRefused] = useState<string[]>([])
  const [busy, setBusy] = useState(false)
  const [over, setOver] = useState(false)
  const standing = (traces ?? []).filter((trace) => trace.role === role && !trace.withdrawn)
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const working = canWork(account) && callout.state !== 'closed'

  const take = async (files: readonly File[]) => {
    setBusy(true)
    setRefused([])
    for (const file of files) {
      const from = guessDirection(file.name) ?? direction
      const facts = { fileName: file.name, role, direction: from, ...cordsOfShot(cords, from) }
      const { error } = await upload({ calloutId: callout.id, linkId: callout.linkId, id: uuidv7(), facts, file })
      if (error) setRefused((list) => [...list, `${file.name}: ${errorText(error)}`])
    }
    setBusy(false)
  }
  const onDrop = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    void take([...event.dataTransfer.files])
  }
  return (
    <Section title={title}>
      {standing.length > 0 && (
        <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0, mb: 1 }}>
          {standing.map((trace) => (
            <TraceRow
              key={trace.id}
              trace={trace}
              from={nameOf(trace.direction === 'ab' ? link.from : link.to)}
              removable={working}
            />
          ))}
        </Box>
      )}
      {working && (
        <>
          <Box
            className="not-on-paper"
            onDragOver={(event) => {
              event.preventDefault()
              setOver(true)
            }}
            onDragLeave={() => setOver(false)}
            onDrop={onDrop}
            sx={{
              border: '2px dashed',
              borderColor: over ? 'primary.main' : 'divider',
              borderRadius: 1,
              p: 1.5,
              display: 'grid',
              gap: 1,
            }}
          >
            <RadioGroup
              row
              value={direction}
              onChange={(_, value) => setDirection(value as Direction)}
              aria-label="Shot from"
            >
              <FormControlLabel value="ab" control={<Radio />} label={`shot from ${nameOf(link.from)}`} />
              <FormControlLabel value="ba" control={<Radio />} label={`from ${nameOf(link.to)}`} />
            </RadioGroup>
            <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
              <CordFields cords={cords} onChange={setCords} names={{ from: nameOf(link.from), to: nameOf(link.to) }} />
              <TracePicker
                label={`Trace files, ${role}`}
                variant={callout.simulated ? 'outlined' : 'contained'}
                busy={busy}
                onFiles={(files) => void take(files)}
              />
            </Box>
            <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
              Drop trace files here, several at once. A name with “ab” or “ba” in it says its own direction. Never
              connect an OTDR to a fiber that carries traffic: check for light first.
            </Typography>
          </Box>
          {callout.simulated && (
            <StandInPanel account={account} callout={callout} plant={plant} link={link} role={role} />
          )}
          {refused.map((line) => (
            <Problem key={line} error={{ message: line }} />
          ))}
        </>
      )}
      {!working && standing.length === 0 && <Typography sx={{ color: 'text.secondary' }}>No traces.</Typography>}
    </Section>
  )
}

function TraceRow({ trace, from, removable }: { trace: TraceRecord; from: string; removable: boolean }) {
  const [withdraw, { error }] = useWithdrawTraceMutation()
  const worth = trace.warnings.filter((warning) => warning.code !== 'no-event-table')
  return (
    <Box component="li" sx={{ borderBottom: 1, borderColor: 'divider', py: 0.5 }}>
      <Box
        sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap', fontVariantNumeric: 'tabular-nums' }}
      >
        <strong>{trace.facts.wavelength} nm</strong>
        <span>from {from}</span>
        <Box component="span" sx={{ color: 'text.secondary', fontSize: 14 }}>
          {trace.facts.pulseWidth.toFixed(0)} ns, {trace.facts.points} points{trace.simulated ? ', simulated' : ''}
        </Box>
        <Box sx={{ flex: 1 }} />
        <Button size="small" href={`/api/traces/${trace.id}/file`} download>
          {trace.fileName}
        </Button>
        {removable && (
          <IconButton aria-label={`Take ${trace.fileName} out of the evidence`} onClick={() => void withdraw(trace.id)}>
            <DeleteOutlinedIcon />
          </IconButton>
        )}
      </Box>
      {worth.map((warning) => (
        <Typography key={warning.code} sx={{ fontSize: 14, color: 'warning.main' }}>
          {warning.message}
        </Typography>
      ))}
      <Problem error={error} />
    </Box>
  )
}
