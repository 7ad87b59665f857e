import { Piscina } from 'piscina'
import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { calibrate, locateFaults } from '../src/locate/index.ts'
import { layPosterior, summarize } from '../src/locate/posterior/posterior.ts'
import { rankNextTests } from '../src/locate/advice/nextTests.ts'
import { surveyCable, type FiberReading } from '../src/survey/index.ts'
import { fieldCase, shootFieldCase } from '../test/fieldCases.ts'
import { LINK } from '../test/randomFault.ts'
import { milliseconds } from './speed.ts'
import type { FiberTask } from './readFiberTask.ts'

const FIBERS = 1000
const SEED = 3

/** Prints throughput and peak memory of a survey of 1,000 fibers on two cores, and the time of a posterior with its tests. */
export async function benchManyFibers(): Promise<void> {
  const self = fileURLToPath(import.meta.url)
  const [rate, peak, together] = execFileSync(process.execPath, ['--import', 'tsx', self, 'survey'])
    .toString()
    .trim()
    .split(' ')
  console.log(
    `\ncable survey: ${FIBERS} fibers of 32,000 points on two cores, ${rate} fibers a second, put together in ${together} ms, peak memory ${peak} MB`,
  )
  const field = fieldCase(SEED, 'bad-splice')
  const result = locateFaults({ plant: field.records, linkId: LINK, ...shootFieldCase(field) })
  const [fault] = result.faults
  const thread = result.calibrated.threads.ab
  const again = milliseconds(() => {
    const posterior = layPosterior(thread, { fiber: fault!.fiber, sigma: fault!.fiberSigma! }, 'loss')
    summarize(posterior)
    rankNextTests({
      linkState: 'dark',
      nodes: thread.nodes,
      groundLength: thread.groundLength,
      breaks: false,
      posterior,
      causes: fault!.causes,
      sigma: fault!.fiberSigma!,
      measuringSigma: fault!.fiberSigma! / 2,
      shot: [{ direction: 'ab', wavelength: 1550, pulseLength: 10 }],
      evidence: [],
    })
  })
  console.log(`posterior with its summary and next tests: ${again.toFixed(1)} ms`)
}

/** Reads the fibers in a pool of two; only the readings come back, so that memory does not grow with the cable. */
async function survey(): Promise<void> {
  const field = fieldCase(SEED, 'none')
  const pool = new Piscina<FiberTask, FiberReading>({
    filename: new URL('./readFiberTask.ts', import.meta.url).href,
    execArgv: ['--import', 'tsx'],
    minThreads: 2,
    maxThreads: 2,
    concurrentTasksPerWorker: 1,
  })
  await Promise.all([1, 2].map((fiber) => pool.run({ fiber, plant: field.records })))
  const begun = performance.now()
  const readings = await Promise.all(
    Array.from({ length: FIBERS }, (_, k) => pool.run({ fiber: k + 1, plant: field.records })),
  )
  const seconds = (performance.now() - begun) / 1000
  const cable = { ...field.records.cables[0]!, fiberCount: FIBERS, tubeSize: 12 }
  const calibration = calibrate(field.records, LINK, [])
  const together = milliseconds(() => surveyCable(cable, readings, calibration))
  await pool.destroy()
  console.log(
    [(FIBERS / seconds).toFixed(0), (process.resourceUsage().maxRSS / 1024).toFixed(0), together.toFixed(0)].join(' '),
  )
}

if (process.argv[2] === 'survey') await survey()
