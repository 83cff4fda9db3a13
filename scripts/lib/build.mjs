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

export async function ensureBuilt() {
  const stamp = join(ROOT, 'dist/.built')
  const wanted = fingerprint()
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('Building …')
  await build()
  writeFileSync(stamp, wanted)
}

async function build() {
  const dist = join(ROOT, 'dist')
  rmSync(dist, { recursive: true, force: true })
  mkdirSync(dist, { recursive: true })
  const esbuild = await import('esbuild')
  const node = {
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    sourcemap: true,
    absWorkingDir: ROOT,
  }
  // Workspaces come as sources and are bundled; packages from the registry stay outside.
  const plugins = [
    {
      name: 'workspaces',
      setup(builder) {
        const folders = {
          core: 'core/src/index.ts',
          api: 'api/src/index.ts',
          'core/recording': 'core/src/recording/types.ts',
          'core/user-agent': 'core/src/events/user-agent.ts',
        }
        builder.onResolve({ filter: /^@dust-trail\// }, ({ path }) => {
          const file = folders[path.replace('@dust-trail/', '')]
          return file ? { path: join(ROOT, file) } : undefined
        })
      },
    },
  ]
  await esbuild.build({ ...node, plugins, entryPoints: ['server/src/main.ts'], outfile: 'dist/server.mjs' })
  await esbuild.build({
    ...node,
    plugins,
    entryPoints: ['server/src/import/worker.ts'],
    outfile: 'dist/import-worker.mjs',
  })
  await esbuild.build({
    ...node,
    plugins,
    entryPoints: ['server/src/engine/worker.ts'],
    outfile: 'dist/engine-worker.mjs',
  })
  await esbuild.build({
    ...node,
    plugins,
    entryPoints: ['server/src/store/packer.ts'],
    outfile: 'dist/packer.mjs',
  })
  await esbuild.build({ ...node, plugins, entryPoints: ['demo/src/load.ts'], outfile: 'dist/load-demo.mjs' })
  await esbuild.build({ ...node, plugins, entryPoints: ['demo/src/site/main.ts'], outfile: 'dist/site.mjs' })
  await esbuild.build({
    absWorkingDir: ROOT,
    plugins,
    entryPoints: ['capture/src/index.ts'],
    bundle: true,
    minify: true,
    format: 'iife',
    target: 'es2022',
    outfile: 'dist/capture.js',
  })
  const code = await run(
    process.execPath,
    [join(ROOT, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'warn'],
    {
      cwd: join(ROOT, 'web'),
      stdio: ['ignore', 'ignore', 'inherit'],
    },
  ).catch(() => 1)
  if (code !== 0) throw new Stop('The web application could not be built: see above.')
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
