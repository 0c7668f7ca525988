import { answer } from '../jobs/answer.ts'
import { factsOf } from './facts.ts'

/** Reads the facts of a file, away from whoever waits for the server. */
answer(({ file, hash, bytes }: { file: string; hash: string; bytes: number }) => factsOf(file, hash, bytes))
