import type { PortUse } from './ports.ts'
import type { TrayUnit, TrayUse } from './trays.ts'

/** A closure as somebody found it, means it, or left it. */
export interface ClosureState {
  ports: PortUse[]
  trays: TrayUse[]
  remark: string
}

/** What differs between two states, in words. @param was e.g. the record, @param is e.g. as found */
export function closureChanges(was: ClosureState, is: ClosureState, units: readonly TrayUnit[]): string[] {
  const out: string[] = []
  const inPort = (use: PortUse | undefined) =>
    use === undefined ? 'nothing said' : use.cables.length > 0 ? use.cables.join(', ') : use.plug ? 'plug' : 'open'
  const ports = [...new Set([...was.ports, ...is.ports].map(({ port }) => port))].sort((a, b) => a - b)
  for (const port of ports) {
    const [before, now] = [was, is].map((state) => inPort(state.ports.find((use) => use.port === port)))
    if (before !== now) out.push(`port ${port}: ${before} before, ${now} now`)
  }
  const trayOf = (state: ClosureState, unit: string) =>
    state.trays.find(({ units: on }) => on.includes(unit))?.tray ?? null
  const all = [...new Set([...was.trays, ...is.trays].flatMap(({ units: on }) => on))]
  for (const id of all) {
    const [before, now] = [trayOf(was, id), trayOf(is, id)]
    if (before === now) continue
    const unit = units.find((one) => one.id === id)
    const name = unit ? unitWords(unit) : id
    out.push(
      `${name}: ${before === null ? 'on no tray' : `tray ${before}`} before, ${now === null ? 'on no tray' : `tray ${now}`} now`,
    )
  }
  return out
}

/** Groups that meet, in words. */
export function unitWords({ a, b }: TrayUnit): string {
  return `${a.cable} ${a.group} to ${b.cable} ${b.group}`
}
