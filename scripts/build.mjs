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
  await buildServer({ main: 'server/main.ts', seed: 'lab/demo/seed.ts', ...serverScripts }, 'dist/server')
  checkSizes(join(root, 'dist/web/assets'))
  const { writeExample } = await import(pathToFileURL(join(root, 'dist/server/seed.js')).href)
  await writeExample(join(root, 'dist/example.wisptrail'), join(root, 'lab/demo/media'))
  mkdirSync(join(root, 'dist'), { recursive: true })
  writeFileSync(stamp, wanted)
}

/** What the server runs in processes of their own, and the program that renders without it. */
export const serverScripts = {
  'reading.job': 'server/media/reading.job.ts',
  'backup.job': 'server/storage/backup.job.ts',
  'rendering.job': 'server/rendering/rendering.job.ts',
  'converter.program': 'server/conversion/converter.program.ts',
  'render.program': 'server/rendering/render.program.ts',
}

/** Bundles scripts of the server into a folder within the project, where they find their packages. */
export async function buildServer(entryPoints, outdir) {
  const esbuild = await import(pathToFileURL(join(root, 'node_modules/esbuild/lib/main.js')).href)
  await esbuild.build({
    absWorkingDir: root,
    entryPoints,
    outdir,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    bundle: true,
    splitting: true,
    sourcemap: true,
    logLevel: 'warning',
  })
}

/** Bytes that scripts may take before compression: the first page with all it waits for, and each worker. */
const largest = {
  'the first page': 720e3,
  'decode.worker': 600e3,
  'encode.worker': 750e3,
  'sound.worker': 600e3,
  // Every effect kind and every typeface.
  'render.worker': 850e3,
  worker: 200e3,
}

/** Throws where a script has grown beyond its size: that is how a page comes to carry what it does not need. */
function checkSizes(assets) {
  const files = readdirSync(assets).filter((file) => file.endsWith('.js'))
  const size = (file) => readFileSync(join(assets, file)).byteLength
  /** A script with all that it imports outright. */
  const withImports = (file, found = new Set()) => {
    if (found.has(file)) return found
    found.add(file)
    for (const [, other] of readFileSync(join(assets, file), 'utf8').matchAll(
      /(?:from|import)\s*["'`]\.\/([^"'`]+\.js)["'`]/g,
    ))
      withImports(other, found)
    return found
  }
  const shelf = files
    .filter((file) => /^(index|start|Shelf)-/.test(file))
    .reduce((all, file) => withImports(file, all), new Set())
  const sizes = [['the first page', [...shelf].reduce((sum, file) => sum + size(file), 0)]]
  for (const file of files.filter((one) => one.includes('.worker')))
    sizes.push([`${file.split('.')[0]}.worker`, size(file)])
  for (const [name, bytes] of sizes) {
    const most = largest[name] ?? largest.worker
    if (process.argv.includes('--sizes'))
      console.log(`${name}: ${Math.round(bytes / 1000)} KB of at most ${most / 1000}`)
    if (bytes > most)
      throw new Error(`${name} is ${Math.round(bytes / 1000)} KB; it may be ${most / 1000}. Look what it imports.`)
  }
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
