// npm run kernels: compiles kernels/ to WebAssembly and writes it as a module. --check only compares.
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { root } from './install.mjs'

const target = join(root, 'core/pixels/kernels/binary.generated.ts')
const asc = await import(pathToFileURL(join(root, 'node_modules/assemblyscript/dist/asc.js')).href)
const args = [
  'kernels/index.ts',
  '--outFile',
  'kernels.wasm',
  '--runtime',
  'stub',
  '--importMemory',
  '--enable',
  'simd',
  '-O3',
  '--noAssert',
  '--initialMemory',
  '16',
]
let binary = null
const { error, stderr } = await asc.main(args, {
  readFile: (name, base) => {
    try {
      return readFileSync(join(root, base === '.' ? '' : base, name), 'utf8')
    } catch {
      return null
    }
  },
  writeFile: (_, contents) => void (binary = contents),
  listFiles: () => [],
})
if (error || !binary) {
  console.error(stderr.toString())
  process.exit(1)
}
const text = `// Made by npm run kernels from kernels/index.ts.\nexport const binary =\n  '${Buffer.from(binary).toString('base64')}'\n`
if (process.argv.includes('--check')) {
  if (readFileSync(target, 'utf8') === text) process.exit(0)
  console.error('core/pixels/kernels/binary.generated.ts is not what kernels/ compiles to. Run npm run kernels.')
  process.exit(1)
}
writeFileSync(target, text)
console.log(`${binary.length} bytes of WebAssembly`)
