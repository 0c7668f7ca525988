import { polygonArea } from '../geometry/path.ts'
import { composed, inverseOf, mapped, mappedAll, type Projective } from '../geometry/projective.ts'
import { type Fit, type MotionModel, motionModels, Patch } from './align.ts'
import type { FollowPicture } from './frame.ts'

/** What a follower says of one frame: points in plate pixels and how sure it is (0 to 1), or null where it found nothing. */
export interface Estimate {
  points: number[]
  confidence: number
}

/** How a region is followed; 'auto' picks the stiffest motion that explains the picture. */
export type PlaneModel = MotionModel | 'auto'

export interface PlaneStart {
  picture: FollowPicture
  /** Edge of the shape, and the points that go along with it: flat lists in plate pixels. */
  region: readonly number[]
  points: readonly number[]
  model: PlaneModel
  /** Polygons of what lies over the region on the first frame. */
  covered: readonly number[][]
  /** Whether the region is known to be flat: where it is large, it is seen in perspective from the first frame on. */
  flat?: boolean
}

/** How well a region must correlate for its reference to be trusted on its own, and from where on it is lost. */
const trusted = 0.8
const lost = 0.45
/** Likeness that is lost where it is expected, from which on it is searched for elsewhere. */
const likelyElsewhere = 0.04
/** Likeness that is lost from one frame to the next where something has come over the region: no reason for a new one. */
const sudden = 0.12
/** Confidence from which on a place is where the next frame is looked for. */
const credible = 0.35
/** More references than this, one after the other, are guesswork. */
const mostReferences = 6

/** Plate pixels from which on what stands behind a region only leads it astray, and its own picture is enough. */
const large = 10_000
/** Plate pixels that a region must cover for a motion so free to be picked for it: a small one would bend after its own grain. */
const detailFor: Record<MotionModel, number> = {
  translation: 0,
  rigid: 0,
  similarity: 0,
  affine: 6000,
  homography: large,
}
/**
 * A freer motion is picked where it takes off what the stiffer one could not explain so many times the share of one
 * pixel: an F test (6 for two numbers more) where every fourth pixel says something of its own.
 */
const worthIt = 48

const still: Projective = [1, 0, 0, 0, 1, 0, 0, 0, 1]

/**
 * Follows a flat region away from a frame on which a hand has set it. Each frame is aligned to that frame itself. Where
 * the region has come to look too different from it, the last frame that was sure becomes a reference too, and the first
 * one is taken up again as soon as it fits.
 */
export class PlaneFollower {
  private readonly references: { patch: Patch; map: Projective }[]
  private readonly region: readonly number[]
  private readonly points: readonly number[]
  private readonly margin: number
  private readonly area: number
  private readonly auto: boolean
  private model: MotionModel
  private map = still
  /** How the middle of the region moved from the last frame to the one before, in plate pixels a frame. */
  private velocity: [number, number] = [0, 0]
  private before: { picture: FollowPicture; covered: readonly number[][]; correlation: number }
  private missed = 0

  constructor({ picture, region, points, model, covered, flat = false }: PlaneStart) {
    this.region = region
    this.points = points
    this.area = areaOf(region)
    this.auto = model === 'auto'
    const usual = flat && this.area > large ? 'homography' : 'similarity'
    this.model = model === 'auto' ? usual : model
    // A few pixels beyond the edge: of a small region the edge itself is what holds best. A large one has enough within.
    this.margin = this.area > large ? 1 : Math.max(3, Math.min(8, 0.15 * Math.sqrt(this.area)))
    this.references = [{ patch: new Patch(picture, region, this.margin, covered), map: still }]
    this.before = { picture, covered, correlation: 1 }
  }

  /** Pixels that there are to go by; with fewer than a few dozen nothing can be followed. */
  get pixels(): number {
    return this.references[0]!.patch.pixels
  }

  /** On to the next frame. `covered`: polygons of what lies over the region there. */
  step(picture: FollowPicture, covered: readonly number[][]): Estimate | null {
    const expected = this.expected()
    const found = this.found(picture, covered, expected)
    if (!found) {
      // Out of sight for a moment: it may come back where its motion leads, which is looked for ever more widely.
      this.missed++
      this.before = { ...this.before, picture, covered }
      return null
    }
    const { fit, confidence } = found
    if (confidence < credible) {
      // Said, but not believed: what is looked for next goes on from the last place that was.
      this.missed++
      this.before = { ...this.before, picture, covered }
      return { points: mappedAll(fit.map, this.points), confidence }
    }
    const middle = this.middle()
    const from = mapped(this.map, ...middle)
    const to = mapped(fit.map, ...middle)
    const frames = this.missed + 1
    this.velocity = [(to[0] - from[0]) / frames, (to[1] - from[1]) / frames]
    this.map = fit.map
    this.missed = 0
    this.before = { picture, covered, correlation: fit.correlation }
    return { points: mappedAll(fit.map, this.points), confidence }
  }

  private found(picture: FollowPicture, covered: readonly number[][], expected: Projective) {
    const first = this.references[0]!
    const newest = this.references.at(-1)!
    const search = this.reach() * Math.min(3, 1 + this.missed)
    let fit = this.at(newest, picture, expected, search, covered)
    const gradual = fit !== null && this.before.correlation - fit.correlation < sudden
    if (gradual && fit!.correlation < trusted && this.missed === 0 && this.before.correlation >= trusted) {
      // The reference fits no more, and the last frame was sure: from now on that one is looked for.
      const added = this.addReference()
      const other = added && this.at(added, picture, expected, search, covered)
      if (other && (!fit || other.correlation > fit.correlation + 0.05)) fit = other
      else if (added) this.references.pop()
    }
    if (!fit || fit.correlation < lost || fit.visible < 0.2) return null
    let unlikeFirst = 0
    if (this.references.length > 1) {
      const again = this.at(first, picture, fit.map, 0, covered)
      unlikeFirst = Math.max(0, 0.7 - (again?.correlation ?? 0))
      // Where the first reference fits again it counts: with it no error is carried on.
      if (again && again.correlation >= trusted && this.apart(again.map, fit.map) < 4) {
        fit = again
        this.references.length = 1
        unlikeFirst = 0
      }
    }
    return { fit, confidence: this.sureness(fit, expected, unlikeFirst) }
  }

  private at(
    reference: { patch: Patch; map: Projective },
    picture: FollowPicture,
    expected: Projective,
    search: number,
    covered: readonly number[][],
  ): Fit | null {
    // A patch speaks in pixels of its own frame: what is looked for there lies where the reference was.
    const back = relative(expected, reference.map)
    if (!back) return null
    const find = (model: MotionModel, start: Projective, room: number) => {
      const fit = reference.patch.find(picture, start, model, room, covered)
      return fit && { ...fit, map: composed(fit.map, reference.map) }
    }
    // Mostly it lies where it is expected; only where it does not look so there it is searched for around.
    let fit = find(this.model, back, 0)
    if (search > 0 && (!fit || fit.correlation < this.before.correlation - likelyElsewhere)) {
      const farther = find(this.model, back, search)
      if (farther && (!fit || farther.correlation > fit.correlation + 0.02)) fit = farther
    }
    if (!fit || !this.auto) return fit
    for (const model of motionModels.slice(motionModels.indexOf(this.model) + 1)) {
      if (this.area < detailFor[model]) break
      const start = relative(fit.map, reference.map)
      const freer = start && find(model, start, 0)
      if (!freer || freer.cost > (1 - worthIt / this.pixels) * fit.cost) break
      fit = freer
      this.model = model
    }
    return fit
  }

  private addReference() {
    if (this.references.length >= mostReferences) return null
    const region = mappedAll(this.map, this.region)
    const patch = new Patch(this.before.picture, region, this.margin, this.before.covered)
    const reference = { patch, map: this.map }
    this.references.push(reference)
    return reference
  }

  private expected(): Projective {
    const frames = Math.min(3, this.missed + 1)
    const [vx, vy] = this.velocity
    return composed([1, 0, vx * frames, 0, 1, vy * frames, 0, 0, 1], this.map)
  }

  /** How far off its expected place the region is looked for, in plate pixels. */
  private reach(): number {
    return Math.max(20, 0.6 * this.references[0]!.patch.least, 0.7 * Math.hypot(...this.velocity))
  }

  private middle(): [number, number] {
    const { cx, cy } = this.references[0]!.patch
    return [cx, cy]
  }

  /** Farthest that a point of the shape lies apart under two maps, in plate pixels. */
  private apart(a: Projective, b: Projective): number {
    const [pa, pb] = [mappedAll(a, this.points), mappedAll(b, this.points)]
    let most = 0
    for (let i = 0; i < pa.length; i += 2) most = Math.max(most, Math.hypot(pa[i]! - pb[i]!, pa[i + 1]! - pb[i + 1]!))
    return most
  }

  /** `unlikeFirst`: how much less than 0.7 the place looks like the key's own frame, where others stand in for it. */
  private sureness(fit: Fit, expected: Projective, unlikeFirst: number): number {
    const [ex, ey] = mapped(expected, ...this.middle())
    const [x, y] = mapped(fit.map, ...this.middle())
    const jump = Math.hypot(x - ex, y - ey) / Math.max(8, this.references[0]!.patch.least)
    const doubt =
      4.2 -
      7 * (1 - fit.correlation) -
      2 * (1 - fit.visible) -
      2.5 * (1 - fit.agreeing) -
      2 * Math.min(1, fit.standardError) -
      1.5 * Math.min(1, jump) -
      0.4 * (this.references.length - 1) -
      6 * unlikeFirst
    return 1 / (1 + Math.exp(-doubt))
  }
}

/** What `map` does beyond what `base` has done: the map from places under `base` to places under `map`. */
function relative(map: Projective, base: Projective): Projective | null {
  if (base === still) return map
  const back = inverseOf(base)
  return back && composed(map, back)
}

const areaOf = (polygon: readonly number[]) => Math.abs(polygonArea(polygon))
