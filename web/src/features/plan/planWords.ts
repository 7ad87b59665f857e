import { crewsOf, type Kit } from '@cold-thread/core/kit'
import type { Finish, OrderLine, ProjectedLoss } from '@cold-thread/core/plan'
import { range } from 'd3'
import { duration } from '../../ui/time.ts'

/** "3 h 05 min" */
export function minutesInWords(minutes: number): string {
  return duration(Math.round(minutes) * 60_000)
}

/** "0:00", "3:05": hours and minutes from the begin. */
export function fromBegin(minutes: number): string {
  const whole = Math.round(minutes)
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`
}

/** "3 h 05 min; 90 % by 4 h 10 min" */
export function finishInWords({ p50, p90 }: Pick<Finish, 'p50' | 'p90'>): string {
  return `${minutesInWords(p50)}; 90\u00a0% by ${minutesInWords(p90)}`
}

/** Names of who works on a line, then its tools, in words. */
export function unitsInWords({ units }: Pick<OrderLine, 'units'>, kit: Kit): string {
  const names = units.map((unit) => {
    const [kind, id] = unit.split('/') as [string, string]
    if (kind === 'person') return kit.people.find((person) => person.id === id)?.name ?? 'one person'
    if (kind === 'splicer' || kind === 'splicer oven') return id === '1' ? null : `${kind} ${id}`
    return null
  })
  return [...new Set(names.filter((name) => name !== null))].join(', ')
}

/** The link and wavelength with the least margin after the repair. */
export function tightest(projected: readonly ProjectedLoss[]): ProjectedLoss | null {
  return projected.reduce<ProjectedLoss | null>((a, b) => (a && a.margin <= b.margin ? a : b), null)
}

/** Names of the crews that a scenario takes. */
export function crewNames(kit: Kit, crews: number): string[] {
  return crewsOf(kit)
    .slice(0, crews)
    .map(({ name }) => name)
}

/** Fibers typed as "1-12, 25, 29": sorted, each once; null when it can't be read or one is beyond the cable. */
export function readFibers(text: string, fiberCount: number): number[] | null {
  const fibers = new Set<number>()
  for (const part of text.split(',').map((some) => some.trim())) {
    const match = /^(\d+)(?:\s*(?:-|–|to)\s*(\d+))?$/.exec(part)
    if (!match) return null
    const [from, to] = [Number(match[1]), Number(match[2] ?? match[1])]
    if (from < 1 || to < from || to > fiberCount) return null
    for (let fiber = from; fiber <= to; fiber++) fibers.add(fiber)
  }
  return [...fibers].sort((a, b) => a - b)
}

/** A name within a sentence. */
export function lower(name: string): string {
  return name.charAt(0).toLowerCase() + name.slice(1)
}

/** Whole and half hours, no more than so many. */
export function hourTicks(end: number, most: number): number[] {
  const step = [30, 60, 120, 240, 480].find((minutes) => end / minutes <= most) ?? 1440
  return range(0, end, step)
}
