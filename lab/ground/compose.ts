import { boundsOf, intersect, type Rect } from '#core/geometry/rect.ts'
import { noise2 } from '#core/pixels/filters/noise.ts'
import { Chance } from '../support/chance.ts'
import { type Backcloth, backclothOf } from './backgrounds.ts'
import { type Case, groundSize, rodColours } from './cases.ts'
import { type Held, type Moment, performed, type Point } from './perform.ts'

/** What is known of a rod on a frame, at the middle of the shutter. */
export interface RodTruth {
  /** [heel x, heel y, tip x, tip y] in px of the frame. */
  points: number[]
  /** How wide it is at heel and tip, px. */
  widths: { heel: number; tip: number }
  /** Share of its length that lies in the picture and behind nothing but the hand. */
  shown: number
}

export interface Composed {
  /** Frames as RGB, 8 bits, one after the other. */
  rgb: Uint8Array
  /** For every rod every frame. */
  truth: RodTruth[][]
}

/** Room around the frame that the camera may move in. */
export const room = { x: 160, y: 48 }
/** Px of way that one picture of the open shutter stands for, and how many there are at most. */
const shutterStep = 2.5
const mostSteps = 24

/** Plays a case before its background, shutter open as long as it says, and films it with grain. */
export function composed(of: Case): Composed {
  const { width, height } = groundSize
  const size = { width: width + 2 * room.x, height: height + 2 * room.y }
  const backcloth = backclothOf(of.background, of.start, of.frames, size)
  const at = performed(of)
  const cast = castOf(of)
  const rgb = new Uint8Array(3 * width * height * of.frames)
  const truth: RodTruth[][] = at(0).held.map(() => [])
  const open = of.shutter / 360
  for (let f = 0; f < of.frames; f++) {
    const now = at(f)
    const way = Math.max(...now.held.map((_, i) => apart(at(f - open / 2), at(f + open / 2), i)))
    const steps = Math.max(4, Math.min(mostSteps, Math.ceil(way / shutterStep)))
    const light = behind(backcloth, Math.min(f, backcloth.frames.length - 1), now.camera)
    body(light, now, cast)
    const moments = Array.from({ length: steps }, (_, k) => at(f + open * ((k + 0.5) / steps - 0.5)))
    exposed(light, moments, cast)
    develop(light, rgb.subarray(3 * width * height * f), of, f)
    now.held.forEach((held, i) => truth[i]!.push(truthOf(held, now, of)))
  }
  return { rgb, truth }
}

/** Arms and rods are drawn for every moment of the open shutter, and what they give is averaged: light in place. */
function exposed(light: Float32Array, moments: readonly Moment[], cast: Cast): void {
  const box = boxOf(moments)
  const row = 3 * box.width
  const at = (y: number) => 3 * ((box.y + y) * groundSize.width + box.x)
  const clean = new Float32Array(row * box.height)
  for (let y = 0; y < box.height; y++) clean.set(light.subarray(at(y), at(y) + row), y * row)
  const sum = new Float32Array(clean.length)
  for (const moment of moments) {
    arms(light, moment, cast)
    for (let y = 0; y < box.height; y++) {
      const [from, to] = [at(y), y * row]
      for (let i = 0; i < row; i++) sum[to + i]! += light[from + i]!
      light.set(clean.subarray(to, to + row), from)
    }
  }
  for (let y = 0; y < box.height; y++) {
    const [to, from] = [at(y), y * row]
    for (let i = 0; i < row; i++) light[to + i] = sum[from + i]! / moments.length
  }
  // What stands before everything keeps still while the shutter is open.
  const middle = moments[moments.length >> 1]!
  if (!middle.post) return
  const x = filmed(middle, [middle.post.x, 360])[0]
  const wide = middle.post.width / 2
  const shade: Shade = (u, v) => cloth(cast.post, u * 40, v * 4, 77, 0.35)
  slab(light, [x, -40], [x, groundSize.height + 40], wide, wide, shade, false)
}

/** What arms and rods can touch. */
function boxOf(moments: readonly Moment[]): Rect {
  const places = moments.flatMap((moment) =>
    moment.held.flatMap(({ heel, tip, shoulder, elbow, hand, second }) =>
      [heel, tip, shoulder, elbow, hand, second ?? hand].flatMap((place) => filmed(moment, place)),
    ),
  )
  return intersect(boundsOf(places, 50), { x: 0, y: 0, ...groundSize })
}

const apart = (a: Moment, b: Moment, i: number): number => {
  const far = ([ax, ay]: Point, [bx, by]: Point) => Math.hypot(ax - bx, ay - by)
  return Math.max(far(a.held[i]!.tip, b.held[i]!.tip), far(a.held[i]!.heel, b.held[i]!.heel))
}

/** Where a place of the world lies in the frame. */
function filmed({ camera }: Moment, [x, y]: Point): Point {
  const [cx, cy] = [groundSize.width / 2, groundSize.height / 2]
  const [dx, dy] = [x - camera.x - cx, y - camera.y - cy]
  const [c, s] = [Math.cos(camera.turn), Math.sin(camera.turn)]
  return [cx + c * dx - s * dy, cy + s * dx + c * dy]
}

function truthOf(held: Held, now: Moment, { rod }: Case): RodTruth {
  const [hx, hy] = filmed(now, held.heel)
  const [tx, ty] = filmed(now, held.tip)
  let seen = 0
  for (let i = 0; i < 40; i++) {
    const u = (i + 0.5) / 40
    const [x, y] = [hx + (tx - hx) * u, hy + (ty - hy) * u]
    const inside = x >= 0 && y >= 0 && x < groundSize.width && y < groundSize.height
    const post = now.post && filmed(now, [now.post.x, y])[0]
    if (inside && !(post !== null && Math.abs(x - post) < now.post!.width / 2)) seen++
  }
  const { heel, tip } = held.wider
  return { points: [hx, hy, tx, ty], widths: { heel: rod.heel * heel, tip: rod.tip * tip }, shown: seen / 40 }
}

export const toLight = Float32Array.from({ length: 256 }, (_, code) => (code / 255) ** 2.2)

/**
 * Share of each pixel, of 0 to 1, that the performer and what is held cover on a frame; the post in front is left out. `bare`: the
 * performer alone, with nothing in the hands.
 */
export function matteOf(of: Case, bare = false): (frame: number) => Float32Array {
  const at = performed(of)
  const cast = castOf(of)
  const open = of.shutter / 360
  const before = (light: number, frame: number) => {
    const out = new Float32Array(3 * groundSize.width * groundSize.height).fill(light)
    const now = { ...at(frame), post: null }
    body(out, now, cast)
    const moments = Array.from({ length: 12 }, (_, k) => {
      const moment = at(frame + open * ((k + 0.5) / 12 - 0.5))
      const held = moment.held.map((one) => (bare ? { ...one, heel: one.hand, tip: one.hand } : one))
      return { ...moment, held, post: null }
    })
    exposed(out, moments, cast)
    return out
  }
  return (frame) => {
    // What lets nothing of a white wall through, compared with a black one, is covered.
    const [black, white] = [before(0, frame), before(1, frame)]
    return Float32Array.from({ length: black.length / 3 }, (_, i) => 1 - (white[3 * i]! - black[3 * i]!))
  }
}

/** The filmed background of a case alone, as it lies behind the performer on a frame: linear light, RGB. */
export function backgroundOf(of: Case): (frame: number) => Float32Array {
  const { width, height } = groundSize
  const backcloth = backclothOf(of.background, of.start, of.frames, {
    width: width + 2 * room.x,
    height: height + 2 * room.y,
  })
  const at = performed(of)
  return (frame) => behind(backcloth, Math.min(frame, backcloth.frames.length - 1), at(frame).camera)
}

/** Along the performer's middle on the first frame, as a hand would stroke: head, body, and down each arm to its hand. */
export function strokeOf(of: Case): number[] {
  const now = performed(of)(0)
  const go = (p: Point) => filmed(now, p)
  const [x, y] = go(now.body!)
  const arms = now.held.flatMap(({ shoulder, elbow, hand }) => [
    ...[[x, y - 20] as Point, go(shoulder), go(elbow), go(hand), go(elbow), go(shoulder)],
  ])
  return [[x, y - 180] as Point, [x, y - 60] as Point, [x, y + 200] as Point, ...arms].flat()
}

const toCode = Float32Array.from({ length: 16384 }, (_, i) => 255 * (i / 16383) ** (1 / 2.2))

/** What the camera sees of the background, in linear light. */
export function behind({ width, height, frames }: Backcloth, frame: number, camera: Moment['camera']): Float32Array {
  const out = new Float32Array(3 * groundSize.width * groundSize.height)
  const from = frames[frame]!
  const [c, s] = [Math.cos(camera.turn), Math.sin(camera.turn)]
  const [mx, my] = [groundSize.width / 2, groundSize.height / 2]
  for (let y = 0, to = 0; y < groundSize.height; y++)
    for (let x = 0; x < groundSize.width; x++, to += 3) {
      const px = Math.max(0, Math.min(width - 1.001, mx + c * (x - mx) + s * (y - my) + camera.x + room.x))
      const py = Math.max(0, Math.min(height - 1.001, my - s * (x - mx) + c * (y - my) + camera.y + room.y))
      const [ix, iy] = [px | 0, py | 0]
      const [u, v] = [px - ix, py - iy]
      const at = 3 * (iy * width + ix)
      for (let k = 0; k < 3; k++) {
        const top = toLight[from[at + k]!]! * (1 - u) + toLight[from[at + 3 + k]!]! * u
        const low = toLight[from[at + 3 * width + k]!]! * (1 - u) + toLight[from[at + 3 * width + 3 + k]!]! * u
        out[to + k] = top + (low - top) * v
      }
    }
  return out
}

/** Grain, and the codes of sRGB. */
export function develop(light: Float32Array, to: Uint8Array, { grain, seed }: Case, frame: number): void {
  const chance = new Chance(seed * 977 + frame + 1)
  for (let i = 0; i < light.length; i++) {
    const noise = chance.between(-1, 1) + chance.between(-1, 1) + chance.between(-1, 1)
    const code = toCode[(Math.max(0, Math.min(1, light[i]!)) * (toCode.length - 1)) | 0]! + grain * noise
    to[i] = code < 0 ? 0 : code > 255 ? 255 : code + 0.5
  }
}

/** How everybody of a case looks, in linear light. */
interface Cast {
  of: Case
  skin: Light
  sleeve: Light
  coat: Light
  post: Light
  bands: Light[]
}
type Light = [number, number, number]
const lightOf = (codes: readonly number[]) => codes.map((code) => toLight[code]!) as Light

function castOf(of: Case): Cast {
  const chance = new Chance(of.seed * 7 + 3)
  const skins = [
    [224, 178, 150],
    [198, 146, 112],
    [142, 96, 68],
    [92, 62, 48],
  ]
  const some = () => lightOf([0, 1, 2].map(() => Math.round(chance.between(20, 210))))
  return {
    ...{ of, skin: lightOf(chance.one(skins)), sleeve: some(), coat: some(), post: some() },
    bands: rodColours[of.rod.colour]!.map(lightOf),
  }
}

/** The case with a performer who is dressed like what is behind: of many seeds the one whose coat and sleeves are nearest. */
export function disguised(of: Case): Case {
  const back = backgroundOf(of)(0)
  const { width } = groundSize
  const mean = [0, 0, 0]
  let count = 0
  for (let y = 200; y < 700; y += 9)
    for (let x = 350; x < 930; x += 9, count++) for (let c = 0; c < 3; c++) mean[c]! += back[3 * (y * width + x) + c]!
  const apart = (light: Light) => Math.hypot(...light.map((v, c) => 0.7 * v - mean[c]! / count))
  let [best, least] = [of, Infinity]
  for (let k = 0; k < 4000; k++) {
    const other = { ...of, seed: 5000 * of.seed + k }
    const { coat, sleeve } = castOf(other)
    const off = apart(coat) + 0.7 * apart(sleeve)
    if (off < least) [best, least] = [other, off]
  }
  return { ...best, name: `${of.name}, disguised` }
}

function body(light: Float32Array, now: Moment, { coat, skin }: Cast): void {
  if (!now.body) return
  const [x, y] = filmed(now, now.body)
  limb(light, [x, y - 60], [x, y + 300], 78, 90, (u, v) => cloth(coat, u * 9, v * 3, 5))
  limb(light, [x, y - 190], [x, y - 160], 38, 34, (u, v) => cloth(skin, u * 3, v, 9, 0.12))
}

function arms(light: Float32Array, now: Moment, cast: Cast): void {
  const go = (p: Point) => filmed(now, p)
  const { of } = cast
  now.held.forEach((held, i) => {
    const [shoulder, elbow, hand] = [go(held.shoulder), go(held.elbow), go(held.hand)]
    limb(light, shoulder, elbow, 32, 25, (u, v) => cloth(cast.sleeve, u * 6, v * 2, 21 + i))
    limb(light, elbow, hand, 23, 15, (u, v) =>
      of.hand === 'sleeve' || u < 0.55
        ? cloth(cast.sleeve, 6 + u * 6, v * 2, 21 + i)
        : cloth(cast.skin, u * 4, v, 33, 0.1),
    )
    const turned = held.turned + now.camera.turn
    const second = held.second && go(held.second)
    for (const one of second ? [hand, second] : [hand]) palm(light, one, turned, cast, i)
    stick(light, go(held.heel), go(held.tip), held.wider, cast)
    for (const one of second ? [hand, second] : [hand]) fingers(light, one, turned, cast, i)
  })
}

const cloth = ([r, g, b]: Light, u: number, v: number, seed: number, rough = 0.3): Light => {
  // Round things are darker at their rim, and nothing is of one even colour.
  const by = (1 - 0.45 * Math.min(1, (v / 3) ** 2)) * (1 - rough / 2 + rough * noise2(u * 3, v * 2, seed))
  return [r * by, g * by, b * by]
}

function palm(light: Float32Array, [x, y]: Point, turned: number, cast: Cast, i: number): void {
  const [dx, dy] = [Math.cos(turned), Math.sin(turned)]
  const [a, b]: Point[] = [
    [x - 9 * dx, y - 9 * dy],
    [x + 12 * dx, y + 12 * dy],
  ]
  limb(light, a!, b!, 14, 13, (u, v) => cloth(cast.skin, u * 2, v, 51 + i, 0.15))
}

/** Four fingers and a thumb that close over the rod. */
function fingers(light: Float32Array, [x, y]: Point, turned: number, cast: Cast, i: number): void {
  const [dx, dy] = [Math.cos(turned), Math.sin(turned)]
  const reach = 7 + 0.4 * cast.of.rod.heel
  const finger = (along: number, from: number, to: number, radius: number, seed: number) => {
    const a: Point = [x + along * dx - from * dy, y + along * dy + from * dx]
    const b: Point = [x + (along + 3) * dx - to * dy, y + (along + 3) * dy + to * dx]
    limb(light, a, b, radius, radius * 0.85, (u, v) => cloth(cast.skin, u + seed, v * 1.6, 61 + i, 0.1))
  }
  for (let k = 0; k < 4; k++) finger(-12 + 7.5 * k, -reach, reach * 0.8, 4.4, k)
  finger(17, reach, -0.3 * reach, 4.6, 7)
}

/** A round stick between two places, its bands along it, a highlight beside its middle. */
function stick(light: Float32Array, heel: Point, tip: Point, wider: Held['wider'], { of, bands }: Cast): void {
  const shade = (u: number, v: number): Light => {
    const at = Math.max(0, Math.min(0.9999, u)) * (bands.length - 1)
    const [a, b] = [bands[at | 0]!, bands[Math.min(bands.length - 1, (at | 0) + 1)]!]
    const s = bands.length > 2 ? (at % 1 < 0.5 ? 0 : 1) : at % 1
    const across = v / 3
    const by = (1 - 0.4 * across * across) * (0.9 + 0.2 * noise2(u * 30, 0.5, of.seed))
    const shine = 0.06 * Math.exp(-(((across + 0.3) / 0.15) ** 2))
    return [0, 1, 2].map((k) => (a[k]! + (b[k]! - a[k]!) * s) * by + shine) as Light
  }
  slab(light, heel, tip, (wider.heel * of.rod.heel) / 2, (wider.tip * of.rod.tip) / 2, shade, false)
}

type Shade = (u: number, v: number) => Light

const limb = (light: Float32Array, a: Point, b: Point, ra: number, rb: number, shade: Shade) =>
  slab(light, a, b, ra, rb, shade, true)

/**
 * Paints what lies between two places: radius `ra` at the first, `rb` at the second, with round or straight ends. `shade`:
 * colour by the share of the way (0 to 1) and the place across, -3 to 3 from rim to rim.
 */
function slab(light: Float32Array, a: Point, b: Point, ra: number, rb: number, shade: Shade, round: boolean): void {
  const { width, height } = groundSize
  const far = Math.max(1e-3, Math.hypot(b[0] - a[0], b[1] - a[1]))
  const [dx, dy] = [(b[0] - a[0]) / far, (b[1] - a[1]) / far]
  const most = Math.max(ra, rb) + 1
  const top = Math.max(0, Math.floor(Math.min(a[1], b[1]) - most))
  const bottom = Math.min(height - 1, Math.ceil(Math.max(a[1], b[1]) + most))
  for (let y = top; y <= bottom; y++) {
    const [first, last] = rowOf(a, dx, dy, far, most, y + 0.5)
    for (let x = Math.max(0, Math.floor(first)); x <= Math.min(width - 1, Math.ceil(last)); x++) {
      const [ox, oy] = [x + 0.5 - a[0], y + 0.5 - a[1]]
      const along = ox * dx + oy * dy
      const u = along < 0 ? 0 : along > far ? 1 : along / far
      const radius = ra + (rb - ra) * u
      const across = ox * -dy + oy * dx
      const beyond = along < 0 ? -along : along > far ? along - far : 0
      const out = round
        ? Math.hypot(across, beyond) - radius
        : Math.max(Math.abs(across) - radius, beyond > 0 ? beyond : -1)
      const cover = 0.5 - out
      if (cover <= 0) continue
      const share = cover < 1 ? cover : 1
      const colour = shade(u, (3 * across) / radius)
      const at = 3 * (y * width + x)
      for (let k = 0; k < 3; k++) light[at + k]! += (colour[k]! - light[at + k]!) * share
    }
  }
}

/** Which part of a row lies within `most` px of a segment's line. */
function rowOf([ax, ay]: Point, dx: number, dy: number, far: number, most: number, y: number): [number, number] {
  const [left, right] = [Math.min(ax, ax + far * dx) - most, Math.max(ax, ax + far * dx) + most]
  if (Math.abs(dy) < 1e-6) return [left, right]
  // Across = (x - ax) * -dy + (y - ay) * dx lies between -most and most.
  const centre = ax + ((y - ay) * dx) / dy
  const half = most / Math.abs(dy)
  return [Math.max(left, centre - half), Math.min(right, centre + half)]
}
