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
import CheckIcon from '@mui/icons-material/Check'
import DragIndicatorIcon from '@mui/icons-material/DragIndicator'
import PushPinIcon from '@mui/icons-material/PushPin'
import PushPinOutlinedIcon from '@mui/icons-material/PushPinOutlined'
import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { scaleLinear } from 'd3'
import { useRef } from 'react'
import { useWidth } from '../../thread/useWidth.ts'
import { MONO } from '../../app/theme.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { editOfMove } from './draft.ts'
import { fromBegin, unitsInWords } from './planWords.ts'

const BAR = 18
/** Width of "12:00 to 12:30". */
const TEXT = 120
/** Below this the times stand beside the name. */
const NARROW = 340

export interface DoneLine {
  minutes: number
  by: string
}

/** The order of work: what, where, who, from when to when; dragged or moved by keys to another place. */
export function ScheduleChart({
  order,
  kit,
  onEdit,
  done,
  onDone,
}: {
  order: OrderOfWork
  kit: Kit
  /** null: it can't be changed. */
  onEdit: ((edit: PlanEdit) => void) | null
  done: ReadonlyMap<string, DoneLine>
  onDone: ((line: OrderLine) => void) | null
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const ids = order.lines.map(({ id }) => id)
  const rows = (
    <Box component="ol" aria-label="Order of work" sx={{ listStyle: 'none', p: 0, m: 0 }}>
      {order.lines.map((line, k) => (
        <Row
          key={line.id}
          line={line}
          arrives={order.lines[k - 1]?.site !== line.site}
          kit={kit}
          until={order.finish.p90}
          onEdit={onEdit}
          done={done.get(line.id) ?? null}
          onDone={onDone}
        />
      ))}
    </Box>
  )
  if (!onEdit) return rows
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
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

function Row({
  line,
  arrives,
  kit,
  until,
  onEdit,
  done,
  onDone,
}: {
  line: OrderLine
  /** It is the first at its place. */
  arrives: boolean
  kit: Kit
  until: number
  onEdit: ((edit: PlanEdit) => void) | null
  done: DoneLine | null
  onDone: ((line: OrderLine) => void) | null
}) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: line.id,
    disabled: !onEdit,
  })
  return (
    <Box
      component="li"
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '44px 1fr 88px', md: '44px minmax(260px, 38%) 1fr 88px' },
        alignItems: 'center',
        // On paper: a box to tick, the step, its times.
        '@media print': { gridTemplateColumns: '1fr' },
        columnGap: 1,
        borderBottom: 1,
        borderColor: 'divider',
        bgcolor: isDragging ? 'action.hover' : 'background.paper',
        position: 'relative',
        zIndex: isDragging ? 1 : 'auto',
      }}
    >
      {onEdit ? (
        <IconButton
          ref={setActivatorNodeRef}
          aria-label={`Move: ${line.name}`}
          {...attributes}
          {...listeners}
          sx={{ touchAction: 'none', cursor: 'grab' }}
        >
          <DragIndicatorIcon />
        </IconButton>
      ) : (
        <span />
      )}
      <Box
        sx={{
          py: 0.5,
          '@media print': { display: 'flex', justifyContent: 'space-between', gap: 2, py: 0.25 },
        }}
      >
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
          {[arrives ? `at ${line.site}` : null, unitsInWords(line, kit)].filter(Boolean).join(': ')}
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
        <Bar line={line} until={until} />
      </Box>
      <Box sx={{ display: 'flex', justifyContent: 'flex-end' }} className="not-on-paper">
        {onDone && !done && (
          <Tooltip title="Done: enter its minutes">
            <IconButton aria-label={`Done: ${line.name}`} onClick={() => onDone(line)}>
              <CheckIcon />
            </IconButton>
          </Tooltip>
        )}
        {onEdit && (
          <IconButton
            aria-label={line.pinned ? `Unpin: ${line.name}` : `Pin where it is: ${line.name}`}
            onClick={() => onEdit({ kind: 'pin', line: line.id, minutes: line.pinned ? 0 : Math.round(line.start) })}
          >
            {line.pinned ? <PushPinIcon /> : <PushPinOutlinedIcon />}
          </IconButton>
        )}
      </Box>
    </Box>
  )
}

function Bar({ line, until }: { line: OrderLine; until: number }) {
  const { inks } = useTheme()
  const box = useRef<HTMLDivElement>(null)
  const width = useWidth(box)
  const x = scaleLinear([0, Math.max(1, until)], [0, Math.max(0, width - 4)])
  const [from, to] = [x(line.start), x(line.end.planned)]
  const reach = Math.max(to, x(line.end.p90))
  const inside = reach + TEXT > width
  return (
    <Box ref={box}>
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
    </Box>
  )
}

function times({ start, end }: OrderLine): string {
  return `${fromBegin(start)} to ${fromBegin(end.planned)}`
}
