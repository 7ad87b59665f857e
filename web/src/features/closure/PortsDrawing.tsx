import { habitWord, type ClosureModel, type PortCable, type PortFinding, type PortUse } from '@cold-thread/core/open'
import { DndContext, useDraggable, useDroppable } from '@dnd-kit/core'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'
import { spokenDrag, useDragSensors } from '../../ui/dragSensors.ts'

interface PortsProps {
  model: ClosureModel
  cables: readonly PortCable[]
  uses: readonly PortUse[]
  findings: readonly PortFinding[]
  working: boolean
  onUses(uses: PortUse[]): void
}

/** The base of a closure from below: a port for each cable, drawn with its gel; cables are dragged from port to port. */
export function PortsDrawing({ model, cables, uses, findings, working, onUses }: PortsProps) {
  const sensors = useDragSensors()
  /** From a port, or from none. */
  const put = (cable: string, from: number | null, to: number) =>
    onUses(
      uses.map((use) => {
        const without = use.cables.filter((one) => one !== cable)
        if (use.port === to) return { ...use, cables: [...without, cable], plug: false }
        // An emptied port gets its plug back.
        return use.port === from ? { ...use, cables: without, plug: without.length === 0 } : use
      }),
    )
  const unplaced = cables.filter(
    ({ cable, entries }) => uses.filter((use) => use.cables.includes(cable)).length < entries,
  )
  return (
    <DndContext
      sensors={sensors}
      accessibility={spokenDrag(
        (id) => readChipId(id)[1],
        (port) => `port ${port}`,
      )}
      onDragEnd={({ active, over }) => {
        const [port, cable] = readChipId(String(active.id))
        if (over) put(cable, port === '' ? null : Number(port), Number(over.id))
      }}
    >
      <Box
        sx={{
          display: 'grid',
          gap: 1.5,
          gridTemplateColumns: { xs: '1fr 1fr', sm: 'repeat(3, 1fr)', lg: 'repeat(6, 1fr)' },
        }}
      >
        {uses.map((use) => (
          <PortCell
            key={use.port}
            use={use}
            habit={habitWord(model.ports.find(({ port }) => port === use.port)?.habit ?? 'drop')}
            conflict={findings.some(({ port, kind }) => port === use.port && kind === 'conflict')}
            working={working}
            onPlug={(plug) => onUses(uses.map((one) => (one.port === use.port ? { ...one, plug } : one)))}
            onMove={(cable, by) => {
              const at = uses.findIndex(({ port }) => port === use.port)
              const next = uses[at + by]
              if (next) put(cable, use.port, next.port)
            }}
          />
        ))}
      </Box>
      {unplaced.length > 0 && (
        <Box sx={{ mt: 1.5, display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
          <Typography>Without a port:</Typography>
          {unplaced.map(({ cable }) => (
            <CableChip
              key={cable}
              cable={cable}
              working={working}
              port={null}
              onMove={() => put(cable, null, uses[0]!.port)}
            />
          ))}
        </Box>
      )}
    </DndContext>
  )
}

function PortCell({
  use,
  habit,
  conflict,
  working,
  onPlug,
  onMove,
}: {
  use: PortUse
  habit: string
  conflict: boolean
  working: boolean
  onPlug(plug: boolean): void
  onMove(cable: string, by: -1 | 1): void
}) {
  const { inks } = useTheme()
  const { setNodeRef, isOver } = useDroppable({ id: String(use.port) })
  const what = use.cables.length > 0 ? use.cables.join(', ') : use.plug ? 'plug' : 'open'
  return (
    <Box
      ref={setNodeRef}
      role="group"
      aria-label={`Port ${use.port}: ${what}`}
      sx={{
        border: 2,
        borderColor: conflict ? 'error.main' : isOver ? 'primary.main' : 'divider',
        borderRadius: 1,
        p: 1,
        minHeight: 168,
        textAlign: 'center',
      }}
    >
      <Typography sx={{ fontWeight: 650 }}>Port {use.port}</Typography>
      <Typography sx={{ fontSize: 13, color: 'text.secondary', mb: 0.5 }}>by habit {habit}</Typography>
      <svg width={64} height={64} viewBox="-32 -32 64 64" aria-hidden style={{ display: 'block', margin: '0 auto' }}>
        <circle r={29} fill="none" stroke={inks.label} strokeWidth={2} />
        <circle r={25} fill={inks.grid} />
        {use.cables.length > 0 ? (
          use.cables.map((cable, i) => (
            <g key={cable} transform={`translate(${(i - (use.cables.length - 1) / 2) * 20} 0)`}>
              <circle r={use.cables.length > 1 ? 9 : 14} fill={inks.thread} />
              <circle r={use.cables.length > 1 ? 4 : 7} fill={inks.lane} />
            </g>
          ))
        ) : use.plug ? (
          <rect x={-12} y={-12} width={24} height={24} rx={4} fill={inks.label} />
        ) : (
          <path d="M-10 -10 L10 10 M10 -10 L-10 10" stroke={inks.label} strokeWidth={3} />
        )}
      </svg>
      {use.cables.map((cable) => (
        <CableChip key={cable} cable={cable} port={use.port} working={working} onMove={(by) => onMove(cable, by)} />
      ))}
      {use.cables.length === 0 && <Typography>{what}</Typography>}
      {use.cables.length === 0 && working && (
        <Button size="small" onClick={() => onPlug(!use.plug)}>
          {use.plug ? 'Plug is missing' : 'Plug is in'}
        </Button>
      )}
    </Box>
  )
}

/** The port, empty for none, and the cable of a chip’s id. */
function readChipId(id: string): [string, string] {
  return id.split(/:(.*)/) as [string, string]
}

/** A cable that can be dragged; the arrows do the same for keys and gloves. */
function CableChip({
  cable,
  port,
  working,
  onMove,
}: {
  cable: string
  /** Where it is; null: in none. */
  port: number | null
  working: boolean
  onMove(by: -1 | 1): void
}) {
  const { attributes, listeners, setNodeRef, transform } = useDraggable({
    id: `${port ?? ''}:${cable}`,
    disabled: !working,
  })
  const name = port === null ? cable : `${cable}, port ${port}`
  if (!working) return <Typography sx={{ fontWeight: 650 }}>{cable}</Typography>
  return (
    <Box sx={{ display: 'inline-flex', alignItems: 'center', mt: 0.5 }}>
      <Button
        size="small"
        aria-label={`${name}: to the port before`}
        onClick={() => onMove(-1)}
        sx={{ minWidth: 36, px: 0 }}
      >
        ◂
      </Button>
      <Box
        ref={setNodeRef}
        {...listeners}
        {...attributes}
        aria-label={`Cable ${name}: drag to a port`}
        sx={{
          cursor: 'grab',
          touchAction: 'none',
          px: 1.25,
          minHeight: 44,
          display: 'grid',
          placeItems: 'center',
          border: 1,
          borderColor: 'primary.main',
          borderRadius: 1,
          fontWeight: 650,
          bgcolor: 'background.paper',
          transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined,
          zIndex: transform ? 2 : undefined,
          position: 'relative',
        }}
      >
        {cable}
      </Box>
      <Button
        size="small"
        aria-label={`${name}: to the port after`}
        onClick={() => onMove(1)}
        sx={{ minWidth: 36, px: 0 }}
      >
        ▸
      </Button>
    </Box>
  )
}
