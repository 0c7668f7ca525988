import { Resvg } from '@resvg/resvg-js'
import { blade } from '#core/effects/light/blade/blade.ts'
import { renderBlade } from '#core/effects/light/blade/render.ts'
import { flatten } from '#core/geometry/path.ts'
import { coverPolygon } from '#core/matte/coverage.ts'
import { type MattePart, memberMatte } from '#core/matte/partMatte.ts'
import { Scratch, Slot } from '#core/pixels/buffers/scratch.ts'
import { startKernels } from '#core/pixels/kernels/engine.ts'
import { outline, smoothNodes } from '#core/shapes/kinds/outline.ts'
import { bareContext } from '../support/bareContext.ts'
import { openCv } from '../support/openCv.ts'
import { inTurns, result, type Result } from './measure.ts'

const slots = { picture: new Slot(), matte: new Slot() }

const frame = { x: 0, y: 0, width: 1280, height: 720 }

export const coreBenches: Record<string, () => Promise<Result>> = {
  /** Five halos up to 120 px on a blade that swings across the picture, the whole frame, against one plain blur. */
  async 'blade-frame'() {
    const { cv } = await openCv()
    const scratch = new Scratch(startKernels())
    const context = bareContext(blade, {
      ...{ frame: 10, size: { width: 1280, height: 720 }, scratch },
      parts: [
        {
          id: 'p',
          kind: 'rod',
          role: 'add',
          settings: { reach: 40 },
          at: (t) => [600, 430, 600 + 380 * Math.cos(t / 9), 430 - 380 * Math.sin(t / 9)],
        },
      ],
    })
    const data = scratch.floats(slots.picture, 1280 * 720 * 4, true)
    const [from, to] = [new cv.Mat(720, 1280, cv.CV_32F), new cv.Mat()]
    from.data32F.forEach((_, i) => (from.data32F[i] = i % 7))
    const times = inTurns(
      () => renderBlade.draw(context, { data, region: frame, holdout: null }),
      () => cv.GaussianBlur(from, to, new cv.Size(0, 0), 15),
    )
    return result(
      'blade-frame',
      times.ms,
      'OpenCV GaussianBlur, sigma 15, one float channel, 720p',
      times.referenceMs,
      0.3,
    )
  },

  /** A performer of 10 outlines with 120 points and a feather, as one matte of a whole 720p frame. */
  async 'performer-matte'() {
    const { cv } = await openCv()
    const scratch = new Scratch(startKernels())
    const parts = Array.from({ length: 10 }, (_, p): MattePart => {
      const [cx, cy, rx, ry] = [440 + 46 * p, 140 + 48 * p, 60 + 9 * (p % 4), 120 - 8 * (p % 5)]
      const places = Array.from({ length: 12 }, (_, i) => [
        cx + rx * Math.cos((i * Math.PI) / 6),
        cy + (i % 2 ? ry : 0.8 * ry) * Math.sin((i * Math.PI) / 6),
      ])
      return { kind: 'outline', role: 'add', points: smoothNodes(places.flat()), settings: { feather: 4, opacity: 1 } }
    })
    const paths = parts.map((part) => {
      const path = outline.path(part.points!, {})
      let d = `M${path[0]} ${path[1]}`
      for (let i = 2; i < path.length; i += 6) d += `C${path.slice(i, i + 6).join(' ')}`
      return `<path d="${d}Z" fill="#fff"/>`
    })
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="1280" height="720">${paths.join('')}</svg>`
    const [from, to] = [new cv.Mat(720, 1280, cv.CV_32F), new cv.Mat()]
    const times = inTurns(
      () => memberMatte(parts, 1, frame, scratch, slots.matte),
      () => {
        const pixels = new Resvg(svg).render().pixels
        const data = from.data32F as Float32Array
        for (let i = 0; i < data.length; i++) data[i] = pixels[4 * i + 3]! / 255
        cv.GaussianBlur(from, to, new cv.Size(0, 0), 2)
      },
    )
    return result(
      'performer-matte',
      times.ms,
      'resvg drawing the paths, then OpenCV GaussianBlur',
      times.referenceMs,
      0.5,
    )
  },

  /** A smooth outline of 12 points at 720p. */
  async coverage() {
    const places = Array.from({ length: 12 }, (_, i) => [
      640 + 410 * Math.cos((i * Math.PI) / 6),
      360 + (i % 2 ? 300 : 240) * Math.sin((i * Math.PI) / 6),
    ])
    const path = outline.path(smoothNodes(places.flat()), {})
    let d = `M${path[0]} ${path[1]}`
    for (let i = 2; i < path.length; i += 6) d += `C${path.slice(i, i + 6).join(' ')}`
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="1280" height="720"><path d="${d}Z" fill="#fff"/></svg>`
    const out = new Float32Array(1280 * 720)
    const times = inTurns(
      () => coverPolygon(flatten(path), frame, out),
      () => void new Resvg(svg).render().pixels,
    )
    return result('coverage', times.ms, 'resvg drawing the same path', times.referenceMs, 1)
  },
}
