import { plantBehindRecords, shootLink, type Damage } from '@cold-thread/core/sim'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { readDamages, readPlant } from '../input.ts'
import type { Output } from '../output.ts'
import { refusing } from './linkTraces.ts'

export interface SimulateOptions {
  plant: string
  link: string
  damage?: string
  out: string
  seed: number
  wavelength: number[]
  pulse?: number
  recordErrors?: number
}

/** Shoots a link from both ends, undamaged as baseline and with the damage as present. */
export function simulate(options: SimulateOptions, out: Output): number {
  const records = readPlant(options.plant, options.link)
  const damages = options.damage === undefined ? [] : readDamages(options.damage)
  const truth = options.recordErrors === undefined ? records : plantBehindRecords(records, options.recordErrors)
  const link = truth.links.find((candidate) => candidate.id === options.link)!
  mkdirSync(options.out, { recursive: true })
  const surveys: [role: 'baseline' | 'present', damages: Damage[]][] = [['baseline', []]]
  if (damages.length > 0) surveys.push(['present', damages])
  const files: { file: string; role: string; direction: string; wavelength: number }[] = []
  let seed = options.seed
  for (const [role, put] of surveys)
    for (const direction of ['ab', 'ba'] as const)
      for (const wavelength of options.wavelength) {
        const [launch, receive] =
          direction === 'ab' ? [link.launchCord, link.receiveCord] : [link.receiveCord, link.launchCord]
        const bytes = refusing(() =>
          shootLink(
            truth,
            link.id,
            { seed: options.seed },
            {
              direction,
              wavelength,
              cords: { launch: launch ?? 0, receive: receive ?? 0 },
              takenAt: '2026-01-01T00:00:00Z',
              condition: role === 'baseline' ? 'BC' : 'CC',
              seed: seed++,
              damages: put,
              ...(options.pulse === undefined ? {} : { settings: { pulseWidth: options.pulse * 1e-9 } }),
            },
          ),
        )
        const file = join(options.out, `${link.id}-${role}-${direction}-${wavelength}.sor`)
        writeFileSync(file, bytes)
        files.push({ file, role, direction, wavelength })
      }
  out.json({ link: link.id, files })
  return 0
}
