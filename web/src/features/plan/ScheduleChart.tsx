import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import type { Kit } from '@cold-thread/core/kit'
import type { OrderLine, OrderOfWork, PlanEdit } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import Typography from '@mui/material/Typography'
import { styled, useTheme } from '@mui/material/styles'
import { scaleLinear } from 'd3'
import { memo, useCallback, useRef, useState } from 'react'
import { CheckIcon, DragIcon, PinIcon, PinOutlinedIcon } from '../../ui/icons.tsx'
import { MONO } from '../../app/theme.ts'
import { useWidth } from '../../thread/useWidth.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { useShownRows } from '../../ui/useShownRows.ts'
import { editOfMove } from './draft.ts'
import { fromBegin, hourTicks, unitsInWords } from './planWords.ts'

const BAR = 18
/** Width of "12:00 to 12:30". */
const TEXT = 120
/** Height of a row with a name of one line. */
const ROW = 53
/** Below this the times stand beside the name. */
const NARROW = 340

export interface DoneLine {
  minutes: number
  by: string
}

interface Actions {
  /** null: it can't be changed. */
  onEdit: ((edit: PlanEdit) => void) | null
  onDone: ((line: OrderLine) => void) | null
}

/** The order of work: what, where, who, from when to when; dragged or moved by keys to another place. */
export function ScheduleChart({
  order,
  kit,
  done,
  onEdit,
  onDone,
}: {
  order: OrderOfWork
  kit: Kit
  done: ReadonlyMap<string, DoneLine>
} & Actions) {
  const axis = useRef<HTMLDivElement>(null)
  const width = useWidth(axis)
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const ids = order.lines.map(({ id }) => id)
  const [dragged, setDragged] = useState<number | null>(null)
  const { shown, behind, list, measure } = useShownRows(order.lines.length, ROW, dragged)
  const rows = (
    <>
      <RowGrid as="div" className="not-on-paper">
        <span />
        <Box sx={{ display: { xs: 'none', md: 'block' } }} />
        <Box ref={axis} sx={{ gridColumn: { xs: '2 / 4', md: '3' }, minWidth: 0 }}>
          <Axis until={order.finish.p90} width={width} />
        </Box>
      </RowGrid>
      <Box
        component="ol"
        ref={list}
        aria-label="Order of work"
        sx={{ listStyle: 'none', p: 0, m: 0 }}
        style={{ paddingBottom: behind }}
      >
        {shown.map(({ index, gap }) => (
          <Row
            key={order.lines[index]!.id}
            index={index}
            of={order.lines.length}
            gap={gap}
            measure={measure}
            line={order.lines[index]!}
            arrives={order.lines[index - 1]?.site !== order.lines[index]!.site}
            kit={kit}
            until={order.finish.p90}
            width={width}
            done={done.get(order.lines[index]!.id) ?? null}
            onEdit={onEdit}
            onDone={onDone}
          />
        ))}
      </Box>
    </>
  )
  if (!onEdit) return rows
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragStart={({ active }) => setDragged(ids.indexOf(String(active.id)))}
      onDragCancel={() => setDragged(null)}
      onDragEnd={({ active, over }) => {
        setDragged(null)
        const edit = over && editOfMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id)))
        if (edit) onEdit(edit)
      }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {rows}
      </SortableContext>
    </DndContext>
  )
}

const RowGrid = styled('li')(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: '44px 1fr 88px',
  [theme.breakpoints.up('md')]: { gridTemplateColumns: '44px minmax(260px, 38%) 1fr 88px' },
  // On paper: a box to tick, the step, its times.
  '@media print': { gridTemplateColumns: '1fr' },
  alignItems: 'center',
  columnGap: theme.spacing(1),
  borderBottom: `1px solid ${theme.palette.divider}`,
  background: theme.palette.background.paper,
  position: 'relative',
  '&[data-dragged=true]': { background: theme.palette.action.selected, zIndex: 1 },
}))

interface LineProps {
  line: OrderLine
  /** It is the first at its place. */
  arrives: boolean
  kit: Kit
  /** What the axis reaches to, minutes. */
  until: number
  /** Of the bars, pixels. */
  width: number
  done: DoneLine | null
}

/** While something is dragged every row is laid anew: only this frame of it, not what stands in it. */
function Row({
  index,
  of,
  gap,
  measure,
  ...props
}: LineProps & Actions & { index: number; of: number; gap: number; measure(row: Element | null): void }) {
  const { line, onEdit } = props
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: line.id,
    disabled: !onEdit,
  })
  const ref = useCallback(
    (row: HTMLLIElement | null) => {
      setNodeRef(row)
      measure(row)
    },
    [setNodeRef, measure],
  )
  return (
    <RowGrid
      ref={ref}
      data-index={index}
      data-dragged={isDragging}
      aria-posinset={index + 1}
      aria-setsize={of}
      style={{ transform: CSS.Translate.toString(transform), transition, marginTop: gap }}
    >
      {onEdit ? (
        <Handle
          ref={setActivatorNodeRef}
          type="button"
          className="not-on-paper"
          {...attributes}
          {...listeners}
          aria-label={`Move: ${line.name}`}
        >
          <HandleIcon />
        </Handle>
      ) : (
        <span />
      )}
      <LineBody {...props} />
    </RowGrid>
  )
}

const Handle = styled('button')(({ theme }) => ({
  width: 44,
  height: 44,
  border: 0,
  background: 'none',
  color: theme.palette.text.secondary,
  touchAction: 'none',
  cursor: 'grab',
  '&:focus-visible': { outline: `3px solid ${theme.palette.primary.main}` },
}))
const HandleIcon = memo(DragIcon)

const LineBody = memo(function LineBody({
  line,
  arrives,
  kit,
  until,
  width,
  done,
  onEdit,
  onDone,
}: LineProps & Actions) {
  const where = [arrives ? `at ${line.site}` : null, unitsInWords(line, kit)].filter(Boolean).join(': ')
  return (
    <>
      <Box sx={{ py: 0.5, '@media print': { display: 'flex', justifyContent: 'space-between', gap: 2, py: 0.25 } }}>
        <Typography sx={{ fontWeight: line.onChain ? 650 : 400, lineHeight: 1.3 }}>
          <Box component="span" aria-hidden sx={{ display: 'none', '@media print': { display: 'inline' } }}>
            ☐{' '}
          </Box>
          {line.name}
        </Typography>
        <Typography sx={{ fontSize: 13.5, color: 'text.secondary' }}>
          <Box
            component="span"
            sx={{
              display: { md: 'none' },
              '@media print': { display: 'inline' },
              fontFamily: MONO,
              color: 'text.primary',
            }}
          >
            {times(line)}{' '}
          </Box>
          {where}
        </Typography>
        {done && (
          <Typography sx={{ fontSize: 13.5 }}>
            <Judgement tone="good" word="done" /> in {done.minutes} min, planned{' '}
            {Math.round(line.end.planned - line.start)}; {done.by}
          </Typography>
        )}
      </Box>
      <Box
        sx={{ gridColumn: { xs: '2 / 4', md: 'auto' }, order: { xs: 1, md: 0 }, minWidth: 0 }}
        className="not-on-paper"
      >
        <Bar line={line} until={until} width={width} />
      </Box>
      <Box sx={{ display: 'flex', justifyContent: 'flex-end' }} className="not-on-paper">
        {onDone && !done && (
          <IconButton aria-label={`Done: ${line.name}`} title="Done: enter its minutes" onClick={() => onDone(line)}>
            <CheckIcon />
          </IconButton>
        )}
        {onEdit && (
          <IconButton
            aria-label={line.pinned ? `Unpin: ${line.name}` : `Pin where it is: ${line.name}`}
            title={line.pinned ? 'Unpin' : 'Not before this time'}
            onClick={() => onEdit({ kind: 'pin', line: line.id, minutes: line.pinned ? 0 : Math.round(line.start) })}
          >
            {line.pinned ? <PinIcon /> : <PinOutlinedIcon />}
          </IconButton>
        )}
      </Box>
    </>
  )
})

const scaleOf = (until: number, width: number) => scaleLinear([0, Math.max(1, until)], [0, Math.max(0, width - 4)])

function Axis({ until, width }: { until: number; width: number }) {
  const { inks } = useTheme()
  const x = scaleOf(until, width)
  return (
    <svg width={width} height={20} aria-hidden>
      {hourTicks(until, Math.max(2, Math.floor(width / 90))).map((tick) => (
        <text
          key={tick}
          x={x(tick)}
          y={14}
          textAnchor={tick === 0 ? 'start' : 'middle'}
          fontSize={13}
          fontFamily={MONO}
          fill={inks.label}
        >
          {fromBegin(tick)}
        </text>
      ))}
    </svg>
  )
}

function Bar({ line, until, width }: { line: OrderLine; until: number; width: number }) {
  const { inks } = useTheme()
  const x = scaleOf(until, width)
  const [from, to] = [x(line.start), x(line.end.planned)]
  const reach = Math.max(to, x(line.end.p90))
  const inside = reach + TEXT > width
  return (
    <svg width={width} height={BAR + 8} role="img" aria-label={`${times(line)}, 90 % by ${fromBegin(line.end.p90)}`}>
      <line x1={to} x2={x(line.end.p90)} y1={BAR / 2 + 4} y2={BAR / 2 + 4} stroke={inks.baseline} strokeWidth={3} />
      <rect
        x={from}
        y={4}
        width={Math.max(2, to - from)}
        height={BAR}
        rx={3}
        fill={line.onChain ? inks.present : inks.baseline}
      />
      {width > NARROW && (
        <text
          x={inside ? from - 6 : reach + 6}
          y={BAR / 2 + 9}
          textAnchor={inside ? 'end' : 'start'}
          fontSize={13}
          fontFamily={MONO}
          fill={inks.label}
        >
          {times(line)}
        </text>
      )}
    </svg>
  )
}

function times({ start, end }: OrderLine): string {
  return `${fromBegin(start)} to ${fromBegin(end.planned)}`
}
