/**
 * npm run bench [-- --only NAME] [--json FILE]: our own benchmark, each figure against a reference in the same run (kinds of effects
 * at 4K too with --only 4k); with --profile
 * where the time of a frame goes, written to docs/speed.md; with --graphics what a graphics card has to do for one, to docs/graphics.md.
 */
import { writeFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { browserBenches } from './browser.ts'
import { coreBenches } from './core.ts'
import { effectBenches, shotBenches } from './effects.ts'
import { followBenches } from './follow.ts'
import { graphicsCounts } from './graphics.ts'
import type { Result } from './measure.ts'
import { paintBenches } from './paint.ts'
import { profile } from './profile.ts'
import { soundBenches } from './sounds.ts'
import { withoutWindowBenches } from './withoutWindow.ts'

const { values } = parseArgs({
  options: {
    ...{ only: { type: 'string' }, json: { type: 'string' } },
    ...{ profile: { type: 'boolean', default: false }, graphics: { type: 'boolean', default: false } },
  },
})
if (values.profile) {
  await profile()
  process.exit(0)
}
if (values.graphics) {
  await graphicsCounts()
  process.exit(0)
}
const all = {
  ...coreBenches,
  ...effectBenches,
  ...shotBenches,
  ...followBenches,
  ...paintBenches,
  ...browserBenches,
  ...soundBenches,
  ...withoutWindowBenches,
}
// Kinds at 4K take half an hour, and are measured where they are asked for.
const names = Object.keys(all).filter((name) => (values.only ? name.includes(values.only) : !name.startsWith('4k-')))
if (names.length === 0) {
  console.error(`There is no benchmark called ${values.only}. They are: ${Object.keys(all).join(', ')}.`)
  process.exit(1)
}
const results: Result[] = []
console.log(
  `${'benchmark'.padEnd(20)}${'ms'.padStart(10)}${'reference ms'.padStart(14)}${'ratio'.padStart(8)}${'aim'.padStart(7)}  reference`,
)
const failed: string[] = []
for (const name of names) {
  let one: Result
  try {
    one = await all[name]!()
  } catch (error) {
    // The others are worth having. Of the error its first line: a reference's own source may follow.
    failed.push(name)
    console.log(`${name.padEnd(20)}  could not be measured: ${String(error).split('\n')[0]!.slice(0, 200)}`)
    continue
  }
  results.push(one)
  const line = [
    one.name.padEnd(20),
    one.ms.toFixed(2).padStart(10),
    one.referenceMs.toFixed(2).padStart(14),
    one.ratio.toFixed(2).padStart(8),
    `${one.aim}`.padStart(7),
  ]
  console.log(`${line.join('')}  ${one.reference}${one.ratio > one.aim ? '  NOT REACHED' : ''}`)
}
if (values.json) writeFileSync(values.json, JSON.stringify(results, null, 2))
process.exit(failed.length > 0 ? 1 : 0)
