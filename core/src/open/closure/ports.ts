import type { ClosureModel, Port } from './closureModel.ts'
import type { CableAt } from './closureRecord.ts'

/** What is in a port. No cable and no plug: it is open. */
export interface PortUse {
  port: number
  cables: readonly string[]
  plug: boolean
}

/** A cable that goes into a port. */
export interface PortCable {
  cable: string
  /** m; null where nobody measured it. */
  diameter: number | null
  use: Port['habit']
  /** An uncut cable goes in and out: two; one that ends here: one. */
  entries: 1 | 2
}

/** A cable of the record as it goes into ports. */
export function portCable({ cable, passes }: CableAt): PortCable {
  return { cable: cable.id, diameter: cable.outerDiameter ?? null, use: 'through', entries: passes ? 2 : 1 }
}

/** Something about a port: a conflict must be mended, a notice is only said. */
export interface PortFinding {
  port: number | null
  kind: 'conflict' | 'notice'
  text: string
}

const mm = (value: number) => `${Number((value * 1000).toFixed(1))} mm`
/** Diameters this close are one: sheaths are not round (judgement). */
const SAME = 0.0003

/** Cables to ports by habit, those that a port can't seal left for another; the rest of the ports get plugs. */
export function suggestPorts(model: ClosureModel, cables: readonly PortCable[]): PortUse[] {
  const taken = new Map<number, string>()
  const free = (port: Port) => !taken.has(port.port)
  for (const one of cables)
    for (let entry = 0; entry < one.entries; entry++) {
      const fits = (port: Port) => free(port) && seals(port, one.diameter) !== 'no'
      const chosen = model.ports.find((port) => port.habit === one.use && fits(port)) ?? model.ports.find(fits)
      if (chosen) taken.set(chosen.port, one.cable)
    }
  return model.ports.map(({ port }) => {
    const cable = taken.get(port)
    return { port, cables: cable === undefined ? [] : [cable], plug: cable === undefined }
  })
}

function seals(port: Port, diameter: number | null): 'yes' | 'no' | 'unknown' {
  if (diameter === null || port.least === null || port.most === null) return 'unknown'
  return diameter >= port.least && diameter <= port.most ? 'yes' : 'no'
}

/** What is wrong with a port plan, and what is worth knowing. */
export function checkPorts(model: ClosureModel, uses: readonly PortUse[], cables: readonly PortCable[]): PortFinding[] {
  const out: PortFinding[] = []
  const say = (port: number | null, kind: PortFinding['kind'], text: string) => out.push({ port, kind, text })
  for (const { port: number, cables: inside, plug } of uses) {
    const port = model.ports.find((one) => one.port === number)
    if (!port) {
      say(number, 'conflict', `the closure has no port ${number}`)
      continue
    }
    if (inside.length === 0 && !plug) say(number, 'conflict', 'neither cable nor plug: a missing plug is a leak')
    if (inside.length > 0 && plug) say(number, 'conflict', 'a plug and a cable in one port')
    const known = inside.flatMap((id) => cables.find(({ cable }) => cable === id) ?? [])
    const diameters = known.flatMap(({ diameter }) => diameter ?? [])
    if (diameters.length > 1 && Math.max(...diameters) - Math.min(...diameters) > SAME)
      say(number, 'conflict', `${diameters.map(mm).join(' and ')} in one port: one diameter to a port`)
    for (const one of known) {
      if (one.diameter === null) say(number, 'notice', `the diameter of ${one.cable} is not known: measure it`)
      else if (seals(port, one.diameter) === 'no')
        say(
          number,
          'conflict',
          `${one.cable} has ${mm(one.diameter)}, the port seals ${mm(port.least!)} to ${mm(port.most!)}`,
        )
      if (one.diameter !== null && model.bushingBelow !== null && one.diameter < model.bushingBelow)
        say(
          number,
          'notice',
          `${one.cable}: ${mm(one.diameter)} is under ${mm(model.bushingBelow)}, so tape at the bracket and a bushing`,
        )
      if (one.use !== port.habit)
        say(number, 'notice', `by habit this is a port for ${habitWord(port.habit)}; any cable may go in`)
    }
  }
  for (const { cable, entries } of cables) {
    const ports = uses.filter((use) => use.cables.includes(cable)).map(({ port }) => port)
    if (ports.length === 0) say(null, 'conflict', `${cable} has no port`)
    if (ports.length > entries) say(null, 'conflict', `${cable} is in ports ${ports.join(' and ')}`)
    if (ports.length === 1 && entries === 2)
      say(null, 'conflict', `${cable} passes uncut: it takes two ports, in and out`)
  }
  return out
}

/** How the use of a port is said. */
export function habitWord(habit: Port['habit']): string {
  return { through: 'the through cable', branch: 'branches', drop: 'drops' }[habit]
}
