// Brings a fresh Debian machine with Node.js to where the project runs. Uses nothing that is not in Node.js itself.
import { existsSync, mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { statfsSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { has, run, StepError } from './step.mjs'

export const ROOT = fileURLToPath(new URL('../..', import.meta.url))
export const DATA = join(ROOT, '.data')

const OLDEST_NODE = [20, 19]
const SPACE_WANTED = 1.5e9

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number)
  if (major < OLDEST_NODE[0] || (major === OLDEST_NODE[0] && minor < OLDEST_NODE[1]))
    throw new StepError(
      'Node.js',
      `version ${process.versions.node} is too old`,
      `install Node.js ${OLDEST_NODE.join('.')} or newer`,
    )
}

export function checkDisk() {
  const { bavail, bsize } = statfsSync(ROOT)
  const installed = existsSync(join(ROOT, 'node_modules'))
  const wanted = installed ? 2e8 : SPACE_WANTED
  if (bavail * bsize < wanted)
    throw new StepError(
      'disk',
      `${Math.round((bavail * bsize) / 1e6)} MB are free in ${ROOT}`,
      `free at least ${wanted / 1e6} MB`,
    )
}

const ADVICE_REGISTRY = 'check the network and the package registry (npm config get registry), then start again'

/** `npm ci` when the lock file is newer than what is installed. */
export function installPackages() {
  const lock = join(ROOT, 'package-lock.json')
  const stamp = join(ROOT, 'node_modules', '.cold-thread-lock')
  const wanted = readFileSync(lock, 'utf8')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('Installing packages (npm ci) …')
  run('packages', 'npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: ROOT,
    quiet: true,
    mend: ADVICE_REGISTRY,
  })
  writeFileSync(stamp, wanted)
}

/** Installs Debian packages that a command is missing for; without root it says what to install and stops. */
export function installDebian(what, command, packages) {
  if (has(command) || existsSync(`/usr/sbin/${command}`)) return
  const install = `apt-get install -y --no-install-recommends ${packages.join(' ')}`
  if (process.getuid() !== 0) throw new StepError(what, `${command} is not installed`, `run as root: ${install}`)
  console.log(`Installing ${packages.join(', ')} …`)
  const env = { DEBIAN_FRONTEND: 'noninteractive' }
  const options = { quiet: true, env, mend: `check the network and Debian's package sources, then run: ${install}` }
  run(what, 'apt-get', ['update'], options)
  run(what, 'apt-get', ['install', '-y', '--no-install-recommends', ...packages], options)
}

export function installMariadb() {
  installDebian('MariaDB', 'mariadbd', ['mariadb-server-core', 'mariadb-client-core'])
}

export function installChromium() {
  installDebian('Chromium', 'chromium-headless-shell', ['chromium-headless-shell'])
}

/** Builds server and web application when a source is newer than the build. */
export function build() {
  const stamp = join(ROOT, '.cache', 'built')
  const sources = run(
    'build',
    'git',
    ['ls-files', '-co', '--exclude-standard', 'core', 'contract', 'server', 'web', 'demo', 'package-lock.json'],
    { cwd: ROOT, quiet: true },
  )
  const newest = Math.max(
    ...sources
      .split('\n')
      .filter(Boolean)
      .map((file) => mtime(join(ROOT, file))),
  )
  const outputs = ['server/dist/main.js', 'web/dist/index.html'].map((file) => join(ROOT, file))
  if (existsSync(stamp) && outputs.every(existsSync) && mtime(stamp) > newest) return
  console.log('Building …')
  run('build', 'npm', ['run', 'build', '--loglevel=error'], {
    cwd: ROOT,
    quiet: true,
    mend: 'npm run typecheck shows what does not fit',
  })
  mkdirSync(join(ROOT, '.cache'), { recursive: true })
  writeFileSync(stamp, '')
}

function mtime(file) {
  return existsSync(file) ? statSync(file).mtimeMs : 0
}
