import { mkdtemp, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { convert } from '../../server/conversion/convert.ts'
import { planOf } from '../../server/conversion/plan.ts'
import type { Converter } from '../../server/conversion/programs.ts'
import { type Source, sourceOf } from '../../server/conversion/source.ts'
import { HttpRefusal } from '../../server/http/refusal.ts'
import { factsOf } from '../../server/media/facts.ts'
import type { Facts } from '../../server/media/mediaFacts.ts'

/** What became of a file: itself or what it was made into, its facts, and what it was where it was converted. */
export interface BroughtIn {
  made: string
  facts: Facts
  source: Source | null
}

/** Brings a file in as the server does: as it is, or converted within `folder`. Throws a Refusal with its words. */
export async function bringIn(converter: Converter, file: string, folder: string): Promise<BroughtIn> {
  const read = async (one: string) => factsOf(one, 'a'.repeat(64), (await stat(one)).size)
  try {
    return { made: file, facts: await read(file), source: null }
  } catch (error) {
    if (!(error instanceof HttpRefusal) || error.status !== 415) throw error
    const source = await sourceOf(converter, file)
    if (!source) throw new HttpRefusal(422, error.message)
    const made = await converted(converter, file, source, folder)
    return { made, facts: await read(made), source }
  }
}

/** Converts a file within a folder of its own, and gives the result. */
export async function converted(converter: Converter, from: string, source: Source, folder: string): Promise<string> {
  const own = await mkdtemp(join(folder, 'own-'))
  const { seconds } = source
  const job = { from, folder: own, plan: planOf(source, converter), seconds, most: 1e12, progressed: () => {} }
  return convert(converter, job, new AbortController().signal)
}
