import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { DEMO_DAMAGES, THRUSHMERE, shootBothWays, surveyFiles } from './index.ts'

/** Writes the demo's plant bundle and the traces of its three faults and of a cable survey, for the command line and for trying an upload. */
function writeFiles(folder: string): void {
  mkdirSync(folder, { recursive: true })
  writeFileSync(join(folder, 'thrushmere.json'), JSON.stringify(THRUSHMERE, null, 2))
  const faults = [
    ['level-control', DEMO_DAMAGES.break],
    ['visitor-wan', DEMO_DAMAGES.splice],
    ['gauge-telemetry', DEMO_DAMAGES.connector],
  ] as const
  for (const [linkId, damage] of faults)
    for (const role of ['baseline', 'present', 'after'] as const)
      for (const shot of shootBothWays(linkId, role, damage, new Date('2026-03-01T02:40:00Z')))
        writeFileSync(join(folder, shot.fileName), shot.content)
  const survey = join(folder, 'survey')
  mkdirSync(survey, { recursive: true })
  for (const { fileName, content } of surveyFiles(new Date('2026-03-01T05:10:00Z')))
    writeFileSync(join(survey, fileName), content)
  console.log(`plant bundle and traces are in ${folder}`)
}

writeFiles(process.argv[2] ?? 'demo-files')
