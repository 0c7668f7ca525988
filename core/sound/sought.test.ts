import { expect, it } from 'vitest'
import { soundKinds } from './catalogue.ts'
import { soughtVoices } from './sought.ts'

it.each([
  ['whoosh', 'swish'],
  ['sword', 'swish'],
  ['drone', 'hum'],
  ['explosion', 'boom'],
  ['footstep', 'step'],
  ['fire', 'crackle'],
  ['clang', 'crack'],
  ['magic', 'shimmer'],
  ['music', 'file'],
])('a word that somebody types, "%s", finds %s', (word, kind) => {
  expect(soughtVoices(word).map((one) => one.kind)).toContain(kind)
})

it('everything for nothing, nothing for what is unknown', () => {
  expect(soughtVoices('')).toHaveLength(Object.keys(soundKinds).length)
  expect(soughtVoices('hippopotamus')).toEqual([])
})
