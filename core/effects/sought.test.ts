import { expect, it } from 'vitest'
import { effectKinds } from './catalogue.ts'
import { soughtKinds } from './sought.ts'

it.each([
  ['freeze', 'hold'],
  ['slow', 'hold'],
  ['speed', 'insert'],
  ['reverse', 'insert'],
  ['particles', 'sparks'],
  ['glitch', 'signalTear'],
  ['crop', 'frame'],
  ['vignette', 'frame'],
  ['darker', 'grade'],
  ['magnify', 'lens'],
  ['flip', 'mirror'],
  ['picture', 'insert'],
  ['photo', 'insert'],
  ['logo', 'insert'],
  ['text', 'words'],
  ['transition', 'takeOver'],
  ['sword', 'blade'],
])('a word that somebody types, "%s", finds %s', (word, kind) => {
  expect(soughtKinds(word).map((one) => one.kind)).toContain(kind)
})

it('finds by several words, by their beginnings, names first; everything for nothing, nothing for what is unknown', () => {
  expect(soughtKinds('BLUR')[0]!.title.toLowerCase()).toContain('blur')
  expect(soughtKinds('len mag').map((one) => one.kind)).toContain('lens')
  expect(soughtKinds('')).toHaveLength(Object.keys(effectKinds).length)
  expect(soughtKinds('xyzzy')).toEqual([])
  // What a word begins in the middle of another is not meant.
  expect(soughtKinds('ark').map((one) => one.kind)).not.toContain('sparks')
})
