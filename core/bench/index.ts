// npm run bench: how computing grows with the points of a trace, and where fresh simulated faults are placed.
import { benchManyFibers } from './manyFibers.ts'
import { benchPlacing } from './placing.ts'
import { benchPlan } from './plan.ts'
import { benchSpeed } from './speed.ts'

benchSpeed()
await benchManyFibers()
benchPlan()
benchPlacing(200, 10_001)
