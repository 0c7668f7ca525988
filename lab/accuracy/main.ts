/** npm run measure -- WHAT [--seed N] [--json FILE]: how well, how truly and how cheaply on drawn footage, and how safely. */
import { writeFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { trust } from '../trust/trust.ts'
import { follow } from './follow.ts'
import { proxy } from './proxy.ts'
import { trace } from './trace.ts'

const measures = { trace, proxy, follow, trust }
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { seed: { type: 'string', default: '1' }, json: { type: 'string' } },
})
const what = positionals[0] as keyof typeof measures | undefined
const seed = Number(values.seed)
if (!what || !(what in measures) || !Number.isInteger(seed)) {
  console.error(
    `Use: npm run measure -- ${Object.keys(measures).join('|')} [--seed N] [--json FILE], N a whole number.`,
  )
  process.exit(1)
}
const figures = await measures[what](seed)
if (values.json) writeFileSync(values.json, JSON.stringify({ what, seed, figures }, null, 2))
process.exit(0)
