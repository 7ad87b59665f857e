import { colorInWords, placeInWords, placeOfFiber, whyNotFound } from '@cold-thread/core/fiber'
import {
  splicePositions,
  type CableAt,
  type CableGroup,
  type RecordedSplice,
  type TrayState,
  type TrayUnit,
  type TrayUse,
} from '@cold-thread/core/open'
import { DndContext, useDraggable, useDroppable } from '@dnd-kit/core'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'
import { spokenDrag, useDragSensors } from '../../ui/dragSensors.ts'

interface TraysProps {
  trays: readonly TrayState[]
  off: readonly TrayUnit[]
  cables: readonly CableAt[]
  splices: readonly RecordedSplice[]
  linkName(id: string): string
  working: boolean
  onUses(uses: TrayUse[]): void
}

/** Trays in their stack, each with the tubes that meet on it, its splice places filled and free. */
export function TraysDrawing({ trays, off, cables, splices, linkName, working, onUses }: TraysProps) {
  const sensors = useDragSensors()
  const put = (unit: string, to: number) =>
    onUses(
      trays.map(({ tray, units }) => {
        const ids = units.map(({ id }) => id).filter((id) => id !== unit)
        return { tray, units: tray === to ? [...ids, unit] : ids }
      }),
    )
  return (
    <DndContext
      sensors={sensors}
      accessibility={spokenDrag(
        (id) => {
          const unit = [...trays.flatMap(({ units }) => units), ...off].find((one) => one.id === id)
          return unit ? unitInWords(unit, cables) : id
        },
        (tray) => `tray ${tray}`,
      )}
      onDragEnd={({ active, over }) => {
        if (over) put(String(active.id), Number(over.id))
      }}
    >
      {trays.map((tray, i) => (
        <Tray
          key={tray.tray}
          tray={tray}
          cables={cables}
          splices={splices}
          linkName={linkName}
          working={working}
          onMove={(unit, by) => {
            const next = trays[i + by]
            if (next) put(unit, next.tray)
          }}
        />
      ))}
      {off.length > 0 && (
        <Box sx={{ mt: 1.5 }}>
          <Typography>On no tray:</Typography>
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
            {off.map((unit) => (
              <Unit
                key={unit.id}
                unit={unit}
                cables={cables}
                working={working}
                onMove={() => put(unit.id, trays[0]!.tray)}
              />
            ))}
          </Box>
        </Box>
      )}
    </DndContext>
  )
}

function Tray({
  tray,
  cables,
  splices,
  linkName,
  working,
  onMove,
}: {
  tray: TrayState
  cables: readonly CableAt[]
  splices: readonly RecordedSplice[]
  linkName(id: string): string
  working: boolean
  onMove(unit: string, by: -1 | 1): void
}) {
  const { inks } = useTheme()
  const { setNodeRef, isOver } = useDroppable({ id: String(tray.tray) })
  const capacity = tray.capacity ?? tray.splices
  const positions = splicePositions(
    tray.units,
    splices,
    cables.map(({ cable }) => cable),
  )
  return (
    <Box
      ref={setNodeRef}
      role="group"
      aria-label={`Tray ${tray.tray}: ${splicesInWords(tray.splices)}, room for ${tray.left ?? 'unknown'}`}
      sx={{
        border: 2,
        borderColor: tray.conflicts.length > 0 ? 'error.main' : isOver ? 'primary.main' : 'divider',
        borderRadius: 2,
        p: 1,
        mb: 1,
        minHeight: 56,
      }}
    >
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'center' }}>
        <Typography sx={{ fontWeight: 650, minWidth: 60 }}>Tray {tray.tray}</Typography>
        <svg width={capacity * 9 + 6} height={22} aria-hidden style={{ maxWidth: '100%' }}>
          {Array.from({ length: capacity }, (_, i) => (
            <rect
              key={i}
              x={3 + i * 9}
              y={2}
              width={6}
              height={18}
              rx={2}
              fill={i < tray.splices ? inks.thread : 'none'}
              stroke={inks.label}
            />
          ))}
        </svg>
        <Typography sx={{ fontSize: 15 }}>
          {splicesInWords(tray.splices)}
          {tray.left !== null && (tray.left >= 0 ? `, room for ${tray.left}` : `, ${-tray.left} too many`)}
        </Typography>
      </Box>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mt: 0.5 }}>
        {tray.units.map((unit) => (
          <Unit key={unit.id} unit={unit} cables={cables} working={working} onMove={(by) => onMove(unit.id, by)} />
        ))}
      </Box>
      {positions.length > 0 && (
        <Box component="details" sx={{ mt: 0.5 }}>
          <Box component="summary" sx={{ py: 1.25, display: 'list-item', cursor: 'pointer' }}>
            Splice places
          </Box>
          <Box component="ol" sx={{ m: 0, pl: 4 }}>
            {positions.map(({ position, a, b, link }) => (
              <li key={position}>
                {fiberInWords(a, cables)} to {fiberInWords(b, cables)}, {linkName(link)}
              </li>
            ))}
          </Box>
        </Box>
      )}
    </Box>
  )
}

/** A fiber in words: “TN-1 fiber 13, tube 2 orange, fiber 1 blue”. */
function fiberInWords({ cable: id, fiber }: RecordedSplice['a'], cables: readonly CableAt[]): string {
  const cable = cables.find((one) => one.cable.id === id)?.cable
  return cable && whyNotFound(cable) === null
    ? `${id} fiber ${fiber} (${placeInWords(placeOfFiber(cable, fiber))})`
    : `${id} fiber ${fiber}`
}

function splicesInWords(count: number): string {
  return count === 1 ? '1 splice' : `${count} splices`
}

/** A tube in words: “TN-1 tube 2 orange”. */
function groupInWords({ cable: id, group }: CableGroup, cables: readonly CableAt[]): string {
  const cable = cables.find((one) => one.cable.id === id)?.cable
  if (!cable || whyNotFound(cable) !== null) return `${id} group ${group}`
  const place = placeOfFiber(cable, (group - 1) * cable.tubeSize + 1)
  return `${id} ${place.groupWord} ${group} ${colorInWords(place.groupColor)}`
}

/** Two tubes that meet, in words. */
function unitInWords({ a, b }: TrayUnit, cables: readonly CableAt[]): string {
  return `${groupInWords(a, cables)} to ${groupInWords(b, cables)}`
}

function Unit({
  unit,
  cables,
  working,
  onMove,
}: {
  unit: TrayUnit
  cables: readonly CableAt[]
  working: boolean
  onMove(by: -1 | 1): void
}) {
  const { attributes, listeners, setNodeRef, transform } = useDraggable({ id: unit.id, disabled: !working })
  const words = unitInWords(unit, cables)
  return (
    <Box sx={{ display: 'inline-flex', alignItems: 'center' }}>
      {working && (
        <Button
          size="small"
          aria-label={`${words}: to the tray before`}
          onClick={() => onMove(-1)}
          sx={{ minWidth: 36, px: 0 }}
        >
          ▴
        </Button>
      )}
      <Box
        ref={setNodeRef}
        {...(working ? { ...listeners, ...attributes, 'aria-label': `${words}: drag to a tray` } : {})}
        sx={{
          cursor: working ? 'grab' : 'default',
          touchAction: working ? 'none' : undefined,
          px: 1,
          py: 0.5,
          minHeight: 44,
          display: 'grid',
          placeItems: 'center',
          border: 1,
          borderColor: 'divider',
          borderRadius: 1,
          fontSize: 15,
          bgcolor: 'background.paper',
          transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined,
          zIndex: transform ? 2 : undefined,
          position: 'relative',
        }}
      >
        {words}, {splicesInWords(unit.splices)}
      </Box>
      {working && (
        <Button
          size="small"
          aria-label={`${words}: to the tray after`}
          onClick={() => onMove(1)}
          sx={{ minWidth: 36, px: 0 }}
        >
          ▾
        </Button>
      )}
    </Box>
  )
}
