// npm run bench: how computing grows with the points of a trace, and where fresh simulated faults are placed.
import { benchPlacing } from './placing.ts'
import { benchSpeed } from './speed.ts'

benchSpeed()
benchPlacing(200, 10_001)
