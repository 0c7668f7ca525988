// Builds the interface and the server into dist/. Does nothing when what it would build from has not changed.
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { pathToFileURL } from 'node:url'
import { root, tool } from './install.mjs'

export async function build() {
  const sources = sourceFiles(['core', 'web', 'server', 'lab/demo', 'lab/scenes', 'lab/support']).concat(
    'package-lock.json',
    'vite.config.ts',
    'scripts/build.mjs',
  )
  const hash = createHash('sha256')
  for (const file of sources.sort()) hash.update(file).update(readFileSync(join(root, file)))
  const wanted = hash.digest('hex')
  const stamp = join(root, 'dist', '.built')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('Building…')
  rmSync(join(root, 'dist'), { recursive: true, force: true })
  tool('vite/bin/vite.js', ['build', '--logLevel', 'warn'])
  const esbuild = await import(pathToFileURL(join(root, 'node_modules/esbuild/lib/main.js')).href)
  await esbuild.build({
    absWorkingDir: root,
    entryPoints: { main: 'server/main.ts', seed: 'lab/demo/seed.ts' },
    outdir: 'dist/server',
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    bundle: true,
    splitting: true,
    sourcemap: true,
    logLevel: 'warning',
  })
  mkdirSync(join(root, 'dist'), { recursive: true })
  writeFileSync(stamp, wanted)
}

function sourceFiles(folders) {
  return folders.flatMap((folder) =>
    readdirSync(join(root, folder), { recursive: true, withFileTypes: true })
      .filter(
        (entry) => entry.isFile() && /\.(ts|vue|css|html|svg)$/.test(entry.name) && !entry.name.endsWith('.test.ts'),
      )
      .map((entry) => relative(root, join(entry.parentPath, entry.name))),
  )
}

if (process.argv[1] === import.meta.filename) await build()
