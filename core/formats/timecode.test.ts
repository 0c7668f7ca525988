import { expect, it } from 'vitest'
import { timeCode } from './timecode.ts'

it('counts frames, seconds and minutes (SMPTE ST 12-1, non-drop)', () => {
  expect(timeCode(57, 24)).toBe('00:02:09')
  expect(timeCode(24 * 61, 24)).toBe('01:01:00')
  // Without dropped numbers frame 1800 of 29.97 reads a full minute.
  expect(timeCode(1800, 29.97)).toBe('01:00:00')
})
