import type { Stretch } from '../records/film.ts'
import type { Way } from './forms.ts'

/** Bits per pixel and frame: enough for grain and soft light not to break into blocks. Newer codecs need less for the same (common practice, no source). */
export const bitsPerPixel = { avc: 0.22, vp9: 0.22, hevc: 0.14, av1: 0.12 } as const satisfies Record<
  Extract<Way, { way: 'video' }>['codec'],
  number
>

/** Size of a picture in pixels, made smaller. */
export const reduced = ({ width, height }: { width: number; height: number }, reduce: 1 | 2 | 4) => ({
  ...{ width: Math.ceil(width / reduce), height: Math.ceil(height / reduce) },
})

/** A frame to be rendered: which stretch it is of, its place in that one's shot, and when it is shown in seconds. */
export interface FilmFrame {
  stretch: number
  frame: number
  time: number
  duration: number
}

/** Every frame of the file in order. A single stretch keeps its clip's own times where it runs as it was filmed; a film has one rate throughout. */
export function framesOfFilm(stretches: Stretch[], times: number[][], rate: number | null): FilmFrame[] {
  const [first] = stretches
  if (!rate && stretches.length === 1 && first && !first.shot.timing) {
    const [own, from] = [times[0]!, first.shot.in + first.from]
    const at = (i: number) => own[from + i] ?? endOf(own)
    return Array.from({ length: first.to - first.from }, (_, i) => ({
      ...{ stretch: 0, frame: first.from + i, time: at(i) - at(0), duration: frameLength(own, from + i) },
    }))
  }
  const steady = rate ?? first!.media.rate
  const frames = stretches.flatMap(({ media, from, to }, stretch) => {
    const step = media.rate / first!.media.rate
    const count = Math.max(1, Math.round((to - from) / step))
    return Array.from({ length: count }, (_, i) => ({ stretch, frame: Math.min(to - 1, from + Math.floor(i * step)) }))
  })
  return frames.map((one, i) => ({ ...one, time: i / steady, duration: 1 / steady }))
}

/** Seconds that a frame of the clip stays. */
export function frameLength(times: number[], frame: number): number {
  const next = times[frame + 1]
  if (next !== undefined) return next - times[frame]!
  return times.length > 1 ? times[frame]! - times[frame - 1]! : 1 / 24
}
const endOf = (times: number[]) => times.at(-1)! + frameLength(times, times.length - 1)
