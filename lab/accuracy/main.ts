/**
 * npm run measure -- WHAT [--seed N] [--json FILE]: how well, how truly and how cheaply on drawn footage, and how safely;
 * jobs: how many actions and how much waiting five jobs take through the interface;
 * formats: which clips come in, and how truly; sync: how well picture and sound stay together.
 * With follow, --over FOLDER lays drawn props over the filmed clips in that folder instead: [--backgrounds develop|held-out|all]
 * [--props rods|boards|performers|disguised|surroundings|faces] [--perspective]
 * [--clips N] [--keys N] [--only 1,5,9] [--fit].
 */
import { writeFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import type { Half } from '../ground/backgrounds.ts'
import { trust } from '../trust/trust.ts'
import { follow } from './follow.ts'
import { formats } from './formats.ts'
import { allProps, ground, type GroundOptions, type Props } from './ground.ts'
import { measureJobs } from './jobs.ts'
import { proxy } from './proxy.ts'
import { sync } from './sync.ts'
import { trace } from './trace.ts'

const halves: readonly Half[] = ['develop', 'held-out', 'all']
const measures = { trace, jobs: measureJobs, proxy, follow, formats, trust, sync }
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    ...{ seed: { type: 'string', default: '1' }, json: { type: 'string' } },
    ...{ over: { type: 'string' }, backgrounds: { type: 'string', default: 'all' } },
    ...{ props: { type: 'string', default: 'rods' }, perspective: { type: 'boolean', default: false } },
    ...{ clips: { type: 'string', default: '24' }, keys: { type: 'string', default: '6' } },
    ...{ only: { type: 'string' }, fit: { type: 'boolean', default: false } },
  },
})
const use = (what: string): never => {
  console.error(what)
  process.exit(1)
}
/** A whole number that was given, `least` at least. */
function whole(name: string, given: string, least: number): number {
  const value = Number(given)
  if (!Number.isInteger(value) || value < least) use(`--${name} takes whole numbers from ${least} on, not “${given}”.`)
  return value
}
const names = Object.keys(measures).join('|')
const [what] = positionals as [keyof typeof measures | undefined]
if (!what || !(what in measures))
  use(`Use: npm run measure -- ${names} [--seed N] [--json FILE], and with follow [--over FOLDER].`)
const seed = whole('seed', values.seed, 0)

function groundOptions(over: string): GroundOptions {
  const backgrounds = values.backgrounds as Half
  if (!halves.includes(backgrounds)) use(`--backgrounds takes ${halves.join(', ')}, not “${backgrounds}”.`)
  const props = values.props as Props
  if (!allProps.includes(props)) use(`--props takes ${allProps.join(', ')}, not “${props}”.`)
  const clips = whole('clips', values.clips, 1)
  const only = values.only?.split(',').map((one) => whole('only', one, 1)) ?? []
  const beyond = only.find((one) => one > clips)
  if (beyond) use(`--only asks for clip ${beyond} of ${clips}: give more --clips, or a lower number.`)
  const { perspective, fit } = values
  return { over, backgrounds, props, perspective, clips, seed, keys: whole('keys', values.keys, 1), only, fit }
}
const figures =
  what === 'follow' && values.over ? await ground(groundOptions(values.over)) : await measures[what!](seed)
if (values.json) writeFileSync(values.json, JSON.stringify({ what, seed, figures }, null, 2))
process.exit(0)
