import type { LogEntry } from '@cold-thread/contract'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import CircularProgress from '@mui/material/CircularProgress'
import Link from '@mui/material/Link'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Link as RouterLink } from 'react-router'
import { api, sender, useCalloutsQuery } from '../api/api.ts'
import { useAppDispatch, useAppSelector } from '../app/store.ts'
import { Judgement } from '../ui/Judgement.tsx'
import { Section } from '../ui/Section.tsx'
import { clock } from '../ui/time.ts'
import { fieldStore, type OutboxEntry } from './fieldStore.ts'
import { removeEntries, sendAgain } from './outbox.ts'
import { canOpenOffline } from './serviceWorker.ts'
import { RoomSection } from './RoomSection.tsx'
import { useOutbox } from './useField.ts'

/** Of what waits the first are shown: the rest follows in its order. */
const MOST_SHOWN = 30

/** What waits, what was refused and why; a refused entry is sent again or taken out by hand. */
export function OutboxPage() {
  const entries = useOutbox()
  const { link } = useAppSelector((state) => state.field)
  const { data: callouts } = useCalloutsQuery()
  const titleOf = (id: string) => callouts?.find((callout) => callout.id === id)?.title ?? 'a callout'
  if (entries === null) return <CircularProgress aria-label="Loading" />
  const waiting = entries.filter(({ refused }) => refused === null)
  const refused = entries.filter((entry) => entry.refused)
  return (
    <>
      <Typography variant="h1" sx={{ mb: 2 }}>
        Outbox
      </Typography>
      {!canOpenOffline() && (
        <Alert severity="warning" variant="outlined" sx={{ mb: 2 }}>
          This address is plain http: the browser does not let the app open without network. What is entered while it is
          open is kept all the same. Over https it opens anywhere.
        </Alert>
      )}
      {refused.length > 0 && (
        <Section title="Refused by the server">
          {refused.map((entry) => (
            <Entry key={entry.id} entry={entry} title={titleOf(entry.calloutId)} />
          ))}
        </Section>
      )}
      <Section
        title="Waiting"
        action={
          waiting.length > 0 && (
            <Button variant="outlined" onClick={() => void sender.flush()}>
              Send now
            </Button>
          )
        }
      >
        {waiting.length === 0 && (
          <Typography>
            {refused.length > 0 ? 'Nothing else waits.' : 'Nothing waits: everything entered here is on the server.'}
          </Typography>
        )}
        {waiting.length > 0 && (
          <Typography sx={{ mb: 1 }}>
            {link === 'down'
              ? 'The server does not answer. These are kept on this device and go by themselves, in this order.'
              : link === 'signed-out'
                ? 'Sign in again, and these go by themselves.'
                : 'On their way, in this order.'}
          </Typography>
        )}
        {waiting.slice(0, MOST_SHOWN).map((entry) => (
          <Entry key={entry.id} entry={entry} title={titleOf(entry.calloutId)} />
        ))}
        {waiting.length > MOST_SHOWN && (
          <Typography sx={{ mt: 1 }}>and {waiting.length - MOST_SHOWN} more behind these.</Typography>
        )}
      </Section>
      <RoomSection />
    </>
  )
}

function Entry({ entry, title }: { entry: OutboxEntry; title: string }) {
  const dispatch = useAppDispatch()
  const [sure, setSure] = useState(false)
  const again = async () => {
    await sendAgain(fieldStore, entry)
    await sender.flush()
  }
  const takeOut = async () => {
    await removeEntries(fieldStore, [entry])
    dispatch(api.util.invalidateTags(['Log', 'Traces', 'Attachments']))
  }
  return (
    <Box sx={{ borderBottom: 1, borderColor: 'divider', py: 1 }}>
      <Typography sx={{ fontWeight: 650 }}>{entryInWords(entry)}</Typography>
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
        <Link component={RouterLink} to={`/callouts/${entry.calloutId}`}>
          {title}
        </Link>
        , {clock(entry.enteredAt)}, {entry.by}
        {entry.attempts > 0 && `, tried ${entry.attempts} ${entry.attempts === 1 ? 'time' : 'times'}`}
      </Typography>
      {entry.refused && (
        <>
          <Typography>
            <Judgement tone="bad" word="refused" />: {entry.refused.message}
            {entry.refused.place && ` (${entry.refused.place})`}
          </Typography>
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
            <Button onClick={() => void again()}>Send again</Button>
            {sure ? (
              <Button color="error" onClick={() => void takeOut()}>
                Take it out: it is lost then
              </Button>
            ) : (
              <Button onClick={() => setSure(true)}>Take it out</Button>
            )}
          </Box>
        </>
      )}
    </Box>
  )
}

/** What was entered, so that a person knows it again. */
export function entryInWords(entry: OutboxEntry): string {
  if (entry.kind === 'trace') return `Trace ${entry.record.fileName}`
  if (entry.kind === 'attachment') return `Photo or file ${entry.record.caption || entry.record.fileName}`
  return logEntryInWords(entry.observation.entry)
}

function logEntryInWords(entry: LogEntry): string {
  switch (entry.kind) {
    case 'note':
      return `Note: ${entry.text}`
    case 'splice':
      return `Splice: ${entry.cable} fiber ${entry.fiber}, attempt ${entry.attempt}, ${entry.estimate === null ? 'no estimate' : `${entry.estimate.toFixed(2)} dB`}, ${entry.outcome}`
    case 'cleaning':
      return `Cleaning: ${entry.node}, ${entry.outcome}`
    case 'evidence':
      return `Evidence: ${entry.evidence.kind}${'text' in entry.evidence ? `, ${entry.evidence.text}` : ''}`
    case 'mark':
      return `Mark on a trace: ${entry.action} at ${entry.distance.toFixed(0)} m`
    case 'packed':
      return `Packed: ${entry.substitute ?? entry.line}`
    case 'step':
      return `Step done: ${entry.name}, ${entry.minutes} min`
    case 'sheet':
      return `Run sheet begun: ${entry.sheet.name}`
    case 'sheet-step':
      return `Run sheet: ${entry.step} ${entry.outcome}`
    case 'sheet-release':
      return `The lead’s word for ${entry.step}`
    case 'hand-over':
      return `Handed over to ${entry.to}`
    case 'closure-state':
      return `Closure as ${entry.when}: ${entry.node}`
    case 'splice-session':
      return `Splicing begun on ${entry.cable}`
    case 'arc-calibration':
      return `Arc calibration ${entry.outcome}`
    case 'session-care':
      return `Splicer: ${entry.what}`
    case 'splice-queue':
      return `Splice ${entry.splice}: ${entry.to}, ${entry.reason}`
    case 'session-end':
      return 'Splicing ended'
    case 'trace-reading':
      return `Trace reading: ${entry.cable} fiber ${entry.fiber}, ${entry.wavelength} nm, ${entry.loss.toFixed(2)} dB`
    case 'end-face':
      return `End face: ${entry.node}, ${entry.side}, ${entry.overruled?.verdict ?? entry.verdict}`
    case 'source-check':
      return `Daily check: ${entry.check.cord || 'cord'}, ${entry.check.level === 'low' ? 'no light' : `${entry.check.level.toFixed(2)} dBm`}`
    case 'loss-reference':
      return `Reference, ${entry.method}, ${entry.wavelength} nm: ${entry.level.toFixed(2)} dBm`
    case 'reference-look':
      return `Reference looked at again: ${entry.level.toFixed(2)} dBm`
    case 'trunk-reference':
      return `Trunk reference: ${entry.reference.end} end, ${entry.reference.wavelength} nm${entry.reference.copied ? ', copied' : ''}`
    case 'trunk-test':
      return `Trunk test: ${entry.test.trunk}, ${entry.test.end} end, ${entry.test.wavelength} nm`
    case 'received-power':
      return `Received power: ${entry.power.before.toFixed(1)} dBm before, ${entry.power.after.toFixed(1)} dBm after`
    case 'turned-reading':
      return `${entry.what} read both ways round`
    case 'loss-reading':
      return `Loss test: ${entry.link}, ${entry.level.toFixed(2)} dBm`
    case 'continuity':
      return `Continuity: ${entry.link}, light ${entry.arrivesAt === null ? 'comes out nowhere' : entry.arrivesAt === entry.link ? 'comes out at its own port' : `comes out at ${entry.arrivesAt}`}`
    case 'provisional-sign-off':
      return 'Signed provisionally'
    case 'withdrawn':
      return 'An entry taken back'
  }
}
