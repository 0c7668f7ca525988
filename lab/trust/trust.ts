import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Chance } from '../support/chance.ts'
import { fullDisk } from './fullDisk.ts'
import { fuzz } from './fuzz.ts'
import { kills } from './kills.ts'
import { tabs } from './tabs.ts'

/** How much of everything is done. */
export const whole = { kills: 200, disk: 64, changes: 10_000, requests: 2000, edits: 2000 }
export const short = { kills: 6, disk: 12, changes: 300, requests: 60, edits: 400 }

export type Much = typeof whole

/** Whether what was acknowledged is kept, whatever happens to the server and whatever is sent to it; one after the other. */
export const trials = {
  kills: (folder: string, much: Much, chance: Chance, built: boolean) =>
    kills(join(folder, 'kills'), much.kills, chance, built),
  disk: (folder: string, much: Much, chance: Chance, built: boolean) => fullDisk(folder, much.disk, chance, built),
  fuzz: (folder: string, much: Much, chance: Chance, built: boolean) => fuzz(join(folder, 'fuzz'), much, chance, built),
  tabs: (folder: string, much: Much, chance: Chance, built: boolean) =>
    tabs(join(folder, 'tabs'), much.edits, chance, built),
}

/** Runs trials in a folder of their own. */
export async function inFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), 'wisp-trust-'))
  try {
    return await work(folder)
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

/** The whole of it on the built server, each figure as soon as it is known. */
export async function trust(seed: number) {
  const begin = performance.now()
  const chance = new Chance(seed)
  return inFolder(async (folder) => {
    const say = (line: string, faults: readonly string[]) => {
      console.log(`${((performance.now() - begin) / 1000).toFixed(0).padStart(4)} s  ${line}`)
      for (const fault of faults.slice(0, 20)) console.log(`          ${fault}`)
    }
    const killed = await trials.kills(folder, whole, chance, true)
    say(
      `${killed.kills} kills, ${killed.acknowledged} acknowledged: ${killed.faults.length} lost or half`,
      killed.faults,
    )
    const full = await trials.disk(folder, whole, chance, true)
    say(
      `full disk (${full.real ? 'a small file system' : 'limited files'}): ${full.refused} refused, ${full.acknowledged} acknowledged, ${full.faults.length} lost, half or without a sentence`,
      full.faults,
    )
    const odd = await trials.fuzz(folder, whole, chance, true)
    say(
      `${odd.changes} odd changes (${odd.accepted} accepted), ${odd.requests} odd requests: ${odd.faults.length} faults, ${Math.round(odd.memory / 1e6)} MB at most, others waited ${Math.round(odd.longestWait)} ms at most`,
      odd.faults,
    )
    const several = await trials.tabs(folder, whole, chance, true)
    say(
      `4 tabs, ${several.edits} edits: alike after ${several.seconds.toFixed(1)} s, ${several.questions} questions for ${several.contested} contested edits, ${several.faults.length} faults`,
      several.faults,
    )
    return { killed, full, odd, several }
  })
}
