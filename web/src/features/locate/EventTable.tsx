import type { MarkEntry } from '@cold-thread/contract'
import type { TwoWayEvent } from '@cold-thread/core/locate'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableContainer from '@mui/material/TableContainer'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import TextField from '@mui/material/TextField'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef, useState } from 'react'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { SelectField } from '../../ui/SelectField.tsx'
import type { LocateView, TraceCurve } from '../../worker/view.ts'
import type { MarkObservation } from './useLocated.ts'

const WHY = {
  'inside-dead-zone': 'inside the dead zone',
  'below-noise': 'below the noise',
  overlap: 'runs into a neighbouring event',
  'no-two-way': 'known from one end only',
} as const

type Event = TraceCurve['events'][number]

/** A struck mark belongs to the computed event within this, m: the computed place may move a little when recomputed. */
const SAME_MARK_METRES = 2

const FIGURES = { align: 'right' as const, sx: { fontVariantNumeric: 'tabular-nums', whiteSpace: 'nowrap' } }
const ROW_HEIGHT = 44
/** Up to so many rows, as most traces have, all are drawn. */
const FEW_ROWS = 60

/** The events of one trace with their uncertainties; a row chosen is shown on the thread. */
export function EventTable({
  view,
  onChoose,
  marks = [],
  onMark,
  onTakeBack,
}: {
  view: LocateView
  onChoose(ground: number): void
  /** People's own marks that stand, of any trace. */
  marks?: readonly MarkObservation[]
  /** Absent where the person may not mark. */
  onMark?: ((mark: Omit<MarkEntry, 'kind'>) => void) | undefined
  onTakeBack?: ((id: string) => void) | undefined
}) {
  const traces = view.traces.toSorted((a, b) => Number(b.role === 'present') - Number(a.role === 'present'))
  const [chosen, setChosen] = useState<string | null>(null)
  const trace = traces.find((candidate) => candidate.id === chosen) ?? traces[0]
  const scroller = useRef<HTMLDivElement>(null)
  const rows = useRows(trace?.events.length ?? 0, scroller)
  if (!trace) return null
  const own = marks.filter((mark) => mark.entry.traceId === trace.id)
  const markOf = (event: Event) =>
    own.find(({ entry }) => entry.action !== 'added' && Math.abs(entry.distance - event.distance) < SAME_MARK_METRES)
  const both = trace.events.some((event) => event.twoWay)
  const marking = onMark !== undefined || own.length > 0
  const columns = 4 + Number(both) + Number(marking)
  return (
    <Section
      title="Events"
      action={
        <SelectField
          size="small"
          label="Trace"
          value={trace.id}
          onChoose={setChosen}
          sx={{ minWidth: 250 }}
          options={traces.map(
            (one) =>
              [one.id, `${one.role}, ${one.direction === 'ab' ? 'near' : 'far'} end, ${one.wavelength} nm`] as const,
          )}
        />
      }
    >
      <TableContainer ref={scroller} sx={{ maxHeight: 420, '@media print': { maxHeight: 'none' } }}>
        <Table size="small" stickyHeader aria-label="Events of the trace" aria-rowcount={trace.events.length + 1}>
          <TableHead>
            <TableRow>
              <TableCell>Kind</TableCell>
              <TableCell align="right">Distance, m</TableCell>
              <TableCell align="right">Loss, dB</TableCell>
              {both && <TableCell align="right">Both ways, dB</TableCell>}
              <TableCell align="right">Reflectance, dB</TableCell>
              {marking && <TableCell>Mark</TableCell>}
            </TableRow>
          </TableHead>
          <TableBody>
            <Gap height={rows.before} columns={columns} />
            {rows.shown.map((k) => {
              const event = trace.events[k]!
              const mark = markOf(event)
              return (
                <TableRow
                  key={`${event.kind} ${event.distance}`}
                  ref={rows.measure}
                  data-index={k}
                  aria-rowindex={k + 2}
                  hover
                  tabIndex={0}
                  onClick={() => onChoose(event.ground)}
                  onKeyDown={(key) => key.key === 'Enter' && onChoose(event.ground)}
                  sx={{
                    cursor: 'pointer',
                    height: ROW_HEIGHT,
                    ...(mark?.entry.action === 'struck' ? { textDecoration: 'line-through' } : {}),
                  }}
                >
                  <TableCell>{kindOf(event)}</TableCell>
                  <TableCell {...FIGURES}>
                    {event.distance.toFixed(1)} <Spread>± {event.distanceSigma.toFixed(1)}</Spread>
                    {mark?.entry.to !== undefined && (
                      <Box component="span" sx={{ display: 'block' }}>
                        moved to {mark.entry.to.toFixed(1)}
                      </Box>
                    )}
                  </TableCell>
                  <TableCell {...FIGURES}>
                    <Loss event={event} />
                  </TableCell>
                  {both && (
                    <TableCell {...FIGURES}>
                      {event.twoWay ? <TwoWay event={event.twoWay} /> : <Spread>–</Spread>}
                    </TableCell>
                  )}
                  <TableCell {...FIGURES}>
                    {event.reflectance === null
                      ? '–'
                      : `${event.bound?.reflectance === 'min' ? '≥ ' : ''}${event.reflectance.toFixed(1)}`}
                  </TableCell>
                  {marking && (
                    <TableCell onClick={(click) => click.stopPropagation()} sx={{ textDecoration: 'none' }}>
                      {mark ? (
                        <MarkWords mark={mark} onTakeBack={onTakeBack} />
                      ) : (
                        onMark &&
                        event.kind !== 'start' && (
                          <MarkButtons
                            event={event}
                            onMark={(change) => onMark({ traceId: trace.id, remark: '', ...change })}
                          />
                        )
                      )}
                    </TableCell>
                  )}
                </TableRow>
              )
            })}
            <Gap height={rows.after} columns={columns} />
            {own
              .filter(({ entry }) => entry.action === 'added')
              .map((mark) => (
                <TableRow key={mark.id} sx={{ height: ROW_HEIGHT }}>
                  <TableCell>mark{mark.entry.remark && `: ${mark.entry.remark}`}</TableCell>
                  <TableCell {...FIGURES}>{mark.entry.distance.toFixed(1)}</TableCell>
                  <TableCell {...FIGURES}>–</TableCell>
                  {both && <TableCell {...FIGURES}>–</TableCell>}
                  <TableCell {...FIGURES}>–</TableCell>
                  <TableCell>
                    <MarkWords mark={mark} onTakeBack={onTakeBack} />
                  </TableCell>
                </TableRow>
              ))}
          </TableBody>
        </Table>
      </TableContainer>
      {onMark && <MarkForm onMark={(mark) => onMark({ traceId: trace.id, action: 'added', ...mark })} />}
    </Section>
  )
}

/** Which rows of a long table are drawn: those in sight and some around them. */
function useRows(count: number, scroller: React.RefObject<HTMLDivElement | null>) {
  const virtualizer = useVirtualizer({
    count: count > FEW_ROWS ? count : 0,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 8,
  })
  if (count <= FEW_ROWS) return { shown: [...Array(count).keys()], before: 0, after: 0 }
  const items = virtualizer.getVirtualItems()
  return {
    shown: items.map((item) => item.index),
    before: items[0]?.start ?? 0,
    after: virtualizer.getTotalSize() - (items.at(-1)?.end ?? 0),
    measure: virtualizer.measureElement,
  }
}

/** The room of rows that are not drawn. */
function Gap({ height, columns }: { height: number; columns: number }) {
  if (height <= 0) return null
  return (
    <TableRow aria-hidden>
      <TableCell colSpan={columns} sx={{ height, p: 0, border: 0 }} />
    </TableRow>
  )
}

function Loss({ event }: { event: Event }) {
  if (event.loss !== null)
    return (
      <>
        {event.loss.toFixed(3)} <Spread>± {Math.max(event.lossSigma!, 0.001).toFixed(3)}</Spread>
      </>
    )
  if (!event.together) return <Spread>{event.why?.loss ? WHY[event.why.loss] : '–'}</Spread>
  const { loss, sigma, events } = event.together
  return (
    <>
      ≤ {loss.toFixed(3)} <Spread>± {Math.max(sigma, 0.001).toFixed(3)}</Spread>
      <Box component="span" sx={{ display: 'block', fontSize: 13, color: 'text.secondary' }}>
        {events} events together: no fiber between them
      </Box>
    </>
  )
}

/** The true loss; fibers that differ in backscatter make each one-way figure wrong by half their difference. */
function TwoWay({ event }: { event: TwoWayEvent }) {
  return (
    <>
      {event.loss.toFixed(3)} <Spread>± {Math.max(event.lossSigma, 0.001).toFixed(3)}</Spread>
      {event.fibersDiffer && (
        <Box component="span" sx={{ display: 'block', fontSize: 13 }}>
          fibers differ: one way is off by {Math.abs(event.difference / 2).toFixed(2)}
        </Box>
      )}
    </>
  )
}

/** What a person may do to a computed event: strike it out, or say where it stands instead. */
function MarkButtons({
  event,
  onMark,
}: {
  event: Event
  onMark(mark: Pick<MarkEntry, 'action' | 'distance' | 'to'>): void
}) {
  const [place, setPlace] = useState<string | null>(null)
  const { distance } = event
  if (place === null)
    return (
      <Box sx={{ display: 'flex' }}>
        <Button size="small" onClick={() => onMark({ action: 'struck', distance })}>
          Strike out
        </Button>
        <Button size="small" onClick={() => setPlace(distance.toFixed(1))}>
          Move
        </Button>
      </Box>
    )
  const to = place.trim() === '' ? NaN : Number(place.replace(',', '.'))
  return (
    <Box
      component="form"
      onSubmit={(submit: React.FormEvent) => {
        submit.preventDefault()
        if (to >= 0) onMark({ action: 'moved', distance, to })
      }}
      onKeyDown={(key) => key.stopPropagation()}
      sx={{ display: 'flex', gap: 0.5, alignItems: 'center' }}
    >
      <TextField
        autoFocus
        size="small"
        label="Stands at, m"
        value={place}
        onChange={(change) => setPlace(change.target.value)}
        sx={{ width: 120 }}
      />
      <Button size="small" type="submit" disabled={!(to >= 0)}>
        Move it
      </Button>
      <Button size="small" onClick={() => setPlace(null)}>
        Cancel
      </Button>
    </Box>
  )
}

/** Who marked and when, and how to take it back. */
function MarkWords({ mark, onTakeBack }: { mark: MarkObservation; onTakeBack: ((id: string) => void) | undefined }) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: 13 }}>
      <span>
        {mark.entry.action} by {mark.by}, {clock(mark.observedAt)}
      </span>
      {onTakeBack && (
        <Button size="small" onClick={() => onTakeBack(mark.id)}>
          Undo
        </Button>
      )}
    </Box>
  )
}

function MarkForm({ onMark }: { onMark(mark: { distance: number; remark: string }): void }) {
  const [distance, setDistance] = useState('')
  const [remark, setRemark] = useState('')
  const metres = distance.trim() === '' ? NaN : Number(distance.replace(',', '.'))
  return (
    <Box
      component="form"
      onSubmit={(event: React.FormEvent) => {
        event.preventDefault()
        if (!(metres >= 0)) return
        onMark({ distance: metres, remark: remark.trim() })
        setDistance('')
        setRemark('')
      }}
      sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center', mt: 1.5 }}
    >
      <TextField
        size="small"
        label="Mark at, m"
        value={distance}
        onChange={(event) => setDistance(event.target.value)}
        sx={{ width: 140 }}
      />
      <TextField
        size="small"
        label="What you see there"
        value={remark}
        onChange={(event) => setRemark(event.target.value)}
        sx={{ width: 240 }}
      />
      <Button type="submit" variant="outlined" disabled={!(metres >= 0)} sx={{ minHeight: 44 }}>
        Add the mark
      </Button>
    </Box>
  )
}

function kindOf(event: Event): string {
  if (event.kind === 'reflective' && event.echoOf) return `reflection under an echo of ${event.echoOf.join(', ')}`
  if (event.kind === 'ghost') return `ghost: echo of ${(event.echoOf ?? []).join(', ')}`
  const words = { start: 'start', reflective: 'reflection', step: 'step', gain: 'gainer', end: 'end' }[event.kind]
  return event.extent > 0 ? `${words}, spread over ${event.extent.toFixed(0)} m` : words
}

function Spread({ children }: { children: React.ReactNode }) {
  return (
    <Box component="span" sx={{ color: 'text.secondary', fontSize: 13 }}>
      {children}
    </Box>
  )
}
