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
import DragIndicatorIcon from '@mui/icons-material/DragIndicator'
import PushPinIcon from '@mui/icons-material/PushPin'
import PushPinOutlinedIcon from '@mui/icons-material/PushPinOutlined'
import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { scaleLinear } from 'd3'
import { useRef } from 'react'
import { useWidth } from '../../thread/useWidth.ts'
import { MONO } from '../../app/theme.ts'
import { editOfMove } from './draft.ts'
import { fromBegin, unitsInWords } from './planWords.ts'

const BAR = 18

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
      {order.lines.map((line) => (
        <Row
          key={line.id}
          line={line}
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
  kit,
  until,
  onEdit,
  done,
  onDone,
}: {
  line: OrderLine
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
        gridTemplateColumns: { xs: '44px 1fr', md: '44px minmax(260px, 38%) 1fr 44px' },
        alignItems: 'center',
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
      <Box sx={{ py: 0.5 }}>
        <Typography sx={{ fontWeight: line.onChain ? 650 : 400, lineHeight: 1.3 }}>{line.name}</Typography>
        <Typography sx={{ fontSize: 13.5, color: 'text.secondary' }}>
          {[line.site, unitsInWords(line, kit)].filter(Boolean).join(' · ')}
        </Typography>
        {done ? (
          <Typography sx={{ fontSize: 13.5 }}>
            done in {done.minutes} min (planned {Math.round(line.end.planned - line.start)}), {done.by}
          </Typography>
        ) : (
          onDone && (
            <Box
              component="button"
              type="button"
              onClick={() => onDone(line)}
              sx={{
                minHeight: 44,
                border: 0,
                p: 0,
                background: 'none',
                color: 'primary.main',
                font: 'inherit',
                fontSize: 14,
                textDecoration: 'underline',
                cursor: 'pointer',
              }}
              className="not-on-paper"
            >
              Done: enter its minutes
            </Box>
          )
        )}
      </Box>
      <Box sx={{ gridColumn: { xs: '2', md: 'auto' }, pb: { xs: 0.5, md: 0 }, minWidth: 0 }}>
        <Bar line={line} until={until} />
      </Box>
      <Box sx={{ display: { xs: 'none', md: 'block' } }}>
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
  const times = `${fromBegin(line.start)} to ${fromBegin(line.end.planned)}`
  const inside = to + 96 > width
  return (
    <Box ref={box}>
      <svg width={width} height={BAR + 8} role="img" aria-label={`${times}, 90 % by ${fromBegin(line.end.p90)}`}>
        <line x1={to} x2={x(line.end.p90)} y1={BAR / 2 + 4} y2={BAR / 2 + 4} stroke={inks.baseline} strokeWidth={3} />
        <rect
          x={from}
          y={4}
          width={Math.max(2, to - from)}
          height={BAR}
          rx={3}
          fill={line.onChain ? inks.present : inks.baseline}
        />
        <text
          x={inside ? Math.max(0, from - 6) : Math.max(to, x(line.end.p90)) + 6}
          y={BAR / 2 + 9}
          textAnchor={inside ? 'end' : 'start'}
          fontSize={13}
          fontFamily={MONO}
          fill={inks.label}
        >
          {times}
        </text>
      </svg>
    </Box>
  )
}
