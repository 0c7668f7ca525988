import { effectKinds } from '../effects/registry.ts'
import type { EffectContext, EffectKind } from '../effects/kind.ts'
import { boundsOf, intersect, isEmpty, unite, type Rect } from '../geometry/rect.ts'
import type { Scratch } from '../image/scratch.ts'
import { encode8BitTable, encodeSteps, linearColour, linearOf8Bit, toEncoded } from '../image/transfer.ts'
import { copyI420, rgbaToI420, uprightSize, type Yuv } from '../image/yuv.ts'
import { memberMatte } from '../matte/partMatte.ts'
import type { Effect } from '../model/records.ts'
import type { Scene } from './scene.ts'

/**
 * A picture of opaque or straight-alpha sRGB-encoded bytes, one 32-bit word a pixel (R in the lowest byte). Its words,
 * like the data of a Yuv and every other array given to this file, come from the scratch that is given along.
 */
export interface Picture {
  words: Uint32Array
  width: number
  height: number
}

interface Layer {
  kind: EffectKind
  context: EffectContext
  effect: Effect
  reach: Rect
}

/** The effects of a scene at a frame with the pixels each may change, cut to the picture. */
function layersAt(scene: Scene, frame: number, scale: number, bounds: Rect, scratch: Scratch): Layer[] {
  return scene.effects.flatMap((effect) => {
    const kind: EffectKind = effectKinds[effect.kind]
    const parts = scene.partsOf(effect.target).filter((part) => kind.rides.includes(part.kind))
    const context: EffectContext = {
      settings: effect.settings,
      blend: effect.blend,
      opacity: effect.opacity,
      parts,
      frame,
      scale,
      colour:
        scene.light === 'linear' ? linearColour : (hex) => linearColour(hex).map(toEncoded) as [number, number, number],
      scratch,
    }
    const reach = intersect(kind.reach(context), bounds)
    return isEmpty(reach) ? [] : [{ kind, context, effect, reach }]
  })
}

/** The effects of a frame and the pixels that they change together, empty where nothing happens. */
function planFrame(scene: Scene, frame: number, scale: number, width: number, height: number, scratch: Scratch) {
  const layers = layersAt(scene, frame, scale, { x: 0, y: 0, width, height }, scratch)
  const region = layers.reduce<Rect>((all, layer) => unite(all, layer.reach), { x: 0, y: 0, width: 0, height: 0 })
  return { layers, region }
}

function drawLayers(
  layers: Layer[],
  scene: Scene,
  frame: number,
  scale: number,
  region: Rect,
  data: Float32Array,
  scratch: Scratch,
): void {
  for (const { kind, context, effect } of layers)
    kind.render(context, { data, region, holdout: holdoutOf(scene, effect, frame, scale, region, scratch) })
}

/**
 * Lays the shot's effects onto `picture` in place. The picture is the plate at `scale`, or words of 0 for light
 * alone. Only the pixels that an effect reaches are taken to floats and back; all others stay as they are.
 * Returns that region, empty where nothing happens.
 */
export function renderFrame(scene: Scene, frame: number, scale: number, picture: Picture, scratch: Scratch): Rect {
  const { layers, region } = planFrame(scene, frame, scale, picture.width, picture.height, scratch)
  if (isEmpty(region)) return region
  const data = scratch.floats('working', region.width * region.height * 4)
  decode(picture, region, data, scene.light, scratch)
  drawLayers(layers, scene, frame, scale, region, data, scratch)
  encode(data, region, picture, scene.light, scratch)
  return region
}

/**
 * The frame as tightly packed I420 in limited-range BT.709 for a video file, cut to an even size. A plate that is
 * coded so already is converted only where light falls on it; everywhere else its bytes go through untouched.
 * `out` holds i420Layout(width & ~1, height & ~1).bytes of the upright picture.
 */
export function renderVideoFrame(scene: Scene, frame: number, yuv: Yuv, out: Uint8Array, scratch: Scratch): void {
  const upright = uprightSize(yuv)
  const [width, height] = [upright.width & ~1, upright.height & ~1]
  if (yuv.matrix !== 'bt709' || yuv.range !== 'limited' || yuv.rotation !== 0) {
    const picture = { words: scratch.words('picture', upright.width * upright.height), ...upright }
    scratch.kernels.yuvToRgba(yuv, picture.words)
    renderFrame(scene, frame, 1, picture, scratch)
    return pictureToI420(picture, out)
  }
  copyI420(yuv, width, height, out)
  const { layers, region } = planFrame(scene, frame, 1, width, height, scratch)
  if (isEmpty(region)) return
  const even = boundsOf([
    region.x & ~1,
    region.y & ~1,
    (region.x + region.width + 1) & ~1,
    (region.y + region.height + 1) & ~1,
  ])
  const data = scratch.floats('working', even.width * even.height * 4)
  scratch.kernels.yuvToFloats(yuv, even, tables[scene.light].working, data)
  drawLayers(layers, scene, frame, 1, even, data, scratch)
  scratch.kernels.floatsToI420(data, even, tables[scene.light].back, width, height, out)
}

/** A picture as I420 for a video file, cut to an even size. */
export function pictureToI420({ words, width, height }: Picture, out: Uint8Array): void {
  const [w, h] = [width & ~1, height & ~1]
  let even = words
  if (w !== width || h !== height) {
    even = new Uint32Array(w * h)
    for (let y = 0; y < h; y++) even.set(words.subarray(y * width, y * width + w), y * w)
  }
  rgbaToI420(new Uint8Array(even.buffer, even.byteOffset, even.byteLength), w, h, out)
}

/**
 * The shot's light alone on nothing, with straight alpha: laid over black it gives exactly the light that
 * {@link renderFrame} adds to black. Words of `picture` must be 0.
 */
export function renderLightAlone(scene: Scene, frame: number, scale: number, picture: Picture, scratch: Scratch): void {
  const region = renderFrame(scene, frame, scale, picture, scratch)
  for (let y = region.y; y < region.y + region.height; y++) {
    for (let at = y * picture.width + region.x, end = at + region.width; at < end; at++) {
      const word = picture.words[at]!
      const [r, g, b] = [word & 255, (word >> 8) & 255, (word >> 16) & 255]
      const alpha = Math.max(r, g, b)
      const full = (v: number) => (alpha ? Math.round((v * 255) / alpha) : 0)
      picture.words[at] = ((alpha << 24) | (full(b) << 16) | (full(g) << 8) | full(r)) >>> 0
    }
  }
}

/** What covers the effect, over the region: its holdouts together. Null where none is there. */
function holdoutOf(
  scene: Scene,
  effect: Effect,
  frame: number,
  scale: number,
  region: Rect,
  scratch: Scratch,
): Float32Array | null {
  const parts = effect.behind.flatMap((id) => {
    const part = scene.part(id)
    const points = part?.at(frame)
    // A chosen part covers whatever it does within its own member.
    return part && points ? [{ ...part, role: 'add' as const, points }] : []
  })
  return parts.length ? memberMatte(parts, scale, region, scratch, 'holdout') : null
}

const plain = Float32Array.from({ length: 256 }, (_, i) => i / 255)
const plainBack = Uint8Array.from({ length: encodeSteps + 1 }, (_, i) => Math.round((i / encodeSteps) * 255))
/** Encoded levels to working values and back, by how the project blends. */
const tables = {
  linear: { working: linearOf8Bit, back: encode8BitTable },
  display: { working: plain, back: plainBack },
}

function decode(
  { words, width }: Picture,
  region: Rect,
  data: Float32Array,
  light: 'linear' | 'display',
  { kernels }: Scratch,
): void {
  for (let y = 0; y < region.height; y++)
    kernels.wordsToFloats(
      words,
      (region.y + y) * width + region.x,
      region.width,
      tables[light].working,
      data,
      4 * y * region.width,
    )
}

function encode(
  data: Float32Array,
  region: Rect,
  { words, width }: Picture,
  light: 'linear' | 'display',
  { kernels }: Scratch,
): void {
  for (let y = 0; y < region.height; y++)
    kernels.floatsToWords(
      data,
      4 * y * region.width,
      region.width,
      tables[light].back,
      words,
      (region.y + y) * width + region.x,
    )
}
