import type { ThreadNodeView } from '../worker/view.ts'

/** Our own marks for what stands along a thread, drawn about (0, 0). */
export function NodeGlyph({ kind, color, paper }: { kind: ThreadNodeView['nodeKind']; color: string; paper: string }) {
  const stroke = { stroke: color, strokeWidth: 1.8, fill: paper } as const
  switch (kind) {
    case 'panel':
      return (
        <g>
          <path d="M-6 -10 H6 V10 H-6 Z" {...stroke} />
          <path d="M-2.5 -5 V5 M2.5 -5 V5" stroke={color} strokeWidth={1.8} />
        </g>
      )
    case 'closure':
      return (
        <g>
          <path d="M-11 5 V0 A11 9 0 0 1 11 0 V5 Z" {...stroke} />
          <path d="M-6 0 H6" stroke={color} strokeWidth={1.8} />
        </g>
      )
    case 'handhole':
      return <path d="M-8 -4 L-6 7 H6 L8 -4 Z" {...stroke} />
    case 'pole':
      return <path d="M0 9 V-9 M-6 -6 H6" stroke={color} strokeWidth={2.2} fill="none" />
  }
}

/** A coil of slack hangs under the thread. */
export function SlackGlyph({ color }: { color: string }) {
  return <path d="M-5 0 C-12 14 12 14 5 0 M-4 2 C-8 10 8 10 4 2" fill="none" stroke={color} strokeWidth={1.2} />
}

/** The place of a fault: a split in the thread. */
export function FaultGlyph({ color, paper }: { color: string; paper: string }) {
  return (
    <g>
      <path d="M0 -11 L9 0 L0 11 L-9 0 Z" fill={color} stroke={paper} strokeWidth={2} />
      <path d="M-3 -4 L1.5 -0.5 L-1.5 0.5 L3 4" fill="none" stroke={paper} strokeWidth={1.6} />
    </g>
  )
}
