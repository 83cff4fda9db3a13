// Makes sure that what the project needs is on the machine. Plain Node, no dependency.
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ROOT } from './run.mjs'

/** An error that is meant to be read: printed without a stack. */
export class Stop extends Error {}

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number)
  if (major < 20 || (major === 20 && minor < 19))
    throw new Stop(`Dust Trail needs Node.js 20.19 or newer; this is ${process.versions.node}.`)
}

/** Installs the packages of the lockfile where they are missing or of another lockfile. */
export async function ensurePackages() {
  const stamp = join(ROOT, 'node_modules/.dust-trail')
  const wanted = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .update(process.version)
    .digest('hex')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('Installing packages (about a minute, once) …')
  if ((await npmCi()) !== 0)
    throw new Stop('npm ci failed: see above. Check the connection to the package registry and start again.')
  writeFileSync(stamp, wanted)
}

/** npm ci heeds no signal: it runs in a group of its own, which ends with us. A half-made folder is made anew next time. */
function npmCi() {
  return new Promise((resolve, reject) => {
    const child = spawn('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
      cwd: ROOT,
      stdio: 'inherit',
      detached: true,
    })
    const end = () => {
      try {
        process.kill(-child.pid, 'SIGKILL')
      } catch {
        // It has ended already.
      }
    }
    process.once('exit', end)
    child.on('error', reject)
    child.on('exit', (code) => {
      process.off('exit', end)
      resolve(code)
    })
  })
}

const PROGRAM_FOLDERS = ['/usr/sbin', '/usr/bin', '/usr/local/sbin', '/usr/local/bin']

export function findProgram(name) {
  return PROGRAM_FOLDERS.map((folder) => join(folder, name)).find((path) => existsSync(path))
}

/** Installs Debian packages where a program is missing; as somebody else than root says what to install. */
export function ensurePrograms(programs) {
  const missing = programs.filter(({ program }) => !findProgram(program))
  if (!missing.length) return
  const names = missing.flatMap(({ packages }) => packages)
  const told = `Missing: ${missing.map(({ program }) => program).join(', ')}. Install the Debian package${names.length > 1 ? 's' : ''} ${names.join(' ')}`
  if (process.getuid?.() !== 0)
    throw new Stop(`${told} (sudo apt-get install ${names.join(' ')}), then start again.`)
  if (!findProgram('apt-get')) throw new Stop(`${told}; this machine has no apt-get.`)
  console.log(`Installing ${names.join(', ')} …`)
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  const options = { env, stdio: ['ignore', 'ignore', 'inherit'] }
  spawnSync('apt-get', ['update', '-qq', '-o', 'DPkg::Lock::Timeout=300'], options)
  const installed = spawnSync(
    'apt-get',
    ['install', '-y', '-qq', '--no-install-recommends', '-o', 'DPkg::Lock::Timeout=300', ...names],
    options,
  )
  if (installed.status !== 0) throw new Stop(`${told}: apt-get failed, see above.`)
}

export const MARIADB = { program: 'mariadbd', packages: ['mariadb-server'] }
/** The proxy in front that the documents describe, and what makes a certificate for it: for tests. */
export const NGINX = { program: 'nginx', packages: ['nginx-light'] }
export const OPENSSL = { program: 'openssl', packages: ['openssl'] }
export const CHROMIUM = {
  program: 'chromium',
  packages: ['chromium', 'fonts-dejavu-core', 'fonts-liberation'],
}
