import type { PlanContent } from '@cold-thread/contract'
import type { Kit, WindowRule } from '@cold-thread/core/kit'
import {
  judgeWindow,
  nextWindows,
  writeCalendar,
  type OrderOfWork,
  type Window,
  type WindowJudgement,
  type WindowNeed,
} from '@cold-thread/core/plan'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import Radio from '@mui/material/Radio'
import RadioGroup from '@mui/material/RadioGroup'
import Link from '@mui/material/Link'
import Typography from '@mui/material/Typography'
import { DateTime } from 'luxon'
import { useMemo, useState } from 'react'
import { Link as RouterLink } from 'react-router'
import { Judgement, type Tone } from '../../ui/Judgement.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { crewNames, minutesInWords } from './planWords.ts'

const SHOWN = 6
const MINUTE = 60_000

const FITS: Record<WindowJudgement['fits'], { tone: Tone; word: string }> = {
  yes: { tone: 'good', word: 'fits' },
  tight: { tone: 'close', word: 'tight' },
  no: { tone: 'bad', word: 'too short' },
}

/** When to work: now on a link that is down, in a window on one that still carries traffic. */
export function WindowPicker({
  order,
  kit,
  crews,
  carriesTraffic,
  chosen,
  onChoose,
  calendar,
}: {
  order: OrderOfWork
  kit: Kit
  crews: number
  /** The link is degraded, not down. */
  carriesTraffic: boolean
  chosen: PlanContent['window']
  onChoose(window: PlanContent['window']): void
  /** What the calendar's entry says. */
  calendar: { id: string; title: string; place: string; text: string }
}) {
  const need = needOf(order)
  const [asked, setAsked] = useState(carriesTraffic || chosen !== null)
  const names = crewNames(kit, crews).join()
  const judged = useMemo(() => {
    if (!need) return []
    return nextWindows(kit.hours.windows, new Date(), SHOWN).map((window) => ({
      window,
      judgement: judgeWindow(window, need, kit.hours, names.split(',')),
    }))
    // The need is a fresh object each time; its figures are what counts.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [kit, names, JSON.stringify(need)])
  const picked = judged.find(({ window }) => window.start.toISOString() === chosen?.start)
  const advised = judged.find(
    ({ window, judgement }) =>
      judgement.fits === 'yes' && judgement.crews.length === 0 && window.rule.traffic === 'light',
  )
  return (
    <Section
      title="When"
      action={
        picked && (
          <Button variant="outlined" sx={{ minHeight: 44 }} onClick={() => download(picked, order, calendar)}>
            Calendar file
          </Button>
        )
      }
    >
      <Typography sx={{ mb: 1 }}>
        {carriesTraffic
          ? 'The link still carries traffic: it is worked in a maintenance window. Only what touches working fibers must lie in it.'
          : 'The link is down: it is worked now.'}{' '}
        {order.outage &&
          `Cable or fibers are touched ${minutesInWords(order.outage.touchAt)} after leaving, first by “${order.outage.firstTouch}”; from then all are back within ${minutesInWords(order.outage.p50)}, 90 % within ${minutesInWords(order.outage.p90)}.`}
      </Typography>
      {!asked ? (
        <Button variant="outlined" onClick={() => setAsked(true)}>
          Plan it into a window all the same
        </Button>
      ) : kit.hours.windows.length === 0 ? (
        <Typography>
          No maintenance window is entered.{' '}
          <Link component={RouterLink} to="/kit">
            Enter windows and shifts
          </Link>
          .
        </Typography>
      ) : (
        <RadioGroup
          aria-label="When to work"
          value={chosen?.start ?? 'now'}
          onChange={(_, value) => {
            const window = judged.find((one) => one.window.start.toISOString() === value)?.window
            onChoose(
              window
                ? { name: window.rule.name, start: window.start.toISOString(), end: window.end.toISOString() }
                : null,
            )
          }}
        >
          <FormControlLabel value="now" control={<Radio />} label={carriesTraffic ? 'no window chosen' : 'now'} />
          {judged.map(({ window, judgement }) => (
            <FormControlLabel
              key={`${window.rule.id} ${window.start.toISOString()}`}
              value={window.start.toISOString()}
              control={<Radio />}
              sx={{ alignItems: 'flex-start', py: 0.25 }}
              label={
                <Box
                  component="span"
                  sx={{ display: 'flex', columnGap: 1.5, flexWrap: 'wrap', alignItems: 'center', pt: 1.1 }}
                >
                  <span>
                    {windowInWords(window)}, traffic {window.rule.traffic}
                  </span>
                  <Judgement {...FITS[judgement.fits]} />
                  {judgement.crews.length > 0 && <Judgement tone="close" word="crew off shift" />}
                  {advised?.window === window && <strong>first that fits</strong>}
                </Box>
              }
            />
          ))}
        </RadioGroup>
      )}
      {chosen && !picked && (
        <Alert severity="warning" variant="outlined" sx={{ mt: 1 }}>
          The chosen window ({chosen.name}, {clock(chosen.start)}) has passed or is no longer among the next {SHOWN}:
          choose another.
        </Alert>
      )}
      {asked && need && judged.length > 0 && judged.every(({ judgement }) => judgement.fits !== 'yes') && (
        <Alert severity="warning" variant="outlined" sx={{ mt: 1 }}>
          None of these windows holds nine runs of ten: the longest lasts{' '}
          {minutesInWords(Math.max(...judged.map(({ window }) => window.minutes)))}, {minutesInWords(need.outage.p90)}{' '}
          are needed. A second splicer, ribbons, fewer fibers at a time or moving the circuits to spares shortens it.
        </Alert>
      )}
      {picked && (
        <Alert
          severity={picked.judgement.fits === 'yes' && picked.judgement.crews.length === 0 ? 'info' : 'warning'}
          variant="outlined"
          sx={{ mt: 1 }}
        >
          Leave at {local(picked.judgement.leave, picked.window.rule)}.
          <Box component="ul" sx={{ pl: 2.5, m: 0 }}>
            {picked.judgement.words.map((words) => (
              <li key={words}>{words}</li>
            ))}
            <li>
              Roll back before that point: lay fibers back as found, close, pressure test, clear the place; the link
              stays as degraded as it is.
            </li>
          </Box>
        </Alert>
      )}
    </Section>
  )
}

function windowInWords({ rule, start, end }: Window<WindowRule>): string {
  const [from, to] = [start, end].map((date) => DateTime.fromJSDate(date, { zone: rule.zone })) as [DateTime, DateTime]
  return `${rule.name}: ${from.toFormat('ccc d LLL HH:mm')} to ${to.toFormat('HH:mm')} (${rule.zone})`
}

function local(date: Date, { zone }: WindowRule): string {
  return DateTime.fromJSDate(date, { zone }).toFormat('ccc d LLL HH:mm')
}

/** Closing as found takes what the plan has for it. */
const CLOSING = new Set(['close', 'pressure-test', 'clear-up'])

export function needOf({ outage, lines, finish }: OrderOfWork): WindowNeed | null {
  if (!outage) return null
  const closing = lines.filter(({ kind }) => CLOSING.has(kind))
  return {
    before: outage.touchAt,
    outage: { p50: outage.p50, p90: outage.p90 },
    rollBack: closing.reduce((sum, { start, end }) => sum + end.planned - start, 0),
    firstTouch: outage.firstTouch,
    whole: finish.p90,
  }
}

function download(
  { window, judgement }: { window: Window<WindowRule>; judgement: WindowJudgement },
  order: OrderOfWork,
  { id, title, place, text }: { id: string; title: string; place: string; text: string },
): void {
  const end = new Date(judgement.leave.getTime() + order.finish.p90 * MINUTE)
  const file = writeCalendar(
    title,
    [
      {
        id: `${id}-work`,
        title,
        start: judgement.leave,
        end,
        place,
        text: [text, ...judgement.words].join('\n'),
        remind: 60,
      },
      {
        id: `${id}-window`,
        title: `${title}: window`,
        start: window.start,
        end: window.end,
        place,
        text: judgement.words.join('\n'),
        remind: null,
      },
    ],
    new Date(),
  )
  const address = URL.createObjectURL(new Blob([file], { type: 'text/calendar' }))
  const anchor = document.createElement('a')
  anchor.href = address
  anchor.download = 'plan.ics'
  anchor.click()
  URL.revokeObjectURL(address)
}
