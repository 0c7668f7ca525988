// npm test: everything that is checked, on a fresh clone too. Ends with the line 'N passed, N failed'.
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import { build } from './build.mjs'
import { findPrograms, installPackages, root } from './install.mjs'

installPackages()
const { chromium, ffmpeg } = findPrograms()
const env = { ...process.env, CHROMIUM: chromium, FFMPEG: ffmpeg, FORCE_COLOR: '0' }
const reports = join(root, 'test-results')
rmSync(reports, { recursive: true, force: true })
mkdirSync(reports, { recursive: true })

let passed = 0
let failed = 0
const programOf = (path) => join(root, path.startsWith('scripts/') ? '' : 'node_modules', path)
const run = (title, path, ...args) => {
  console.log(`\n— ${title}`)
  return spawnSync(process.execPath, [programOf(path), ...args], { cwd: root, stdio: 'inherit', env }).status === 0
}

// Checks without tests of their own count as one each. They need one core each: as many at a time as there are.
const checks = [
  ['lint', 'eslint/bin/eslint.js', '.'],
  ['types', 'vue-tsc/bin/vue-tsc.js', '--noEmit', '-p', 'tsconfig.json'],
  ['types of core', 'typescript/bin/tsc', '--noEmit', '-p', 'core/tsconfig.json'],
  ['format', 'prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.'],
  ['compiled kernels', 'scripts/kernels.mjs', '--check'],
  ['the map in the README', 'scripts/house.mjs', '--check'],
]
const check = ([title, path, ...args]) =>
  new Promise((done) => {
    const child = spawn(process.execPath, [programOf(path), ...args], { cwd: root, env })
    let said = ''
    for (const stream of [child.stdout, child.stderr]) stream.setEncoding('utf8').on('data', (text) => (said += text))
    child.once('close', (status) => {
      console.log(`\n— ${title}\n${said}`.trimEnd())
      if (status === 0) passed++
      else failed++
      done()
    })
  })
const waiting = [...checks]
const worker = async () => {
  for (let one = waiting.shift(); one; one = waiting.shift()) await check(one)
}
await Promise.all(Array.from({ length: availableParallelism() }, worker))

const units = join(reports, 'unit.json')
const unitsWell = run(
  'unit and API tests',
  'vitest/vitest.mjs',
  'run',
  '--reporter=default',
  '--reporter=json',
  `--outputFile=${units}`,
)
count(units, unitsWell, (report) => [report.numPassedTests, report.numFailedTests])

await build()
passed++

const browser = join(reports, 'browser.json')
env.PLAYWRIGHT_JSON_OUTPUT_NAME = browser
const browserWell = run(
  'browser tests',
  '@playwright/test/cli.js',
  'test',
  '--reporter=list,json',
  '--output',
  join(reports, 'browser'),
)
count(browser, browserWell, ({ stats }) => [stats.expected + stats.flaky, stats.unexpected])

console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed ? 1 : 0)

/** Adds a runner's counts; a runner that failed without a failed test still counts as a failure. */
function count(report, well, of) {
  if (!existsSync(report)) {
    failed++
    return
  }
  const [good, bad] = of(JSON.parse(readFileSync(report, 'utf8')))
  passed += good
  failed += well ? bad : Math.max(1, bad)
}
