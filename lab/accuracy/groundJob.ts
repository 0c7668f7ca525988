/** Measures one case, given on the standard input, in a process of its own: figures as JSON on the standard output. */
import { text } from 'node:stream/consumers'
import type { Case } from '../ground/cases.ts'
import type { CaseFigures } from './ground.ts'
import { followedRod, keyedEvery, shotOf } from './groundRod.ts'

const { of, keys } = JSON.parse(await text(process.stdin)) as { of: Case; keys: number }
const shot = shotOf(of, 0)
const figures = await followedRod(shot, keys)
const everySecond = await keyedEvery(shot, 24)
process.stdout.write(JSON.stringify({ of, figures, everySecond } satisfies CaseFigures))
