/** Measures one case, given on the standard input, in a process of its own: figures as JSON on the standard output. */
import { text } from 'node:stream/consumers'
import type { Case } from '../ground/cases.ts'
import type { CaseFigures } from './ground.ts'
import { followedRod, keyedEvery } from './groundRod.ts'

const { of, keys } = JSON.parse(await text(process.stdin)) as { of: Case; keys: number }
const figures = await followedRod(of, 0, keys)
const everySecond = await keyedEvery(of, 0, 24)
process.stdout.write(JSON.stringify({ of, figures, everySecond } satisfies CaseFigures))
