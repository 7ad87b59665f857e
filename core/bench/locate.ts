// npm run bench:locate -- [cases] [shift]: how well faults are found, placed and named, over fresh seeds; another shift
// takes other seeds. 2,000 cases take about 40 minutes on two cores.
import { benchFieldFaults, benchGhosts, benchNoChange } from './fieldStatistics.ts'
import { benchLossBound } from './lossBound.ts'

const cases = Number(process.argv[2] ?? 2000)
const shift = Number(process.argv[3] ?? 0)
benchLossBound(200)
await benchFieldFaults(cases, 500_001 + shift, [1550])
await benchFieldFaults(Math.ceil(cases / 5), 600_001 + shift, [1310, 1550])
await benchNoChange(Math.ceil(cases / 2), 700_001 + shift)
await benchGhosts(Math.ceil(cases / 10), 800_001 + shift)
