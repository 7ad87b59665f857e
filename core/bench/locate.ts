// npm run bench:locate -- [cases] [shift] [part]: how well faults are found, placed and named, over fresh seeds; another
// shift takes other seeds; one part alone when named. 2,000 cases take about 40 minutes on two cores.
import { benchFieldFaults, benchGhosts, benchNoChange } from './fieldStatistics.ts'
import { benchLossBound } from './lossBound.ts'

const cases = Number(process.argv[2] ?? 2000)
const shift = Number(process.argv[3] ?? 0)
const PARTS: Record<string, () => void | Promise<void>> = {
  bound: () => benchLossBound(200),
  faults: () => benchFieldFaults(cases, 500_001 + shift, [1550]),
  wavelengths: () => benchFieldFaults(Math.ceil(cases / 5), 600_001 + shift, [1310, 1550]),
  unchanged: () => benchNoChange(Math.ceil(cases / 2), 700_001 + shift),
  echoes: () => benchGhosts(Math.ceil(cases / 10), 800_001 + shift),
}
const wanted = process.argv[4]
if (wanted !== undefined && !(wanted in PARTS)) throw new Error(`no part "${wanted}": ${Object.keys(PARTS).join(', ')}`)
for (const [name, run] of Object.entries(PARTS)) if (wanted === undefined || wanted === name) await run()
