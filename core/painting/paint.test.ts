import { beforeAll, describe, expect, it } from 'vitest'
import { openCv } from '#lab/support/openCv.ts'
import { pictureOf, texture } from '#lab/support/textures.ts'
import { polygonArea } from '../geometry/path.ts'
import { shapeMatte } from '../matte/partMatte.ts'
import { coverAt, overlapOfRasters, type Raster, rasterOf } from '../pixels/buffers/raster.ts'
import { contoursOf } from '../pixels/filters/contour.ts'
import { hashed } from '../pixels/filters/noise.ts'
import { outline } from '../shapes/kinds/outline.ts'
import { Backdrop } from '../tracking/background.ts'
import type { FollowPicture } from '../tracking/frame.ts'
import { carryPainted, type PaintedFrame } from './carry.ts'
import { likelihood, mixtureOf } from './colours.ts'
import { flowAt, flowOf } from './flow.ts'
import { gridOf } from './grid.ts'
import { outlined } from './outlined.ts'
import { paintedFrame, paintSettings, type PaintTask } from './paint.ts'
import { withSmear } from './smear.ts'
import { softEdge } from './softEdge.ts'
import type { PaintStroke } from './strokes.ts'

const [width, height] = [320, 240]

/** A picture put together from two by a cover 0..1, with colours of their own. */
function composed(
  inside: (x: number, y: number) => number,
  outside: (x: number, y: number) => number,
  cover: (x: number, y: number) => number,
  colour = 14,
  grain = 1.5,
  seed = 1,
): FollowPicture {
  const out = pictureOf(
    width,
    height,
    (x, y) => outside(x, y) + (inside(x, y) - outside(x, y)) * cover(x, y),
    undefined,
    grain,
    seed,
  )
  for (let y = 0; y < out.chromaHeight; y++)
    for (let x = 0; x < out.chromaWidth; x++)
      out.u[y * out.chromaWidth + x] = 128 + colour * cover(2 * x + 1, 2 * y + 1)
  return out
}
const disc = (cx: number, cy: number, r: number) => (x: number, y: number) =>
  Math.max(0, Math.min(1, r + 0.5 - Math.hypot(x - cx, y - cy)))
const rasterBy = (cover: (x: number, y: number) => number): Raster =>
  rasterOf(
    Uint8Array.from({ length: width * height }, (_, i) =>
      Math.round(255 * cover((i % width) + 0.5, Math.floor(i / width) + 0.5)),
    ),
    { x: 0, y: 0, width, height },
  )!

const [one, other] = [texture(3), texture(8)]
const dark = (bright: (x: number, y: number) => number, by: number) => (x: number, y: number) =>
  by + 0.35 * bright(x, y)
/** A speckled disc that moves over a still ground of much the same brightness and a little other colour. */
const place = (frame: number): [number, number] => [90 + 6 * frame, 120 + 20 * Math.sin(frame / 3)]
const scene = (frame: number): FollowPicture => {
  const [cx, cy] = place(frame)
  return composed((x, y) => dark(one, 70)(x - cx, y - cy), dark(other, 55), disc(cx, cy, 38), 14, 1.5, 10 + frame)
}
const strokesOn = (frame: number): PaintStroke[] => {
  const [cx, cy] = place(frame)
  const ring = Array.from({ length: 26 }, (_, i) => {
    const a = (i / 25) * 2 * Math.PI
    return [cx + 60 * Math.cos(a), cy + 60 * Math.sin(a)]
  }).flat()
  return [
    { frame, wanted: true, size: 12, points: [cx - 20, cy - 8, cx + 20, cy + 8] },
    { frame, wanted: false, size: 12, points: ring },
  ]
}
const length = 20
const frames = Array.from({ length }, (_, frame) => scene(frame))
const taskOf = (strokes: PaintStroke[], settings = {}, from: FollowPicture[] = frames): PaintTask => ({
  ...{ settings: paintSettings(settings), strokes, hands: new Map() },
  picture: (frame) => Promise.resolve(from[frame]!),
  backdrop: () => Promise.resolve(null),
})
const truth = (frame: number) => rasterBy(disc(...place(frame), 38))
const never = () => false
const nothing = () => {}

describe('A frame is divided by strokes', () => {
  it('into what looks like the one and what looks like the other, by every quality', async () => {
    for (const quality of [1, 2, 3]) {
      const found = await paintedFrame(taskOf(strokesOn(0), { quality }), 0, null)
      expect(overlapOfRasters(found!, truth(0))).toBeGreaterThan(quality === 1 ? 0.93 : 0.96)
    }
  })

  it('with strokes of what is wanted alone, up to the rim of the picture at most', async () => {
    const found = await paintedFrame(taskOf(strokesOn(0).slice(0, 1)), 0, null)
    expect(overlapOfRasters(found!, truth(0))).toBeGreaterThan(0.9)
  })

  it('with strokes of what is not wanted alone there is nothing', async () => {
    expect(await paintedFrame(taskOf(strokesOn(0).slice(1)), 0, null)).toBeNull()
  })

  it('with strokes far outside of the picture there is nothing', async () => {
    const stroke = { frame: 0, wanted: true, size: 10, points: [-500, -500, -400, -400] }
    expect(await paintedFrame(taskOf([stroke]), 0, null)).toBeNull()
  })

  it('a correction takes in what was missed, and leaves the rest', async () => {
    const [cx, cy] = place(0)
    const half = rasterBy((x, y) => (x < cx ? disc(cx, cy, 38)(x, y) : 0))
    const task = taskOf([{ frame: 0, wanted: true, size: 10, points: [cx + 10, cy, cx + 28, cy] }])
    const found = await paintedFrame(task, 0, half)
    expect(overlapOfRasters(found!, truth(0))).toBeGreaterThan(0.93)
  })
})

describe('A painted matte is carried', () => {
  const hand = (frame: number, task: PaintTask) => ({ ...task, hands: new Map([...task.hands, [frame, truth(frame)]]) })

  it('on over all frames, also at a backdrop that knows the ground, and surely', async () => {
    const backdrop = new Backdrop(frames[0]!, frames)
    for (const at of [null, backdrop]) {
      const task = { ...hand(0, taskOf(strokesOn(0))), backdrop: () => Promise.resolve(at) }
      const { frames: found, endings } = await carryPainted(task, 0, length - 1, nothing, never)
      expect(endings).toEqual([])
      expect(found.map((one) => one.frame)).toEqual(Array.from({ length: length - 1 }, (_, i) => i + 1))
      for (const { frame, raster, confidence } of found) {
        expect(overlapOfRasters(raster!, truth(frame))).toBeGreaterThan(0.94)
        // Frames from 0.5 on are called sure.
        expect(confidence).toBeGreaterThan(0.5)
      }
    }
  })

  it('afresh every few frames only, and by the motion between them', async () => {
    const { frames: found } = await carryPainted(
      hand(0, taskOf(strokesOn(0), { every: 4 })),
      0,
      length - 1,
      nothing,
      never,
    )
    expect(found).toHaveLength(length - 1)
    for (const { frame, raster } of found) expect(overlapOfRasters(raster!, truth(frame))).toBeGreaterThan(0.92)
  })

  it('back, and between two painted frames from both, told of frame by frame', async () => {
    const task = hand(15, hand(5, taskOf([...strokesOn(5), ...strokesOn(15)])))
    const told: number[] = []
    const { frames: found } = await carryPainted(task, 2, 17, (one) => told.push(one.frame), never)
    expect(found.map((one) => one.frame)).toEqual([2, 3, 4, 6, 7, 8, 9, 10, 11, 12, 13, 14, 16, 17])
    expect(new Set(told)).toEqual(new Set(found.map((one) => one.frame)))
    for (const { frame, raster } of found) expect(overlapOfRasters(raster!, truth(frame))).toBeGreaterThan(0.94)
  })

  it('ends where the picture cuts, and says so', async () => {
    const cut = frames.map((picture, frame) =>
      frame < 6 ? picture : pictureOf(width, height, (x) => (x > 160 ? 235 : 17)),
    )
    const task = hand(0, taskOf(strokesOn(0), {}, cut))
    const { frames: found, endings } = await carryPainted(task, 0, length - 1, nothing, never)
    expect(found.at(-1)!.frame).toBe(5)
    expect(endings).toEqual([{ frame: 6, why: 'cut' }])
  })

  /** A body with an arm, half so wide, that swings from frame 3 on over so many frames; the shutter is open for a share of each. */
  async function waved(wide: number, over: number, open: number, known = true) {
    const angle = (time: number) => -0.3 - 1.7 * Math.max(0, Math.min(1, (time - 3) / over))
    const arm = (x: number, y: number, a: number) => {
      const [dx, dy] = [Math.cos(a), Math.sin(a)]
      const along = (x - 160) * dx + (y - 140) * dy
      const across = Math.abs((x - 160) * dy - (y - 140) * dx)
      return (
        Math.max(0, Math.min(1, wide + 0.5 - across)) *
        Math.max(0, Math.min(1, along + 0.5)) *
        Math.max(0, Math.min(1, 90.5 - along))
      )
    }
    const coverOn = (frame: number) => (x: number, y: number) => {
      let sum = 0
      for (let i = 0; i < 16; i++)
        sum += Math.max(disc(160, 150, 34)(x, y), arm(x, y, angle(frame + open * ((i + 0.5) / 16 - 0.5))))
      return sum / 16
    }
    const waving = Array.from({ length: 12 }, (_, frame) =>
      composed((x, y) => dark(one, 95)(x, y), dark(other, 55), coverOn(frame), 14, 1.5, 90 + frame),
    )
    const strokes: PaintStroke[] = [
      { frame: 0, wanted: true, size: 10, points: [150, 150, 180, 134, 235, 117] },
      { frame: 0, wanted: false, size: 10, points: [60, 60, 200, 50, 280, 160, 240, 210, 100, 210, 60, 60] },
    ]
    const backdrop = known ? new Backdrop(waving[6]!, waving) : null
    const task = { ...taskOf(strokes, {}, waving), backdrop: () => Promise.resolve(backdrop) }
    const hands = new Map([[0, rasterBy(coverOn(0))]])
    const { frames: found, endings } = await carryPainted({ ...task, hands }, 0, 11, nothing, never)
    return { coverOn, found, endings }
  }

  it('with a limb that smears so thinly that no pixel shows it alone: its share of each is told', async () => {
    // The shutter is open all the time: on frames 4 to 7 the arm covers no pixel by more than a third.
    const { coverOn, found } = await waved(4, 5, 1)
    for (const { frame, raster } of found.slice(3, 7)) {
      let [all, kept, beside] = [0, 0, 0]
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const cover = coverOn(frame)(x + 0.5, y + 0.5)
          const got = coverAt(raster!, x + 0.5, y + 0.5)
          if (cover === 0) beside += got
          if (cover < 0.08 || disc(160, 150, 38)(x, y) > 0) continue
          all += cover
          kept += Math.min(cover, got)
        }
      // The division alone keeps a third to two thirds of it, without a backdrop next to nothing.
      expect(kept / all, `frame ${frame}`).toBeGreaterThan(0.7)
      // Nothing else comes in: less than the soft edge of the body has.
      expect(beside / all, `beside on frame ${frame}`).toBeLessThan(0.1)
    }
  })

  it('smears by what moves itself, and not by what the camera does', () => {
    // The camera goes on by 9 px a frame; the disc stands still before the same ground.
    const panned = Array.from({ length: 9 }, (_, frame) =>
      composed(
        (x, y) => dark(one, 95)(x + 9 * frame, y),
        (x, y) => dark(other, 55)(x + 9 * frame, y),
        disc(220 - 9 * frame, 120, 34),
      ),
    )
    const backdrop = new Backdrop(panned[4]!, panned)
    const rasters = panned.map((_, frame) => rasterBy(disc(220 - 9 * frame, 120, 34)))
    const flow = flowOf(panned[4]!, panned[5]!, rasters[4]!, { x: 100, y: 50, width: 140, height: 140 })
    expect(flowAt(flow, 184, 120)[0]).toBeCloseTo(-9, 0)
    const way = { from: rasters[4]!, before: panned[4]!, flow }
    expect(withSmear(rasters[5]!, panned[5]!, backdrop, way)).toBe(rasters[5])
  })

  it('with a limb that swings so fast that it blurs, and on', async () => {
    // By up to 30 px a frame at its hand; the shutter is open for half of it.
    const { coverOn, found, endings } = await waved(8, 5, 0.5)
    expect(endings).toEqual([])
    for (const { frame, raster } of found) {
      // Of the blurred arm beyond the body, what it covers by a third at least.
      let [all, kept] = [0, 0]
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const cover = coverOn(frame)(x + 0.5, y + 0.5)
          if (cover < 0.33 || disc(160, 150, 38)(x, y) > 0) continue
          all += cover
          kept += Math.min(cover, coverAt(raster!, x + 0.5, y + 0.5))
        }
      // Least is kept where it comes to rest, on frame 8.
      expect(kept / all, `frame ${frame}`).toBeGreaterThan(frame === 8 ? 0.6 : 0.9)
    }
  })

  it('out of the picture and on where it comes back: away in between, and not lost', async () => {
    // Out at the left on frames 8 to 14, the way it came.
    const at = (frame: number): [number, number] => [20 - 8 * Math.min(frame, 22 - frame), 120]
    const wave = Array.from({ length: 23 }, (_, frame) => {
      const [cx, cy] = at(frame)
      return composed((x, y) => dark(one, 70)(x - cx, y - cy), dark(other, 55), disc(cx, cy, 38), 14, 1.5, 40 + frame)
    })
    const shown = (frame: number) => rasterBy(disc(...at(frame), 38))
    // Less than a quarter of it is too little to be told from the ground.
    const inside = (frame: number) => at(frame)[0] > -15
    for (const backdrop of [null, new Backdrop(wave[11]!, wave)]) {
      const strokes = strokesOn(0)
      const task = { ...taskOf(strokes, {}, wave), backdrop: () => Promise.resolve(backdrop) }
      const hands = new Map([[0, shown(0)]])
      const { frames: found, endings, aways } = await carryPainted({ ...task, hands }, 0, 22, nothing, never)
      expect(endings).toEqual([])
      expect(aways).toHaveLength(1)
      for (let frame = aways[0]!.from; frame <= aways[0]!.to; frame++)
        expect(inside(frame), `away on ${frame}`).toBe(false)
      const known = new Map(found.map((one) => [one.frame, one.raster!]))
      for (const frame of [19, 20, 21, 22])
        expect(overlapOfRasters(known.get(frame)!, shown(frame)), `frame ${frame}`).toBeGreaterThan(0.85)
    }
  })

  it('out of the picture for good it is lost, and nothing else is taken for it', async () => {
    const leaving = Array.from({ length: 20 }, (_, frame) => {
      const cx = 40 - 12 * frame
      return composed((x, y) => dark(one, 70)(x - cx, y - 120), dark(other, 55), disc(cx, 120, 38), 14, 1.5, 70 + frame)
    })
    const hands = new Map([[0, rasterBy(disc(40, 120, 38))]])
    const told = new Set<number>()
    const tell = ({ frame }: PaintedFrame) => void told.add(frame)
    // By motion alone on every second frame: what was under way when it was lost is kept.
    const task = { ...taskOf(strokesOn(0), { every: 2 }, leaving), hands }
    const { frames: found, endings, aways } = await carryPainted(task, 0, 19, tell, never)
    // While it is looked for, too, whoever waits sees that the run goes on.
    expect(told.size).toBe(19)
    expect(endings).toMatchObject([{ why: 'lost' }])
    expect(aways).toEqual([])
    expect(Math.max(...found.map((one) => one.frame))).toBeLessThan(8)
  })

  it('between two painted frames with a cut each side keeps its own, and nothing is missing', async () => {
    const bright = (frame: number) => pictureOf(width, height, (x) => (x > 160 ? 235 : 17), undefined, 1, frame)
    // After the cut the picture is another one altogether; what was painted there is its bright half.
    const cut = frames.map((picture, frame) => (frame < 6 ? picture : bright(frame)))
    const half = rasterBy((x) => (x > 160 ? 1 : 0))
    const task = taskOf(strokesOn(0), {}, cut)
    const both = { ...task, hands: new Map([...hand(0, task).hands, [10, half]]) }
    const { frames: found, endings } = await carryPainted(both, 1, 9, nothing, never)
    expect(found.map((one) => one.frame)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9])
    expect(endings).toEqual([])
    expect(overlapOfRasters(found[4]!.raster!, truth(5))).toBeGreaterThan(0.9)
    expect(overlapOfRasters(found[5]!.raster!, half)).toBeGreaterThan(0.95)
  })

  it('from frames that a detector saw, too: they keep their mattes, and whoever took more along is not believed', async () => {
    const lamp = (x: number, y: number) => Number(x > 20 && x < 60 && y > 20 && y < 90)
    const taken = rasterBy((x, y) => Math.max(lamp(x, y), disc(...place(10), 38)(x, y)))
    const seen = new Map([4, 10, 16].map((at) => [at, { raster: at === 10 ? taken : truth(at), confidence: 0.97 }]))
    const { frames: found } = await carryPainted({ ...hand(0, taskOf(strokesOn(0))), seen }, 0, 18, nothing, never)
    expect(found.map((one) => one.frame)).toEqual(Array.from({ length: 18 }, (_, i) => i + 1))
    const at = (frame: number) => found[frame - 1]!
    expect(at(10).raster).toEqual(taken)
    expect(at(10).confidence).toBeLessThan(0.75)
    expect(Math.min(at(4).confidence, at(16).confidence)).toBeGreaterThan(0.85)
  })

  it('over repeated frames it stays, and a stop keeps what is done', async () => {
    const still = frames.map((picture, frame) => (frame < 4 ? picture : frames[4]!))
    let count = 0
    const { frames: found } = await carryPainted(
      hand(0, taskOf(strokesOn(0), {}, still)),
      0,
      length - 1,
      () => count++,
      () => count >= 8,
    )
    expect(found).toHaveLength(8)
    expect(overlapOfRasters(found[7]!.raster!, truth(4))).toBeGreaterThan(0.94)
  })

  it('without a painted frame it says what to do', async () => {
    await expect(carryPainted(taskOf([]), 0, 5, nothing, never)).rejects.toThrow(/stroke what is wanted/)
  })

  it('as an outline has the same few points on every frame, near its edge', () => {
    const mattes = new Map(frames.map((_, frame) => [frame, truth(frame)]))
    const points = outlined(mattes, 3, 1)
    expect(points.size).toBe(length)
    const counts = new Set([...points.values()].map((one) => one.length))
    expect(counts.size).toBe(1)
    expect([...counts][0]! / 8).toBeLessThan(14)
    for (const [frame, own] of points) {
      const cover = shapeMatte('outline', own, { feather: 0 }, 1, { x: 0, y: 0, width, height })
      const data = Uint8Array.from(cover.data, (v) => Math.round(255 * v))
      expect(overlapOfRasters({ ...cover, data }, mattes.get(frame)!)).toBeGreaterThan(0.95)
      expect(outline.numbers).toBeUndefined()
    }
  })
})

describe('The soft edge', () => {
  /** Strands of hair half a pixel to three pixels wide, standing out of a disc. */
  const hair = (x: number, y: number): number => {
    const [dx, dy] = [x - 160, y - 120]
    const r = Math.hypot(dx, dy)
    if (r < 40) return 1
    const turn = ((Math.atan2(dy, dx) / (2 * Math.PI)) * 46 + 46) % 1
    const wide = (1 - (r - 40) / 22) * 0.6
    const along = Math.max(0, Math.min(1, 62 - r))
    return along * Math.max(0, Math.min(1, (wide / 2 - Math.abs(turn - 0.5)) * 0.14 * r + 0.5)) * (wide > 0 ? 1 : 0)
  }

  it('of hair comes at least twice as close to what the picture was made with as the hard edge', () => {
    const picture = composed(() => 190, dark(other, 50), hair, 24)
    const grid = gridOf(picture, 1, { x: 0, y: 0, width, height })
    const hard = Uint8Array.from({ length: width * height }, (_, i) =>
      Math.hypot((i % width) + 0.5 - 160, Math.floor(i / width) + 0.5 - 120) < 49 ? 1 : 0,
    )
    const soft = softEdge(picture, grid, hard, 16)!
    let [own, plain] = [0, 0]
    for (let i = 0; i < hard.length; i++) {
      const known = hair((i % width) + 0.5, Math.floor(i / width) + 0.5)
      own += Math.abs(coverAt(soft, (i % width) + 0.5, Math.floor(i / width) + 0.5) - known)
      plain += Math.abs(hard[i]! - known)
    }
    expect(own).toBeLessThan(plain / 2)
  })

  it('of two sides that look the same stays where the division put it', () => {
    const picture = pictureOf(width, height, () => 100, undefined, 2)
    const grid = gridOf(picture, 2, { x: 0, y: 0, width: 160, height: 120 })
    const label = Uint8Array.from({ length: 160 * 120 }, (_, i) =>
      disc(160, 120, 50)(2 * (i % 160) + 1, 2 * Math.floor(i / 160) + 1) > 0.5 ? 1 : 0,
    )
    expect(overlapOfRasters(softEdge(picture, grid, label, 2)!, rasterBy(disc(160, 120, 50)))).toBeGreaterThan(0.97)
  })
})

describe('Optical flow', () => {
  type Cv = typeof import('@techstark/opencv-js')
  let cv: Cv
  beforeAll(async () => {
    ;({ cv } = await openCv())
  }, 60_000)
  const [w, h] = [200, 150]
  /** A swelling and a shift of 9 pixels: where a place of the second picture came from. */
  const way = (x: number, y: number): [number, number] => [9 + 3 * Math.sin(y / 30), -5 + 3 * Math.cos(x / 40)]

  it('is nearer to the known motion of a texture than Farneback’s of OpenCV, and within a third of a pixel', () => {
    const bright = texture(5)
    const first = pictureOf(w, h, bright, undefined, 1, 3)
    const second = pictureOf(w, h, (x, y) => bright(x - way(x, y)[0], y - way(x, y)[1]), undefined, 1, 4)
    const flow = flowOf(first, second, null, { x: 0, y: 0, width: w, height: h }, null, 0)
    const mats = [first, second].map(({ luma }) => cv.matFromArray(h, w, cv.CV_8UC1, [...luma]))
    const known = new cv.Mat()
    cv.calcOpticalFlowFarneback(mats[0]!, mats[1]!, known, 0.5, 5, 15, 10, 5, 1.1, 0)
    let [own, theirs, count] = [0, 0, 0]
    for (let y = 25; y < h - 25; y += 3)
      for (let x = 25; x < w - 25; x += 3) {
        // The place of the first picture whose way leads here, found by going back twice.
        let [tx, ty] = [x + 9, y - 5]
        for (let k = 0; k < 8; k++) [tx, ty] = [x + way(tx, ty)[0], y + way(tx, ty)[1]]
        const [u, v] = flowAt(flow, x + 0.5, y + 0.5)
        own += Math.hypot(u - (tx - x), v - (ty - y))
        const at = 2 * (y * w + x)
        theirs += Math.hypot(known.data32F[at]! - (tx - x), known.data32F[at + 1]! - (ty - y))
        count++
      }
    for (const mat of [...mats, known]) mat.delete()
    expect(own / count).toBeLessThan(1 / 3)
    expect(own).toBeLessThan(theirs)
  })

  it('of what is in a matte does not heed what is around it', () => {
    const inside = disc(100, 75, 30)
    const moved = disc(110, 69, 30)
    const [own, ground] = [texture(7), texture(9)]
    const at = (cover: typeof inside, dx: number, dy: number) =>
      pictureOf(w, h, (x, y) => ground(x, y) + (own(x - dx, y - dy) - ground(x, y)) * cover(x, y), undefined, 1)
    const matte = rasterBy(inside)
    const flow = flowOf(at(inside, 0, 0), at(moved, 10, -6), matte, { x: 40, y: 15, width: 120, height: 120 })
    for (const [x, y] of [
      [100, 75],
      [80, 75],
      [120, 75],
      [100, 55],
      [100, 97],
    ] as const) {
      const [u, v] = flowAt(flow, x, y)
      expect(Math.hypot(u - 10, v + 6)).toBeLessThan(0.5)
    }
  })
})

describe('Looks', () => {
  it('give Bayes’ odds of two normal distributions that the samples were drawn from', () => {
    const normal = (i: number, seed: number) =>
      Math.sqrt(-2 * Math.log(hashed(i, seed, 1) + 1e-9)) * Math.cos(2 * Math.PI * hashed(i, seed, 2))
    const draw = (mean: number, spread: number, seed: number) =>
      Float32Array.from({ length: 9000 }, (_, i) => mean + spread * normal(i, seed))
    const [a, b] = [mixtureOf(draw(90, 12, 3), 1)!, mixtureOf(draw(130, 20, 7), 1)!]
    // Each channel by itself: three equal ones; the variance that no colour is known better than (5 levels) on top.
    const log = (v: number, mean: number, spread: number) =>
      -3 * (Math.log(Math.sqrt(spread ** 2 + 25)) + (v - mean) ** 2 / (2 * (spread ** 2 + 25)))
    for (const v of [95, 100, 105, 110]) {
      const odds = Math.log(likelihood(a, v, v, v) / likelihood(b, v, v, v))
      expect(Math.abs(odds - (log(v, 90, 12) - log(v, 130, 20)))).toBeLessThan(0.35)
    }
  })
})

describe('Contours', () => {
  it('enclose what the matte covers, holes apart', () => {
    const ring = (x: number, y: number) => disc(160, 120, 60)(x, y) - disc(160, 120, 25)(x, y)
    const lines = contoursOf(rasterBy(ring))
    expect(lines).toHaveLength(2)
    const areas = lines.map((line) => Math.abs(polygonArea(line)))
    expect(areas[0]! / (Math.PI * 3600)).toBeCloseTo(1, 2)
    expect(areas[1]! / (Math.PI * 625)).toBeCloseTo(1, 2)
    expect(Math.sign(polygonArea(lines[0]!))).toBe(-Math.sign(polygonArea(lines[1]!)))
  })

  it('of a single pixel, and of areas that touch at a corner, close', () => {
    const data = new Uint8Array([255, 0, 0, 255])
    const lines = contoursOf({ x: 5, y: 5, width: 2, height: 2, data })
    expect(lines).toHaveLength(2)
    for (const line of lines) expect(Math.abs(polygonArea(line))).toBeCloseTo(0.5, 6)
  })
})
