import { answer } from '../jobs/answer.ts'
import type { Facts } from './mediaFacts.ts'
import { factsOf, glanceAt } from './facts.ts'

/** Reads the facts of a file, or looks at what its ends tell, away from whoever waits for the server. */
type Asked = { file: string; hash: string; bytes: number } | { glance: string }

answer<Asked, Facts | boolean>((asked) =>
  'glance' in asked ? glanceAt(asked.glance) : factsOf(asked.file, asked.hash, asked.bytes),
)
