import { expectedBack, paceOf, type Queue, type QueuedSplice } from '@cold-thread/core/join'
import type { PlantBundle } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'
import { Judgement, type Tone } from '../../ui/Judgement.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { EndInWords } from './EndInWords.tsx'

const STATES: Record<QueuedSplice['state'], { tone: Tone; word: string }> = {
  waiting: { tone: 'unknown', word: 'waits' },
  begun: { tone: 'close', word: 'to be redone' },
  accepted: { tone: 'good', word: 'accepted' },
  stopped: { tone: 'bad', word: 'stopped' },
  skipped: { tone: 'close', word: 'put off' },
}

/** What is back, what comes when, and each splice with its state; one can be asked for first. */
export function QueueList({
  queue,
  ribbon,
  plant,
  now,
  onFirst,
}: {
  queue: Queue
  ribbon: boolean
  plant: PlantBundle
  /** ms */
  now: number
  /** Null for those who only read. */
  onFirst: ((splice: string) => Promise<unknown>) | null
}) {
  const pace = paceOf(
    queue.splices.flatMap(({ at }) => at ?? []),
    ribbon,
  )
  const expected = expectedBack(queue, pace)
  const done = queue.splices.filter(({ state }) => state === 'accepted').length
  return (
    <Section title={`Queue: ${done} of ${queue.splices.length} accepted`}>
      {queue.links.length > 0 && (
        <>
          <Typography sx={{ fontSize: 18, mb: 0.5 }}>
            <Judgement
              tone={queue.restored.length === queue.links.length ? 'good' : 'unknown'}
              word={`${queue.restored.length} of ${queue.links.length} links joined`}
            />
          </Typography>
          <Box component="ul" sx={{ listStyle: 'none', p: 0, mt: 0, mb: 1 }} aria-label="Links">
            {queue.restored.map(({ link, at }) => (
              <li key={link.id}>
                {link.name}: all splices here accepted, {clock(at)}
              </li>
            ))}
            {expected.map(({ link, minutes }) => (
              <li key={link.id}>
                {link.name}: about {clock(new Date(now + minutes * 60_000).toISOString())}, in {Math.ceil(minutes)} min
                ± 20 %
              </li>
            ))}
          </Box>
          <Typography sx={{ fontSize: 14, color: 'text.secondary', mb: 1 }}>
            {pace.minutes.toFixed(1)} min a splice, by{' '}
            {pace.source === 'this session' ? 'what this session takes' : 'common practice'}. A circuit counts as
            restored when its light is back: ask the desk.
          </Typography>
        </>
      )}
      <TrayFilling queue={queue} />
      <Box
        component="ol"
        sx={{ listStyle: 'none', p: 0, m: 0, maxHeight: 420, overflow: 'auto' }}
        aria-label="Splices in order"
      >
        {queue.splices.map(({ splice, state, attempts, reason }) => (
          <Box
            component="li"
            key={splice.id}
            aria-current={splice.id === queue.current?.splice.id ? 'step' : undefined}
            sx={{
              borderBottom: 1,
              borderColor: 'divider',
              py: 0.75,
              px: 1,
              bgcolor: splice.id === queue.current?.splice.id ? 'action.selected' : undefined,
              display: 'flex',
              gap: 1,
              alignItems: 'center',
            }}
          >
            <Box sx={{ flex: 1 }}>
              <Typography sx={{ fontSize: 15 }}>
                <EndInWords end={splice.pairs[0]!.a} plant={plant} count={splice.pairs.length} />
                {splice.pairs[0]!.b.cable !== splice.pairs[0]!.a.cable &&
                  ` to ${splice.pairs[0]!.b.cable} ${splice.pairs[0]!.b.fiber}`}
              </Typography>
              <Typography sx={{ fontSize: 14 }}>
                <Judgement {...STATES[state]} />
                {attempts > 0 && `, ${attempts === 1 ? '1 attempt' : `${attempts} attempts`}`}
                {splice.circuits.length > 0 && `, ${splice.circuits.map(({ name }) => name).join(', ')}`}
                {reason && `, ${reason}`}
              </Typography>
            </Box>
            {onFirst && state !== 'accepted' && splice.id !== queue.current?.splice.id && (
              <Button onClick={() => void onFirst(splice.id)}>Do it now</Button>
            )}
          </Box>
        ))}
      </Box>
    </Section>
  )
}

/** The tray filling up: a place for each splice of the queue, in the order of its fibers. */
function TrayFilling({ queue }: { queue: Queue }) {
  const { inks, palette } = useTheme()
  const places = queue.splices.toSorted((a, b) => a.splice.pairs[0]!.a.fiber - b.splice.pairs[0]!.a.fiber)
  const size = 14
  const perRow = 24
  const rows = Math.ceil(places.length / perRow)
  const filled = places.filter(({ state }) => state === 'accepted').length
  return (
    <svg
      width="100%"
      viewBox={`0 0 ${Math.min(perRow, places.length) * size + 2} ${rows * 24 + 2}`}
      style={{ display: 'block', maxWidth: Math.min(perRow, places.length) * size * 1.6, marginBottom: 12 }}
      role="img"
      aria-label={`Tray: ${filled} of ${places.length} places filled`}
    >
      {places.map(({ splice, state }, i) => (
        <rect
          key={splice.id}
          x={2 + (i % perRow) * size}
          y={2 + Math.floor(i / perRow) * 24}
          width={10}
          height={20}
          rx={3}
          fill={state === 'accepted' ? inks.thread : 'none'}
          stroke={splice.id === queue.current?.splice.id ? palette.primary.main : inks.label}
          strokeWidth={splice.id === queue.current?.splice.id ? 3 : 1}
        />
      ))}
    </svg>
  )
}
