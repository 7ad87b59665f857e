import { spawn } from 'node:child_process'
import { rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const PORT = 8472
const DATA = join(tmpdir(), 'cold-thread-e2e-second')
const SCRIPT = new URL('../../scripts/start.mjs', import.meta.url).pathname
const PATIENCE = 90_000

/** Another installation, empty, on a port of its own. @returns its address, and what ends it */
export async function startSecondInstallation(): Promise<{ address: string; stop(): Promise<void> }> {
  rmSync(DATA, { recursive: true, force: true })
  const child = spawn('node', [SCRIPT, '--port', String(PORT), '--data', DATA], { stdio: 'ignore' })
  const gone = new Promise<void>((resolve) => child.once('exit', () => resolve()))
  const address = `http://127.0.0.1:${PORT}`
  const stop = async () => {
    child.kill('SIGINT')
    await gone
    rmSync(DATA, { recursive: true, force: true })
  }
  for (const begun = Date.now(); Date.now() - begun < PATIENCE;) {
    if (child.exitCode !== null) throw new Error(`the second installation ended with ${child.exitCode}`)
    const healthy = await fetch(`${address}/api/health`).then(
      ({ ok }) => ok,
      () => false,
    )
    if (healthy) return { address, stop }
    await new Promise((resolve) => setTimeout(resolve, 500))
  }
  await stop()
  throw new Error('the second installation did not start')
}
