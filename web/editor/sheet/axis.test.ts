import { describe, expect, it } from 'vitest'
import { drawnFrames, type SheetAxis } from './axis.ts'

/** A sheet of 1000 px in which `span` frames are in sight from `first` on. */
function axis(first: number, span: number): SheetAxis {
  const perFrame = 1000 / span
  return {
    xOf: (frame) => 100 + (frame - first) * perFrame,
    frameAt: (x) => Math.round((x - 100) / perFrame + first),
    ...{ perFrame, left: 100, right: 1100 },
  }
}

describe('frames at which a line is drawn', () => {
  it('are all of a short shot', () => {
    expect(drawnFrames(axis(0, 5), 5)).toEqual([0, 1, 2, 3, 4])
  })
  it('are those in sight, with one beyond each rim', () => {
    const frames = drawnFrames(axis(200, 100), 5000)
    expect(frames[0]).toBeLessThanOrEqual(200)
    expect(frames.at(-1)).toBeGreaterThanOrEqual(300)
    expect(frames.length).toBeLessThan(106)
  })
  it('are one a pixel at most, also of an hour, and the same ones wherever it is scrolled to', () => {
    const frames = drawnFrames(axis(0, 86_400), 86_400)
    expect(frames.length).toBeLessThan(1010)
    expect(frames.at(-1)).toBeGreaterThan(86_300)
    const step = frames[1]!
    expect(drawnFrames(axis(37, 86_400), 86_400).every((frame) => frame % step === 0)).toBe(true)
  })
  it('lie between whole ones where there is room for a curve', () => {
    const frames = drawnFrames(axis(0, 10), 10, true)
    expect(frames[1]! - frames[0]!).toBeCloseTo(0.03, 9)
    expect(frames.at(-1)).toBeCloseTo(9, 1)
  })
})
