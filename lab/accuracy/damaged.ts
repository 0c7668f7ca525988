import { readFileSync, writeFileSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { join } from 'node:path'
import type { Converter } from '../../server/conversion/programs.ts'
import { HttpRefusal } from '../../server/http/refusal.ts'
import { Chance } from '../support/chance.ts'
import { type Form, forms, makeForm, strip } from '../support/formats.ts'
import { bringIn } from './bringIn.ts'

/** What became of some damaged files. */
interface Outcome {
  cameIn: number
  refused: number
  /** What is neither a clip nor a sentence: there must be none. */
  else: string[]
  /** Seconds that the slowest one took. */
  longest: number
}

const times = 10

/** A row of a table for every form: cut off at ten places, and with bits turned over ten times. */
export async function damageRows(converter: Converter, folder: string): Promise<string[]> {
  const rows: string[] = []
  for (const form of forms.filter(({ apart }) => !apart)) rows.push(await rowOf(form, converter, folder))
  return rows
}

async function rowOf(form: Form, converter: Converter, within: string): Promise<string> {
  const folder = await mkdtemp(join(within, 'damaged-'))
  try {
    const whole = join(folder, `whole.${form.ending}`)
    makeForm(form, whole)
    const bytes = readFileSync(whole)
    const chance = new Chance(7)
    const cut = Array.from({ length: times }, (_, i) =>
      bytes.subarray(0, Math.floor((bytes.length * (i + 1)) / (times + 1))),
    )
    const turned = Array.from({ length: times }, () => {
      const copy = Buffer.from(bytes)
      for (let n = 0; n < bytes.length / 1000; n++) copy[chance.below(copy.length)]! ^= 1 << chance.below(8)
      return copy
    })
    const [a, b] = [await outcomeOf(cut, form, converter, folder), await outcomeOf(turned, form, converter, folder)]
    const odd = [...new Set([...a.else, ...b.else])]
    const longest = Math.max(a.longest, b.longest).toFixed(1)
    return `| ${form.name} | ${a.cameIn}, ${a.refused} | ${b.cameIn}, ${b.refused} | ${odd.join('; ') || 'none'} | ${longest} s |`
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

async function outcomeOf(files: Buffer[], form: Form, converter: Converter, folder: string): Promise<Outcome> {
  const outcome: Outcome = { cameIn: 0, refused: 0, else: [], longest: 0 }
  for (const bytes of files) {
    const file = join(folder, `damaged.${form.ending}`)
    writeFileSync(file, bytes)
    const began = performance.now()
    try {
      const { facts } = await bringIn(converter, file, folder)
      if (facts.frames > 0 && facts.frames <= 2 * strip.frames) outcome.cameIn++
      else outcome.else.push(`${facts.frames} frames`)
    } catch (error) {
      if (error instanceof HttpRefusal) outcome.refused++
      else outcome.else.push(String((error as Error).message).slice(0, 80))
    }
    outcome.longest = Math.max(outcome.longest, (performance.now() - began) / 1000)
  }
  return outcome
}
