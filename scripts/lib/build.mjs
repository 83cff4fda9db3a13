// Builds everything into dist/, when the sources have changed since the last time.
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Stop } from './install.mjs'
import { ROOT, run } from './run.mjs'

const SOURCES = [
  'core/src',
  'api/src',
  'capture/src',
  'replay/src',
  'server/src',
  'web',
  'demo/src',
  'scripts/lib/build.mjs',
  'package-lock.json',
]

const STAMP = join(ROOT, 'dist/.built')

/** Programs of the server side: name in dist/ -> source. */
const PROGRAMS = {
  server: 'server/src/main.ts',
  'import-worker': 'server/src/import/worker.ts',
  'engine-worker': 'server/src/engine/worker.ts',
  packer: 'server/src/store/packer.ts',
  'load-demo': 'demo/src/load.ts',
  site: 'demo/src/site/main.ts',
  account: 'server/src/people/account-cli.ts',
  'describe-api': 'server/src/describe-api.ts',
}

const FOLDERS = {
  core: 'core/src/index.ts',
  api: 'api/src/index.ts',
  'core/recording': 'core/src/recording/index.ts',
  'core/scrub': 'core/src/events/scrub.ts',
  'core/user-agent': 'core/src/events/user-agent.ts',
}

/** Workspaces come as sources and are bundled; packages from the registry stay outside. */
const workspaces = {
  name: 'workspaces',
  setup(builder) {
    builder.onResolve({ filter: /^@dust-trail\// }, ({ path }) => {
      const file = FOLDERS[path.replace('@dust-trail/', '')]
      return file ? { path: join(ROOT, file) } : undefined
    })
  },
}

const PROGRAM_OPTIONS = {
  absWorkingDir: ROOT,
  entryPoints: PROGRAMS,
  outdir: 'dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  sourcemap: true,
}

/** The script that sites load, and the part of it that comes when the page stands. */
const SCRIPT_OPTIONS = {
  absWorkingDir: ROOT,
  outdir: 'dist',
  bundle: true,
  minify: true,
  target: 'es2022',
}
export const CAPTURE_OPTIONS = [
  { ...SCRIPT_OPTIONS, format: 'iife', entryPoints: { capture: 'capture/src/index.ts' } },
  { ...SCRIPT_OPTIONS, format: 'esm', entryPoints: { 'capture-more': 'capture/src/more/index.ts' } },
]

/** The player that files with a session bring along. */
const VIEWER_OPTIONS = {
  ...SCRIPT_OPTIONS,
  format: 'iife',
  entryPoints: { viewer: 'replay/src/viewer/viewer.ts' },
}

/** Whether dist/ was built from the sources as they are. */
export function isBuilt() {
  return existsSync(STAMP) && readFileSync(STAMP, 'utf8') === fingerprint()
}

export async function ensureBuilt() {
  if (isBuilt()) return
  const wanted = fingerprint()
  console.log('Building …')
  await build()
  writeFileSync(STAMP, wanted)
}

async function build() {
  const dist = join(ROOT, 'dist')
  rmSync(dist, { recursive: true, force: true })
  mkdirSync(dist, { recursive: true })
  const esbuild = await import('esbuild')
  await esbuild.build({ ...PROGRAM_OPTIONS, plugins: [workspaces] })
  for (const options of [...CAPTURE_OPTIONS, VIEWER_OPTIONS])
    await esbuild.build({ ...options, plugins: [workspaces] })
  const described = await run(process.execPath, [join(dist, 'describe-api.mjs'), join(dist, 'openapi.json')])
  if (described !== 0) throw new Stop('The description of the API could not be written: see above.')
  const code = await run(
    process.execPath,
    [join(ROOT, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'warn'],
    {
      cwd: join(ROOT, 'web'),
      // Tests that build first run with another mode, in which React would be the one for development.
      env: { ...process.env, NODE_ENV: 'production' },
      stdio: ['ignore', 'ignore', 'inherit'],
    },
  ).catch(() => 1)
  if (code !== 0) throw new Stop('The web application could not be built: see above.')
}

/** Builds all but the web application anew with every change. Calls back each time it worked, the first time too. */
export async function watchBuild(built) {
  rmSync(STAMP, { force: true })
  const esbuild = await import('esbuild')
  const report = {
    name: 'report',
    setup: (builder) => builder.onEnd(({ errors }) => errors.length === 0 && built()),
  }
  const contexts = await Promise.all([
    esbuild.context({ ...PROGRAM_OPTIONS, plugins: [workspaces, report], logLevel: 'warning' }),
    ...[...CAPTURE_OPTIONS, VIEWER_OPTIONS].map((options) =>
      esbuild.context({ ...options, plugins: [workspaces], logLevel: 'warning' }),
    ),
  ])
  await Promise.all(contexts.map((context) => context.watch()))
  return { stop: () => Promise.all(contexts.map((context) => context.dispose())) }
}

function fingerprint() {
  const hash = createHash('sha256').update(process.version)
  const add = (path) => {
    const full = join(ROOT, path)
    if (!existsSync(full)) return
    if (statSync(full).isDirectory()) {
      for (const name of readdirSync(full).sort()) if (name !== 'node_modules') add(join(path, name))
    } else if (!/\.test\.tsx?$/.test(path)) hash.update(path).update(readFileSync(full))
  }
  SOURCES.forEach(add)
  return hash.digest('hex')
}
