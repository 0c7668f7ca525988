import { expect, it } from 'vitest'
import { Chance } from '../support/chance.ts'
import { inFolder, short, trials } from './trust.ts'

const tried = <T>(trial: (folder: string, much: typeof short, chance: Chance, built: boolean) => Promise<T>) =>
  inFolder((folder) => trial(folder, short, new Chance(1), false))

it('what was acknowledged outlives kills in the middle of everything', async () => {
  const { kills, acknowledged, faults } = await tried(trials.kills)
  expect(faults).toEqual([])
  expect(kills).toBe(short.kills)
  expect(acknowledged).toBeGreaterThan(short.kills)
}, 120_000)
it('a full disk takes nothing with it and is said', async () => {
  const { refused, faults } = await tried(trials.disk)
  expect(faults).toEqual([])
  expect(refused).toBeGreaterThan(2)
}, 120_000)
it('odd changes and requests are refused with a sentence, and the project opens and duplicates after all of them', async () => {
  const { faults, accepted, memory } = await tried(trials.fuzz)
  expect(faults).toEqual([])
  expect(accepted).toBeGreaterThan(10)
  expect(memory).toBeLessThan(300e6)
}, 120_000)
it('four tabs at once end alike, and are asked only about what several of them changed', async () => {
  const { faults, questions, contested } = await tried(trials.tabs)
  expect(faults).toEqual([])
  expect(questions).toBeLessThanOrEqual(contested)
}, 120_000)
