import { beforeEach, expect, it, vi } from 'vitest'
import { Refusal } from '#core/refusal.ts'
import { WorkerEnded } from '../frames/worker.ts'
import { attend, logText, sentenceOf, tell } from './troubles.ts'

vi.stubGlobal('navigator', { userAgent: 'A browser' })
const told = vi.hoisted(() => [] as string[])
vi.mock('vue-sonner', () => ({ toast: { error: (sentence: string) => told.push(sentence) } }))
beforeEach(() => {
  told.length = 0
  vi.restoreAllMocks()
  vi.spyOn(console, 'error').mockImplementation(() => {})
})

it('shows a refusal as it is, and of a defect a sentence, with the rest in the log', () => {
  expect(sentenceOf(new Refusal('The disk is full.'), 'keep the file')).toBe('The disk is full.')
  const sentence = sentenceOf(new TypeError("Cannot read properties of undefined (reading 'frames')"), 'keep the file')
  expect(sentence).toMatch(/^Wisp Trail could not keep the file/)
  expect(sentence).not.toMatch(/undefined|TypeError/)
  expect(logText()).toMatch(/could not keep the file\nTypeError: Cannot read properties/)
})

it('says that the disk of the browser is full', () => {
  const full = new DOMException('The quota has been exceeded.', 'QuotaExceededError')
  expect(sentenceOf(full, 'write the film')).toMatch(/could not write the film: this browser has no room left/)
})

it('keeps still about work that was given up', () => {
  tell(new DOMException('The user aborted a request.', 'AbortError'), 'send the clip')
  tell(new WorkerEnded(), 'make the pictures')
  expect(told).toEqual([])
  expect(console.error).not.toHaveBeenCalled()
})

it('tells of the failure of work that nobody waits for', async () => {
  attend(Promise.reject(new Refusal('The clip was closed.')), 'read the clip')
  await Promise.resolve()
  await Promise.resolve()
  expect(told).toEqual(['The clip was closed.'])
})

it('remembers the latest fifty', () => {
  for (let i = 0; i < 60; i++) sentenceOf(new Error(`number ${i}.`), 'count')
  expect(logText()).toContain('number 59.')
  expect(logText()).not.toContain('number 9.')
})
