// Running commands with a name and a way to mend what fails.
import { spawn, spawnSync } from 'node:child_process'

/** A step of a script failed: what, and how to mend it. */
export class StepError extends Error {
  constructor(step, message, mend) {
    super(`${step}: ${message}`)
    this.name = 'StepError'
    this.mend = mend
  }
}

/** Prints a failed step and its mend; anything unexpected with its stack. Returns the exit status. */
export function report(error) {
  if (error instanceof StepError) {
    console.error(`\n✗ ${error.message}`)
    if (error.mend) console.error(`  To mend it: ${error.mend}`)
  } else console.error(error)
  return 1
}

/** Runs a command to its end. `quiet` keeps its output unless it fails. */
export function run(step, command, args, { mend, quiet = false, cwd, env } = {}) {
  const result = spawnSync(command, args, {
    cwd,
    env: env ? { ...process.env, ...env } : process.env,
    stdio: quiet ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'inherit', 'inherit'],
    maxBuffer: 64 * 1024 * 1024,
  })
  if (result.error) throw new StepError(step, `${command} can't be started (${result.error.code})`, mend)
  if (result.status !== 0) {
    const said = quiet ? `\n${result.stdout}${result.stderr}`.trimEnd() : ''
    throw new StepError(step, `${command} ended with ${result.signal ?? result.status}${said}`, mend)
  }
  return quiet ? result.stdout.toString() : ''
}

/** Runs a command and hands back status and output; output is shown as it comes, unless others run beside it. */
export function watch(command, args, { cwd, env, shown = true } = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd, env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] })
    let output = ''
    const take = (stream) => (chunk) => {
      output += chunk
      if (shown) stream.write(chunk)
    }
    child.stdout.on('data', take(process.stdout))
    child.stderr.on('data', take(process.stderr))
    child.on('error', (error) => resolve({ status: 1, output: String(error) }))
    child.on('close', (status) => resolve({ status: status ?? 1, output }))
  })
}

export function has(command) {
  return spawnSync('sh', ['-c', `command -v ${command}`], { stdio: 'ignore' }).status === 0
}
