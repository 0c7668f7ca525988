import { describe, expect, it } from 'vitest'
import { pictureOf, texture } from '#lab/support/textures.ts'
import { backdropsOf, unwatched } from '#lab/support/unwatched.ts'
import { composed, fromUnitSquare, inverseOf } from '../geometry/projective.ts'
import { cornerNodes, outline, smoothNodes } from '../shapes/kinds/outline.ts'
import { oval } from '../shapes/kinds/oval.ts'
import { pin } from '../shapes/kinds/pin.ts'
import { point } from '../shapes/kinds/point.ts'
import { rod } from '../shapes/kinds/rod.ts'
import { follow, type FollowTask, spansOf } from './follow.ts'
import type { FollowPicture } from './frame.ts'
import { isCut } from './sceneCut.ts'

const [width, height] = [320, 240]
const bright = texture(3)
const place = (t: number): [number, number] => [100 + 2.2 * t, 110 + 12 * Math.sin(t / 5)]
const moving = Array.from({ length: 25 }, (_, t) => {
  const [x, y] = place(t)
  return pictureOf(width, height, bright, [1, 0, x - 100, 0, 1, y - 110, 0, 0, 1], 1.5, t)
})
const ovalAt = (t: number, dx = 0) => {
  const [x, y] = place(t)
  return [x + dx, y, x + dx + 26, y, x + dx, y + 18]
}

const task = (given: Partial<FollowTask> & { frames?: FollowPicture[] }): FollowTask => {
  const { frames = moving, ...rest } = given
  return {
    ...unwatched(frames),
    ...{ kind: oval, settings: {}, from: 0, to: frames.length - 1 },
    keys: [{ frame: 0, points: ovalAt(0) }],
    ...rest,
  }
}

describe('Stretches between hand keys', () => {
  const key = (frame: number) => ({ frame, points: [] })
  const said = (keys: number[], from: number, to: number) =>
    spansOf(keys.map(key), from, to).map(({ forward, backward }) => [
      forward && [forward.key.frame, ...forward.frames],
      backward && [backward.key.frame, ...backward.frames],
    ])
  it('are followed from the key at their side, and from both between two keys', () => {
    expect(said([2, 5], 0, 7)).toEqual([
      [null, [2, 1, 0]],
      [
        [2, 3, 4],
        [5, 4, 3],
      ],
      [[5, 6, 7], null],
    ])
  })
  it('are gone through from their key where only a part of them is asked for', () => {
    expect(said([0, 9], 3, 5)).toEqual([[[0, 1, 2, 3, 4, 5], null]])
    expect(said([8], 4, 5)).toEqual([[null, [8, 7, 6, 5, 4]]])
  })
  it('do not exist without a key', () => expect(said([], 0, 9)).toEqual([]))
})

describe('Following', () => {
  it('an oval goes where the picture goes, and tells of every frame as it is found', async () => {
    const told: number[] = []
    const { frames, endings } = await follow(task({ found: ({ frame }) => told.push(frame) }))
    expect(endings).toEqual([])
    expect(frames.map(({ frame }) => frame)).toEqual(Array.from({ length: 24 }, (_, i) => i + 1))
    expect(told.slice(0, 24)).toEqual(frames.map(({ frame }) => frame))
    for (const { frame, points } of frames) {
      const [x, y] = place(frame)
      expect(Math.hypot(points[0]! - x, points[1]! - y), `frame ${frame}`).toBeLessThan(0.2)
    }
  })

  it('between two keys that do not agree the track leaves the one and comes to the other, and is less sure', async () => {
    const both = [
      { frame: 0, points: ovalAt(0) },
      { frame: 24, points: ovalAt(24, 6) },
    ]
    const { frames } = await follow(task({ keys: both }))
    const off = (frame: number) => frames.find((one) => one.frame === frame)!.points[0]! - place(frame)[0]
    expect(off(1)).toBeLessThan(1)
    expect(off(23)).toBeGreaterThan(5)
    expect(off(12)).toBeGreaterThan(1.5)
    expect(off(12)).toBeLessThan(4.5)
    expect(frames.find((one) => one.frame === 12)!.confidence).toBeLessThan(0.5)
    expect(frames.some((one) => one.frame === 0 || one.frame === 24)).toBe(false)
  })

  it('a point rides on the patch around it', async () => {
    const { frames } = await follow(
      task({ kind: point, keys: [{ frame: 0, points: [100, 110] }], model: 'translation' }),
    )
    for (const { frame, points } of frames) {
      const [x, y] = place(frame)
      expect(Math.hypot(points[0]! - x, points[1]! - y), `frame ${frame}`).toBeLessThan(0.25)
    }
  })

  it('stops when it is told to, and keeps what it has', async () => {
    let left = 6
    const { frames } = await follow(task({ stopped: () => left-- <= 0 }))
    expect(frames.length).toBeGreaterThan(2)
    expect(frames.length).toBeLessThan(7)
  })

  it('ends where the picture cuts to something else, and where it goes black', async () => {
    const black = pictureOf(width, height, () => 16)
    const other = Array.from({ length: 5 }, (_, t) =>
      pictureOf(width, height, (x, y) => 40 + 0.5 * texture(88)(x, y), undefined, 1, t),
    )
    for (const after of [[black, black], other]) {
      const { frames, endings } = await follow(task({ frames: [...moving.slice(0, 8), ...after] }))
      expect(endings).toEqual([{ frame: 8, why: 'cut' }])
      expect(frames.at(-1)!.frame).toBe(7)
    }
    expect(isCut(moving[3]!, moving[4]!)).toBe(false)
    const flash = pictureOf(width, height, (x, y) => Math.min(255, 1.5 * bright(x, y) + 30))
    expect(isCut(moving[0]!, flash)).toBe(false)
  })

  it('goes on over repeated frames', async () => {
    const repeated = moving.slice(0, 12).flatMap((one) => [one, one])
    const { frames, endings } = await follow(task({ frames: repeated }))
    expect(endings).toEqual([])
    const [x, y] = place(11)
    expect(Math.hypot(frames.at(-1)!.points[0]! - x, frames.at(-1)!.points[1]! - y)).toBeLessThan(0.3)
  })

  it('says what is wrong in a sentence', async () => {
    await expect(follow(task({ keys: [] }))).rejects.toThrow('There is no key to follow from')
    const every = moving.map((_, frame) => ({ frame, points: ovalAt(frame) }))
    await expect(follow(task({ keys: every }))).rejects.toThrow('there is nothing to follow')
    const tiny = [{ frame: 0, points: [-300, 40, -298, 40, -300, 42] }]
    await expect(follow(task({ keys: tiny }))).rejects.toThrow('shows too little of the picture')
  })

  it('a region larger than the picture follows what is seen of it', async () => {
    const huge = [{ frame: 0, points: [160, 120, 460, 120, 160, 380] }]
    const { frames } = await follow(task({ keys: huge, to: 5 }))
    const [x, y] = place(5)
    expect(
      Math.hypot(frames.at(-1)!.points[0]! - 160 - (x - 100), frames.at(-1)!.points[1]! - 120 - (y - 110)),
    ).toBeLessThan(1)
  })
})

describe('A flat thing that turns', () => {
  const base = [80, 60, 240, 60, 240, 180, 80, 180]
  /** Its corners: the left side comes nearer while the right one goes away. */
  const seen = (t: number) => [80 - t, 60 - 1.6 * t, 240 - 2 * t, 60 + t, 240 - 2 * t, 180 - t, 80 - t, 180 + 1.6 * t]
  const flat = fromUnitSquare(base)!
  const board = Array.from({ length: 16 }, (_, t) =>
    pictureOf(width, height, bright, composed(fromUnitSquare(seen(t))!, inverseOf(flat)!), 1.5, t),
  )
  it.each([
    ['pin', pin, (points: number[]) => points],
    ['outline', outline, cornerNodes],
  ] as const)('is followed in perspective by a %s, with the settings as they come', async (_, kind, shape) => {
    const { frames } = await follow(task({ frames: board, kind, keys: [{ frame: 0, points: shape(seen(0)) }] }))
    expect(frames.length).toBe(15)
    for (const { frame, points } of frames)
      shape(seen(frame)).forEach((v, i) => expect(Math.abs(points[i]! - v), `frame ${frame}`).toBeLessThan(1))
  })
})

describe('An outline that bends', () => {
  // A bright disc that grows to an ellipse while it goes: no stiff motion explains both of its sides.
  const wide = (t: number) => 40 + 0.35 * t
  const disc = Array.from({ length: 9 }, (_, t) =>
    pictureOf(
      width,
      height,
      (x, y) => {
        const out = Math.hypot((x - 150 - t) / wide(t), (y - 120) / 40)
        const share = Math.max(0, Math.min(1, (1 - out) * 20 + 0.5))
        return 70 + 0.25 * (bright(x, y) - 128) + 90 * share
      },
      undefined,
      1.5,
      t,
    ),
  )
  const outlined = (t: number) =>
    smoothNodes(
      Array.from({ length: 12 }, (_, i) => [
        150 + t + wide(t) * Math.cos((i * Math.PI) / 6),
        120 + 40 * Math.sin((i * Math.PI) / 6),
      ]).flat(),
    )
  it('keeps to its edges when its points are let go, where the whole alone falls short', async () => {
    const off = async (edgeFreedom: number) => {
      const keys = [{ frame: 0, points: outlined(0) }]
      const { frames } = await follow(task({ frames: disc, kind: outline, keys, model: 'translation', edgeFreedom }))
      const [own, known] = [frames.at(-1)!.points, outlined(8)]
      const offs = Array.from({ length: 12 }, (_, i) => {
        const [dx, dy] = [own[8 * i]! - known[8 * i]!, own[8 * i + 1]! - known[8 * i + 1]!]
        // Along the edge a point may slide; across it is what counts.
        const [nx, ny] = [Math.cos((i * Math.PI) / 6) / wide(8), Math.sin((i * Math.PI) / 6) / 40]
        return Math.abs(dx * nx + dy * ny) / Math.hypot(nx, ny)
      })
      return Math.max(...offs)
    }
    expect(await off(0)).toBeGreaterThan(2)
    expect(await off(5)).toBeLessThan(0.8)
  })
})

describe('A rod', () => {
  /** A bright staff that turns about its heel over a dim texture, blurred over half a frame in linear light. */
  const angleAt = (t: number) => -0.4 - 0.9 * (1 - Math.cos(t / 9))
  const [heel, length, half] = [[150, 190] as const, 120, 4]
  const dim = (x: number, y: number) => 60 + 0.25 * (bright(x, y) - 128)
  const drawn = (t: number, open = 0.5) => {
    const ways = Array.from({ length: 16 }, (_, i) => angleAt(t + open * ((i + 0.5) / 16 - 0.5))).map((a) => [
      Math.cos(a),
      Math.sin(a),
    ])
    const light = (code: number) => Math.max(0, code - 16) ** 2.2
    return pictureOf(
      width,
      height,
      (x, y) => {
        let covered = 0
        for (const [dx, dy] of ways) {
          const along = (x - heel[0]) * dx! + (y - heel[1]) * dy!
          const across = Math.abs((x - heel[0]) * dy! - (y - heel[1]) * dx!)
          if (along > 0 && along < length && across < half) covered++
        }
        const share = covered / 16
        return 16 + (share * light(200) + (1 - share) * light(dim(x, y))) ** (1 / 2.2)
      },
      undefined,
      2,
      t,
    )
  }
  const staff = Array.from({ length: 30 }, (_, t) => drawn(t))
  const rodAt = (t: number) => [
    ...heel,
    heel[0] + length * Math.cos(angleAt(t)),
    heel[1] + length * Math.sin(angleAt(t)),
  ]
  const settings = { widthHeel: 8, widthTip: 8 }

  it('is followed through its blur from one key', async () => {
    const { frames } = await follow(
      task({ frames: staff, kind: rod, settings, keys: [{ frame: 0, points: rodAt(0) }] }),
    )
    expect(frames.length).toBe(29)
    const offs: number[] = []
    for (const { frame, points } of frames) {
      const known = rodAt(frame)
      const off = Math.max(
        Math.hypot(points[0]! - known[0]!, points[1]! - known[1]!),
        Math.hypot(points[2]! - known[2]!, points[3]! - known[3]!),
      )
      offs.push(off)
      // What the confidence calls wrong.
      expect(off, `frame ${frame}`).toBeLessThan(5)
    }
    expect(offs.sort((a, b) => a - b)[14]).toBeLessThan(1.5)
  })

  it('is followed all the same where its width was left much too large: that is measured on its key', async () => {
    const { frames } = await follow(
      task({
        ...{ frames: staff, kind: rod, settings: { widthHeel: 14, widthTip: 14 }, to: 14 },
        keys: [{ frame: 0, points: rodAt(0) }],
      }),
    )
    expect(frames.length).toBe(14)
    for (const { frame, points } of frames)
      points.forEach((v, i) => expect(Math.abs(v - rodAt(frame)[i]!), `frame ${frame}`).toBeLessThan(4))
  })

  it('is followed from one key at ten frames a second in bright light, where nothing is blurred, and over frames that repeat', async () => {
    const sharp = Array.from({ length: 12 }, (_, k) => drawn(3 * k, 0.05))
    const jerky = staff.map((_, t) => staff[t % 4 === 3 ? t - 1 : t]!)
    for (const [frames, at, most] of [
      [sharp, (k: number) => 3 * k, 4],
      [jerky, (t: number) => (t % 4 === 3 ? t - 1 : t), 5],
    ] as const) {
      const { frames: found } = await follow(
        task({ frames, kind: rod, settings, keys: [{ frame: 0, points: rodAt(0) }] }),
      )
      expect(found).toHaveLength(frames.length - 1)
      for (const { frame, points } of found)
        points.forEach((v, i) => expect(Math.abs(v - rodAt(at(frame))[i]!), `frame ${frame}`).toBeLessThan(most))
    }
  })

  it('between two keys leads from the one to the other, and what lies outside them is not told of', async () => {
    const keys = [0, 12].map((frame) => ({ frame, points: rodAt(frame) }))
    const { frames } = await follow(task({ frames: staff, kind: rod, settings, keys, from: 3, to: 9 }))
    expect(frames.map(({ frame }) => frame)).toEqual([3, 4, 5, 6, 7, 8, 9])
    for (const { frame, points } of frames)
      points.forEach((v, i) => expect(Math.abs(v - rodAt(frame)[i]!), `frame ${frame}`).toBeLessThan(4))
  })

  it('is looked for on frames that are there, and on no other', async () => {
    const own = task({ frames: staff, kind: rod, settings, keys: [{ frame: 0, points: rodAt(0) }], to: 12 })
    const asked: unknown[] = []
    const see: FollowTask['see'] = (frame, before, covered) => {
      asked.push(frame, before)
      return own.see(frame, before, covered)
    }
    await follow({ ...own, see })
    const odd = asked.filter((one) => one !== null && !(Number.isInteger(one) && Number(one) >= 0 && Number(one) <= 12))
    expect(odd).toEqual([])
    expect(asked).toContain(12)
  })

  it('set beside the prop is called unsure, and the key is named', async () => {
    const beside = rodAt(0).map((v, i) => v + (i % 2 ? 0 : 20))
    const { frames, astray } = await follow(
      task({ frames: staff, kind: rod, settings, keys: [{ frame: 0, points: beside }], to: 12 }),
    )
    for (const { frame, confidence } of frames) expect(confidence, `frame ${frame}`).toBeLessThan(0.5)
    expect(astray).toBe(0)
  })

  it('the backdrop shows what the staff was in front of', async () => {
    const backdrop = await backdropsOf(staff).wide(0)
    let [sum, count] = [0, 0]
    for (let y = 20; y < 100; y++)
      for (let x = 60; x < 130; x++) {
        sum += Math.abs(backdrop.y[y * backdrop.width + x]! - dim(2 * x + 1, 2 * y + 1))
        count++
      }
    expect(sum / count).toBeLessThan(2)
  })
})
