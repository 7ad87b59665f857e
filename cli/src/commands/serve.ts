import { spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'

/** Starts the application as `npm start` does; options are handed on. Ends when it ends. */
export function serve(options: readonly string[]): Promise<number> {
  const script = fileURLToPath(new URL('../../../scripts/start.mjs', import.meta.url))
  const child = spawn(process.execPath, [script, ...options], { stdio: 'inherit' })
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => child.kill(signal))
  return new Promise((resolve) => child.on('exit', (status) => resolve(status ?? 1)))
}
