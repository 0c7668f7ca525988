import type { FrameRange } from './types.ts'

/** How much of something is there at a frame by its range, 0..1; all of it where it has none. */
export function presence(range: FrameRange | null | undefined, frame: number): number {
  if (!range) return 1
  if (frame < range.from || frame > range.to) return 0
  // A fade of n frames has n steps before it is full: its first frame shows already something.
  const rise = (frame - range.from + 1) / (range.fadeIn + 1)
  const fall = (range.to - frame + 1) / (range.fadeOut + 1)
  return Math.min(1, rise, fall)
}
