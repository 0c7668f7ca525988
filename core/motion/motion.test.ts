import { describe, expect, it } from 'vitest'
import { type Luma, lumaOf } from '../pixels/buffers/luma.ts'
import { hashed } from '../pixels/filters/noise.ts'
import type { Effect } from '../records/types.ts'
import { cornerNodes, outline } from '../shapes/kinds/outline.ts'
import { rod } from '../shapes/kinds/rod.ts'
import { makePart } from '../shapes/make.ts'
import { shapeAt, type Track } from '../shapes/track.ts'
import { type CheckedPart, findings } from './checks.ts'
import { lumaAt } from './evidence.ts'
import { expectedErrors, extremes, keyPlan, type PlanInput, suspicion } from './keyPlan.ts'
import { measure } from './measures.ts'

const turned = (degrees: number, x = 160, y = 150, length = 100) => [
  ...[x, y],
  ...[x + length * Math.cos((degrees * Math.PI) / 180), y + length * Math.sin((degrees * Math.PI) / 180)],
]
const plate = { width: 640, height: 360 }
const track = (keys: Track['keys'], more: Partial<Track> = {}): Track => ({
  ...{ keys, aways: [], tween: 'arc', hold: false },
  ...more,
})

/** A bright rod on ground with grain, drawn by distance: 320 x 240 plate pixels, half of them kept. */
function drawn(points: readonly number[], frame: number): Luma {
  const [width, height, reduce] = [160, 120, 2]
  const data = new Uint8Array(width * height)
  const [hx, hy, tx, ty] = points as [number, number, number, number]
  const [dx, dy] = [tx - hx, ty - hy]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [px, py] = [(x + 0.5) * reduce, (y + 0.5) * reduce]
      const u = Math.max(0, Math.min(1, ((px - hx) * dx + (py - hy) * dy) / (dx * dx + dy * dy)))
      const away = Math.hypot(hx + u * dx - px, hy + u * dy - py)
      const ground = 60 + 24 * hashed(Math.floor(px / 9), Math.floor(py / 9), 3)
      const cover = Math.max(0, Math.min(1, 5.5 - away))
      data[y * width + x] = ground + (190 - ground) * cover + 4 * (hashed(x, y, frame) - 0.5)
    }
  return { data, width, height, reduce }
}
/** Rests, swings quickly by 100 degrees around frame 30, rests, and comes back half of the way until 72. */
const swing = (f: number) => {
  const s = (a: number, b: number) => {
    const u = Math.max(0, Math.min(1, (f - a) / (b - a)))
    return u * u * (3 - 2 * u)
  }
  return turned(-150 + 100 * s(18, 38) - 50 * s(48, 72))
}
const length = 80
const pictures = Array.from({ length }, (_, f) => drawn(swing(f), f))
const input = (keys: number[], shapes = swing): PlanInput => ({
  ...{ kind: rod, settings: { widthHeel: 8, widthTip: 8 }, length },
  track: track(keys.map((frame) => ({ frame, points: shapes(frame) }))),
  luma: (frame) => pictures[frame] ?? null,
})

describe('the key plan', () => {
  it('goes on while the keys themselves say that wide spans are uncertain, whatever the picture shows, and says by how much', () => {
    // A swing that gathers speed and brakes, of a rod that nothing in the picture gives away.
    const truth = (frame: number) => turned(170 * Math.sin(frame / 11) + 25 * Math.sin(frame / 3.1), 160, 150, 300)
    const frames = new Set([0, 71])
    const keyed = () =>
      track([...frames].sort((a, b) => a - b).map((frame) => ({ frame, points: truth(frame), tween: '' as const })))
    const off = (now: Track, frame: number) => {
      const [, , x, y] = shapeAt(now, frame)!
      const [, , tx, ty] = truth(frame)
      return Math.hypot(x! - tx!, y! - ty!)
    }
    const worst = (now: Track) => Math.max(...Array.from({ length: 72 }, (_, frame) => off(now, frame)))
    for (let turn = 0; turn < 72; turn++) {
      const { settings } = input([])
      const [next] = keyPlan({ kind: rod, settings, length: 72, track: keyed(), luma: () => null })
      if (!next) break
      if (turn > 6) expect(next.px, `key ${turn}`).toBeGreaterThan(3)
      frames.add(next.frame)
    }
    // 600 px off with two keys; where it ends, no frame is lost, and not every frame was asked for.
    expect(worst(keyed())).toBeLessThan(12)
    expect(frames.size).toBeLessThan(45)
    // What it expects of a span is what it is off by there, within a few times.
    const coarse = track([0, 8, 16, 24, 32, 40].map((frame) => ({ frame, points: truth(frame), tween: '' as const })))
    expectedErrors(coarse).forEach((px, span) => {
      const real = Math.max(...Array.from({ length: 7 }, (_, i) => off(coarse, 8 * span + 1 + i)))
      if (px === null) return
      expect(px, `span ${span}`).toBeGreaterThan(real / 4)
      expect(px, `span ${span}`).toBeLessThan(12 * real)
    })
    // A steady turn needs no more than its ends.
    const steady = track([0, 20, 40].map((frame) => ({ frame, points: turned(3 * frame), tween: '' as const })))
    for (const px of expectedErrors(steady)) expect(px).toBeLessThan(0.01)
  })
  it('asks for the ends first, then for stops and turns of the motion', () => {
    const plan = keyPlan(input([]))
    expect(plan.slice(0, 2).map((one) => [one.frame, one.why])).toEqual([
      [0, 'start'],
      [79, 'end'],
    ])
    const stops = plan.filter((one) => one.why === 'stop').map((one) => one.frame)
    // It rests between the two swings, from 38 to 48.
    expect(stops.some((frame) => frame >= 36 && frame <= 50)).toBe(true)
  })
  it('asks for the least sure frame of a stretch that was followed unsurely', () => {
    const keys = Array.from({ length }, (_, frame) => ({
      ...{ frame, points: swing(frame) },
      followed: frame === 0 || frame === 79 ? null : frame >= 30 && frame <= 34 ? 0.1 * Math.abs(frame - 33) : 0.95,
    }))
    const plan = keyPlan({ ...input([]), track: track(keys) })
    expect(plan.map(({ frame, why }) => [frame, why])).toEqual([[33, 'unsure']])
  })
  it('then for the frame where the in-between is most wrong, and for none once nothing is', () => {
    const keys = [0, 79]
    const errors: number[] = []
    for (let i = 0; i < 30; i++) {
      const now = input(keys)
      errors.push(
        Math.max(
          ...Array.from({ length }, (_, f) => {
            const [a, b] = [shapeAt(now.track, f)!, swing(f)]
            return Math.hypot(a[2]! - b[2]!, a[3]! - b[3]!)
          }),
        ),
      )
      const next = keyPlan(now)[0]
      if (!next) break
      keys.push(next.frame)
      keys.sort((a, b) => a - b)
    }
    // A hundred pixels off with two keys; within three when the plan is done, with far fewer keys than frames.
    expect(errors[0]).toBeGreaterThan(60)
    expect(errors.at(-1)).toBeLessThan(3)
    expect(keys.length).toBeLessThan(length / 4)
  })
  it('trusts an in-between that lies on the picture and doubts one that does not', () => {
    const good = suspicion(input([0, 18, 23, 28, 33, 38, 48, 60, 72, 79]))
    const bad = suspicion(input([0, 18, 60, 79]))
    const known = good.filter((v) => v !== null).sort((a, b) => a - b)
    expect(known[known.length >> 1]!).toBeLessThan(1.2)
    expect(bad[36]!).toBeGreaterThan(2.5)
    expect(bad[36]!).toBeGreaterThan(2 * good[36]!)
  })
  it('does not take what passes in front for a slip, where that is traced too', () => {
    // A wide bright bar crosses the picture; on frame 30 it lies over the middle of the resting rod.
    const keys = [0, 15, 79]
    const crossing = (frame: number) => [
      frame * 12 - 240,
      20,
      frame * 12 - 180,
      20,
      frame * 12 - 180,
      220,
      frame * 12 - 240,
      220,
    ]
    const rest = () => turned(-150)
    const still = Array.from({ length }, (_, f) => {
      const luma = drawn(rest(), f)
      const [x0, , x1] = crossing(f) as [number, number, number]
      for (let y = 10; y < 110; y++)
        for (let x = Math.max(0, x0 / 2); x < Math.min(160, x1 / 2); x++) luma.data[y * 160 + x] = 235
      return luma
    })
    const blind: PlanInput = { ...input(keys, rest), luma: (f) => still[f]! }
    const told: PlanInput = { ...blind, others: (f) => [crossing(f)] }
    const most = (one: PlanInput) => Math.max(...suspicion(one).map((v) => v ?? 0))
    expect(most(blind)).toBeGreaterThan(4)
    expect(most(told)).toBeLessThan(2)
  })
  it('leaves frames alone where the part is away, and does without pictures that were not read', () => {
    const away = input([0, 79])
    const plan = keyPlan({ ...away, track: { ...away.track, aways: [{ from: 1, to: 78 }] } })
    expect(plan).toEqual([])
    expect(keyPlan({ ...away, luma: () => null }).every((one) => one.why === 'wrong')).toBe(true)
    expect(keyPlan({ ...away, length: 0 })).toEqual([])
  })
  it('finds the stop of a motion curve and nothing in an even one', () => {
    const motion = Float32Array.from({ length: 60 }, (_, f) => 10 + 8 * Math.cos((f / 60) * 4 * Math.PI))
    expect(
      extremes(motion)
        .filter((one) => one.why === 'stop')
        .map((one) => one.frame),
    ).toEqual([15, 45])
    expect(extremes(new Float32Array(60).fill(7))).toEqual([])
  })
})

describe('brightness of frames', () => {
  it('is reduced and upright whatever the rotation', () => {
    // 4 x 2 coded pixels whose code is their place; turned they must read as ffmpeg's transpose reads them.
    const data = Uint8Array.from({ length: 12 }, (_, i) => (i < 8 ? i * 10 : 128))
    const planes = [
      { offset: 0, stride: 4 },
      { offset: 8, stride: 2 },
      { offset: 10, stride: 2 },
    ]
    const yuv = { data, width: 4, height: 2, planes, matrix: 'bt709' as const, range: 'limited' as const }
    expect([...lumaOf({ ...yuv, rotation: 0 }, 2).data]).toEqual([25, 45])
    expect([...lumaOf({ ...yuv, rotation: 90 }, 1).data]).toEqual([40, 0, 50, 10, 60, 20, 70, 30])
    expect([...lumaOf({ ...yuv, rotation: 180 }, 1).data]).toEqual([70, 60, 50, 40, 30, 20, 10, 0])
    expect([...lumaOf({ ...yuv, rotation: 270 }, 1).data]).toEqual([30, 70, 20, 60, 10, 50, 0, 40])
  })
  it('lies between its pixels', () => {
    const luma = { data: Uint8Array.from([0, 100, 0, 100]), width: 2, height: 2, reduce: 2 }
    expect(lumaAt(luma, 1, 1)).toBe(0)
    expect(lumaAt(luma, 2, 2)).toBeCloseTo(50, 5)
  })
})

describe('measures', () => {
  it('of a turning rod: steady speed of its middle, length and an angle that counts on', () => {
    const shapes = Array.from({ length: 80 }, (_, f) => turned(f * 10))
    const { speed, angle, length: long, area } = measure(rod, { widthHeel: 8, widthTip: 4 }, shapes)
    expect(long[40]).toBeCloseTo(100, 6)
    expect(angle[79]! - angle[0]!).toBeCloseTo(790, 3)
    // The tip goes 2 r sin(5 degrees) a frame, the heel none: half of it on average.
    expect(speed[40]).toBeCloseTo(100 * Math.sin((5 * Math.PI) / 180), 3)
    expect(area[10]).toBeCloseTo((100 * (8 + 4)) / 2, 3)
  })
  it('has nothing to say where the part is not there', () => {
    const { speed, x } = measure(rod, {}, [turned(0), null, turned(20)])
    expect(x[1]).toBeNaN()
    expect(speed[0]).toBeNaN()
  })
})

describe('checks', () => {
  const part = makePart({ id: 'p', member: 'm', name: 'shaft', kind: 'rod', order: 1 })
  const checked = (shape: (f: number) => number[], more: Partial<CheckedPart> = {}, frames = 40): CheckedPart => {
    const t = track(Array.from({ length: frames }, (_, frame) => ({ frame, points: shape(frame) })))
    const all = Array.from({ length: frames }, (_, f) => shapeAt(t, f))
    return { part, kind: rod, track: t, shapes: all, offEdge: [], ...more }
  }
  const kinds = (one: CheckedPart, effects: Effect[] = []) =>
    findings([one], effects, plate).map(({ kind, frame, to }) => [kind, frame, to])

  it('propose where the part may be away: out of the picture, or where following found nothing of it', () => {
    const far = checked((f) => turned(f, f > 9 && f < 15 ? 900 : 200, 150))
    expect(kinds(far).filter(([kind]) => kind === 'outside')).toEqual([['outside', 10, 14]])
    const keys = [null, 0.9, 0, 0, 0, 0, 0.9, 0, 0.9].map((followed, frame) => ({
      ...{ frame, points: turned(frame), followed },
    }))
    const hidden = checked((f) => turned(f), { track: track(keys) }, 9)
    expect(kinds(hidden)).toEqual([
      ['unseen', 2, 5],
      ['unsure', 7, 7],
    ])
    // For less than that it is unsure as ever.
    const short = [null, 0.9, 0, 0, 0.9].map((followed, frame) => ({ frame, points: turned(frame), followed }))
    expect(kinds(checked((f) => turned(f), { track: track(short) }, 5))).toEqual([['unsure', 2, 3]])
    const known = track(keys, { aways: [{ from: 2, to: 5 }] })
    expect(kinds(checked((f) => turned(f), { track: known }, 9))).toEqual([['unsure', 7, 7]])
  })

  it('find nothing in clean tracing, even where a fast prop stops dead', () => {
    expect(kinds(checked((f) => turned(f < 20 ? f * 14 : 280)))).toEqual([])
    expect(kinds(checked((f) => turned(0.25 * f * f)))).toEqual([])
  })
  it('find frames without a shape, not those marked away', () => {
    const t = track(
      [5, 6, 7, 20, 21].map((frame) => ({ frame, points: turned(frame) })),
      { aways: [{ from: 22, to: 30 }] },
    )
    const shapes = Array.from({ length: 40 }, (_, f) => shapeAt(t, f))
    expect(kinds({ part, kind: rod, track: t, shapes, offEdge: [] })).toEqual([
      ['gap', 0, 4],
      ['gap', 31, 39],
    ])
  })
  it('find a single frame that slipped', () => {
    const slip = checked((f) => (f === 17 ? turned(f * 2, 190, 150) : turned(f * 2)))
    expect(kinds(slip)).toEqual([['jump', 17, 17]])
    expect(findings([slip], [], plate)[0]!.text).toMatch(/jumps \d+ px/)
  })
  it('find a frame that is larger than its neighbours', () => {
    const square = (side: number) => cornerNodes([0, 0, side, 0, side, side, 0, side])
    const outlined = makePart({ id: 'o', member: 'm', name: 'head', kind: 'outline', order: 1 })
    const one = { part: outlined, kind: outline }
    expect(kinds(checked((f) => square(f === 9 ? 106 : 100), one)).filter(([kind]) => kind === 'size')).toEqual([])
    expect(kinds(checked((f) => square(f === 9 ? 118 : 100), one)).filter(([kind]) => kind === 'size')).toEqual([
      ['size', 9, 9],
    ])
  })
  it('find points that tremble, not points that move', () => {
    const shaky = checked((f) =>
      turned(20 + f * 0.2).map((v, i) => v + (f > 9 && f < 24 ? (f % 2 ? 1.6 : -1.6) * (i % 2 ? 1 : 0.6) : 0)),
    )
    const [kind, from, to] = kinds(shaky)[0]!
    expect(kind).toBe('chatter')
    expect(Number(from)).toBeGreaterThanOrEqual(8)
    expect(Number(to)).toBeLessThanOrEqual(25)
  })
  it('find edges that cross, parts never keyed, edges that slip, and holdouts without feather', () => {
    const bow = cornerNodes([0, 0, 100, 100, 100, 0, 0, 100])
    const outlined = makePart({
      id: 'o',
      member: 'm',
      name: 'head',
      kind: 'outline',
      order: 1,
      settings: { feather: 0 },
    })
    const crossing = checked(() => bow, { part: outlined, kind: outline }, 3)
    const effect = { on: true, behind: ['o'] } as unknown as Effect
    expect(kinds(crossing, [effect])).toEqual([
      ['crossing', 0, 2],
      ['hard', 0, 0],
    ])
    expect(kinds(checked(() => [], { track: track([]), shapes: [null, null] }))).toEqual([['unkeyed', 0, 0]])
    expect(kinds(checked((f) => turned(f), { offEdge: [3, 4, 9] }))).toEqual([
      ['edge', 3, 4],
      ['edge', 9, 9],
    ])
  })

  it('names frames that were followed unsurely, by the confidence that the user asks for', () => {
    const followed = track(
      [null, 0.9, 0.4, 0.45, 0.9, null].map((sure, frame) => ({ frame, points: turned(frame), followed: sure })),
    )
    const one = checked((f) => turned(f), { track: followed }, 6)
    expect(kinds(one)).toEqual([['unsure', 2, 3]])
    // Few keys say the same of what lies between them.
    const few = { ...followed, keys: followed.keys.map((key, i) => ({ ...key, frame: 3 * i })) }
    expect(kinds(checked((f) => turned(f), { track: few }, 16))).toEqual([['unsure', 6, 9]])
    expect(findings([one], [], plate, 0.42).map(({ frame, to }) => [frame, to])).toEqual([[2, 2]])
    expect(findings([one], [], plate, 0.95).map(({ frame, to }) => [frame, to])).toEqual([[1, 4]])
  })
})
