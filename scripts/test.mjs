// npm test: everything that is checked, on a fresh clone too. Ends with the line 'N passed, N failed'.
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
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
const run = (title, path, ...args) => {
  console.log(`\n— ${title}`)
  const { status } = spawnSync(
    process.execPath,
    [join(root, path.startsWith('scripts/') ? '' : 'node_modules', path), ...args],
    {
      cwd: root,
      stdio: 'inherit',
      env,
    },
  )
  return status === 0
}
/** A check without tests of its own counts as one. */
const check = (title, path, ...args) => (run(title, path, ...args) ? passed++ : failed++)

check('types of core', 'typescript/bin/tsc', '--noEmit', '-p', 'core/tsconfig.json')
check('types', 'vue-tsc/bin/vue-tsc.js', '--noEmit', '-p', 'tsconfig.json')
check('lint', 'eslint/bin/eslint.js', '.')
check('format', 'prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.')

check('compiled kernels', 'scripts/kernels.mjs', '--check')
check('the map in the README', 'scripts/house.mjs', '--check')

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
