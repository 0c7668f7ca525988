/**
 * npm run measure -- WHAT [--seed N] [--json FILE]: how well, how truly and how cheaply on drawn footage, and how safely.
 * With follow, --over FOLDER lays drawn rods over the filmed clips in that folder instead: [--backgrounds develop|held-out|all]
 * [--clips N] [--keys N] [--only 1,5,9] [--fit].
 */
import { writeFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import type { Half } from '../ground/backgrounds.ts'
import { trust } from '../trust/trust.ts'
import { follow } from './follow.ts'
import { ground } from './ground.ts'
import { proxy } from './proxy.ts'
import { trace } from './trace.ts'

const measures = { trace, proxy, follow, trust }
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    ...{ seed: { type: 'string', default: '1' }, json: { type: 'string' } },
    ...{ over: { type: 'string' }, backgrounds: { type: 'string', default: 'all' } },
    ...{ clips: { type: 'string', default: '24' }, keys: { type: 'string', default: '6' } },
    ...{ only: { type: 'string' }, fit: { type: 'boolean', default: false } },
  },
})
const what = positionals[0] as keyof typeof measures | undefined
const seed = Number(values.seed)
if (!what || !(what in measures) || !Number.isInteger(seed)) {
  console.error(
    `Use: npm run measure -- ${Object.keys(measures).join('|')} [--seed N] [--json FILE], N a whole number.`,
  )
  process.exit(1)
}
const figures =
  what === 'follow' && values.over
    ? await ground({
        ...{ over: values.over, backgrounds: values.backgrounds as Half, seed, fit: values.fit },
        ...{ clips: Number(values.clips), keys: Number(values.keys) },
        only: values.only?.split(',').map(Number) ?? [],
      })
    : await measures[what](seed)
if (values.json) writeFileSync(values.json, JSON.stringify({ what, seed, figures }, null, 2))
process.exit(0)
