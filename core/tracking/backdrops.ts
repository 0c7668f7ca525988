import { Backdrop, backdropFrames } from './background.ts'
import type { FollowPicture } from './frame.ts'

/** Frames that a wide backdrop is made of lie at most so far from its middle; the next middle is half of that away. */
const wideReach = 120
/** Frames around the middle of a near backdrop that it is made of, and how many frames share one. */
const nearFrames = [-19, -15, -11, -8, -5, -2, 1, 4, 7, 10, 13, 17]
const nearShared = 6
/** Levels off the wide backdrop up to which a frame needs no other, and by how much a near one must be better. */
const good = 4
const better = 0.7

/**
 * What stands behind everything that moves, for every frame of a shot: the median over a long while where the camera and
 * what is behind keep still, and over a short one where that explains the frame better.
 */
export class Backdrops {
  private readonly length: number
  private readonly picture: (frame: number) => Promise<FollowPicture>
  private readonly wides = new Map<number, Backdrop>()
  private readonly nears = new Map<number, Backdrop>()

  /** `length`: frames of the shot. */
  constructor(length: number, picture: (frame: number) => Promise<FollowPicture>) {
    this.length = length
    this.picture = picture
  }

  /** The one that explains a frame best. */
  async at(frame: number): Promise<Backdrop> {
    const wide = await this.wide(frame)
    const picture = await this.picture(frame)
    const off = wide.residual(picture)
    if (off <= good || this.length < nearFrames.length) return wide
    const middle = Math.min(this.length - 1, nearShared * Math.round(frame / nearShared))
    let near = this.nears.get(middle)
    if (!near) {
      near = await this.made(
        middle,
        nearFrames.map((by) => middle + by).filter((at) => at >= 0 && at < this.length),
      )
      this.keep(this.nears, middle, near, 3)
    }
    return near.residual(picture) < better * off ? near : wide
  }

  /** The one over a long while. A frame beyond a cut, which that does not know, gets one of its own. */
  async wide(frame: number): Promise<Backdrop> {
    const picture = await this.picture(frame)
    const steps = Math.max(1, Math.round(this.length / wideReach))
    const middle = Math.round(
      (this.length * (Math.min(steps - 1, Math.floor((frame * steps) / this.length)) + 0.5)) / steps,
    )
    for (const known of [this.wides.get(middle), this.wides.get(~frame)]) if (known?.motion(picture)) return known
    const from = Math.max(0, middle - wideReach)
    const to = Math.min(this.length - 1, middle + wideReach)
    const count = Math.min(to - from + 1, backdropFrames)
    const at = Array.from({ length: count }, (_, i) => Math.round(from + (i * (to - from)) / Math.max(1, count - 1)))
    const known = this.wides.has(middle)
    const made = await this.made(known ? frame : middle, at)
    this.keep(this.wides, known ? ~frame : middle, made, 3)
    if (!known && !made.motion(picture)) return await this.wide(frame)
    return made
  }

  private async made(middle: number, frames: readonly number[]): Promise<Backdrop> {
    const all = [...new Set([...frames, middle])].sort((a, b) => a - b)
    const pictures: FollowPicture[] = []
    for (const frame of all) pictures.push(await this.picture(frame))
    return new Backdrop(pictures[all.indexOf(middle)]!, pictures)
  }

  private keep(map: Map<number, Backdrop>, at: number, made: Backdrop, count: number): void {
    map.set(at, made)
    if (map.size > count) map.delete(map.keys().next().value!)
  }
}
