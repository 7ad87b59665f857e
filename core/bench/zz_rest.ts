import { benchFieldFaults, benchNoChange } from './fieldStatistics.ts'
await benchNoChange(1000, 700_001)
await benchFieldFaults(400, 600_001, [1310, 1550])
