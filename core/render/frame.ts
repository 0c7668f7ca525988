import { effectKind } from '../effects/catalogue.ts'
import type { EffectContext, EffectKind, PictureNeed, Renderer } from '../effects/effect.ts'
import { rendererFor } from '../effects/renderers.ts'
import { wherever } from '../effects/shared/place.ts'
import { boundsOf, inflate, intersect, isEmpty, noRect, type Rect, unite } from '../geometry/rect.ts'
import { opacityParameter } from '../parameters/opacity.ts'
import type { Settings } from '../parameters/parameters.ts'
import { numberAt, settingsAt } from '../parameters/values.ts'
import type { Rgba } from '../pixels/buffers/picture.ts'
import { type Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { copyI420, rgbaToI420, uprightSize, type Yuv } from '../pixels/buffers/yuv.ts'
import { blendRow } from '../pixels/colour/blend.ts'
import {
  encode8BitTable,
  encodeSteps,
  linearColour,
  linearOf8Bit,
  quickEncoded,
  quickLinear,
  toEncoded,
} from '../pixels/colour/transfer.ts'
import { fitted } from '../pixels/filters/fit.ts'
import { span } from '../pixels/kernels/interface.ts'
import { type Effect, shotLength } from '../records/types.ts'
import type { TracedPart } from '../shapes/traced.ts'
import { coverOf, regionBounds, regionMatte, shapesOf } from './region.ts'
import type { Scene } from './scene.ts'

const slots = {
  next: new Slot(),
  made: new Slot(),
  copyWords: new Slot(),
  copyLight: new Slot(),
  keptMatte: new Slot(),
  beforeTheGroup: new Slot(),
  layer: new Slot(),
  moments: new Slot(),
  effectRegion: new Slot(),
  pictureOf: new Slot(),
  working: new Slot(),
  picture: new Slot(),
  toBeFitted: new Slot(),
  fittedWords: new Slot(),
  fittedLight: new Slot(),
  holdout: new Slot(),
}

/**
 * A picture of opaque or straight-alpha sRGB-encoded bytes, one 32-bit word a pixel (R in the lowest byte). Its words,
 * like the data of a Yuv and every other array given to this file, come from the scratch that is given along.
 */
export interface Picture {
  words: Uint32Array
  /** Whether its alpha counts, as in a still that is inserted; else it is opaque. */
  alpha?: boolean
  /** Its linear light, RGBA premultiplied by alpha, where more of it is known than its words hold. Effects change both. */
  light?: Float32Array
  width: number
  height: number
}

/** Gives pictures of other frames that effects asked for, at the scale that is worked at; null where there is none. */
export type OtherPictures = (need: PictureNeed) => Picture | null
const noOthers: OtherPictures = () => null

/** One effect at work on a frame. */
interface EffectPass {
  kind: EffectKind
  renderer: Renderer
  context: EffectContext
  /** The moments within its shutter, the frame's own alone where nothing is smeared. */
  moments: EffectContext[]
  effect: Effect
  /** Pixels that it may change. */
  bounds: Rect
}

/** How much of an effect is there at a frame by its own range, 0..1. */
export function presence(range: Effect['range'], frame: number): number {
  if (!range) return 1
  if (frame < range.from || frame > range.to) return 0
  // A fade of n frames has n steps before it is full: its first frame shows already something.
  const rise = (frame - range.from + 1) / (range.fadeIn + 1)
  const fall = (range.to - frame + 1) / (range.fadeOut + 1)
  return Math.min(1, rise, fall)
}

/** An effect's settings and share at a frame, everything standing still. */
function effectAt(scene: Scene, effect: Effect, frame: number) {
  const kind: EffectKind = effectKind(effect.kind)
  const share = numberAt({ opacity: effect.opacity }, opacityParameter, frame, scene.read)
  return {
    kind,
    renderer: rendererFor(effect.kind),
    opacity: share * presence(effect.range, frame),
    settings: settingsAt(kind.parameters, effect.settings, frame, scene.read),
  }
}

/** Every other picture that a frame is made from, each once; in place of the next shot what that is made from. */
export function picturesNeeded(scene: Scene, frame: number): PictureNeed[] {
  const needs = scene.effects.flatMap((effect) => {
    const { renderer, opacity, settings } = effectAt(scene, effect, frame)
    const own = opacity > 0 ? (renderer.needs?.(settings, frame, shotLength(scene.shot), scene.rateOf) ?? []) : []
    return own.flatMap(({ made, ...need }) => {
      if (!made) return need
      const at = shotFrame(scene, need.frame)
      return [{ ...need, frame: at }, ...picturesNeeded(before(scene, effect), at)]
    })
  })
  const plain = needs.flatMap((need) => (need.media === 'next' ? neededByNext(scene, need.frame) : need))
  return [...new Map(plain.map((need) => [`${need.media} ${need.frame} ${need.scaled}`, need])).values()]
}

/** A frame that the shot has. */
const shotFrame = ({ shot }: Scene, frame: number): number => Math.max(0, Math.min(shotLength(shot) - 1, frame))
/** The scene with the cards that work before this one. */
const before = (scene: Scene, effect: Effect): Scene => ({
  ...scene,
  effects: scene.effects.slice(0, scene.effects.indexOf(effect)),
})

/** A frame of the shot as the cards before an effect make it; null where its plate is missing. */
function madePicture(
  scene: Scene,
  effect: Effect,
  frame: number,
  scale: number,
  scratch: Scratch,
  others: OtherPictures,
): Picture | null {
  const at = shotFrame(scene, frame)
  const plate = others({ media: '', frame: at })
  const earlier = before(scene, effect)
  if (!plate || !earlier.effects.length) return plate
  const room = scratch.inner(slots.made)
  const picture = copyOf(plate, room)
  renderFrame(earlier, at, scale, picture, room, others)
  return picture
}

/** A picture in buffers of a scratch: others are made in one place each, and what was given must not be lost to the next one. */
function copyOf(picture: Picture, room: Scratch): Picture {
  const copy = { ...picture, words: room.words(slots.copyWords, picture.words.length) }
  copy.words.set(picture.words)
  if (picture.light) {
    copy.light = room.floats(slots.copyLight, picture.light.length)
    copy.light.set(picture.light)
  }
  return copy
}

function neededByNext(scene: Scene, frame: number): PictureNeed[] {
  const next = scene.next(frame)
  if (!next) return []
  const own = ownPlate(next.scene)
  return [
    own(next.frame),
    ...picturesNeeded(next.scene, next.frame).map((need) => (need.media ? need : own(need.frame))),
  ]
}

/** A frame of a shot's own clip, told to somebody who works at another one. */
const ownPlate =
  ({ shot, media }: Scene) =>
  (frame: number): PictureNeed => ({
    media: media.id,
    frame: Math.min(shot.out - 1, Math.max(shot.in, shot.in + frame)),
    scaled: true,
  })

/** The next shot with its own effects, as it is while this one is at `frame`. */
function nextPicture(
  scene: Scene,
  frame: number,
  scale: number,
  scratch: Scratch,
  others: OtherPictures,
): Picture | null {
  const next = scene.next(frame)
  if (!next) return null
  const own = ownPlate(next.scene)
  const plate = others(own(next.frame))
  if (!plate) return null
  const room = scratch.inner(slots.next)
  const picture = copyOf(plate, room)
  renderFrame(next.scene, next.frame, scale, picture, room, (need) => others(need.media ? need : own(need.frame)))
  return picture
}

/** The effects of a scene at a frame with the pixels each may change, cut to the picture. */
function passesAt(
  scene: Scene,
  frame: number,
  scale: number,
  bounds: Rect,
  scratch: Scratch,
  others: OtherPictures,
): EffectPass[] {
  const mattes = keptMattes(scene, scale, scratch)
  /** The next shot, made once for all that ask for it. */
  let next: { made: Rgba | null } | null = null
  return scene.effects.flatMap((effect) => {
    const { kind, renderer, opacity, settings } = effectAt(scene, effect, frame)
    const { rides } = kind
    const { region, target } = effect
    const parts = rides ? scene.partsOf(target).filter((part) => rides.includes(part.kind)) : []
    const gone = region.of.length > 0 && region.of.every((id) => !scene.part(id) && !scene.partsOf(id).length)
    if (opacity <= 0 || gone || (kind.region === 'source' && !region.of.length && !kind.alone)) return []
    // Who is named and is not in this shot is not the middle of the picture.
    if (rides && !parts.length && (!kind.alone || target)) return []
    const contextAt = (time: number): EffectContext => ({
      settings: time === frame ? settings : settingsAt(kind.parameters, effect.settings, time, scene.read),
      blend: effect.blend,
      opacity,
      target,
      parts,
      frame: time,
      since: time - (effect.range?.from ?? 0),
      scale,
      size: { width: bounds.width, height: bounds.height },
      colour:
        scene.light === 'linear' ? linearColour : (hex) => linearColour(hex).map(toEncoded) as [number, number, number],
      light: scene.light,
      region: (rect, name, then = time) => mattes(region, then, rect, name),
      everywhere: region.of.length === 0,
      regionBounds: (then = time) => regionBounds(scene, region, then, scale, bounds),
      member: scene.partsOf,
      contacts: scene.contacts,
      sizeOf: others,
      rateOf: scene.rateOf,
      joined: scene.next(frame) !== null,
      picture(need) {
        if (need.made) {
          const picture = madePicture(scene, effect, need.frame, scale, scratch, others)
          return workingPicture(picture, { ...need, media: 'made' }, scene.light, scratch)
        }
        if (need.media !== 'next') return workingPicture(others(need), need, scene.light, scratch)
        next ??= { made: workingPicture(nextPicture(scene, frame, scale, scratch, others), need, scene.light, scratch) }
        return next.made
      },
      scratch,
    })
    const context = contextAt(frame)
    const moments = momentsOf(scene, effect, kind, parts, frame, settings).map((time) =>
      time === frame ? context : contextAt(time),
    )
    const reached = moments.map((one) => (renderer.bounds ?? wherever)(one)).reduce(unite)
    let own = intersect(reached, bounds)
    if (kind.region === 'bounds') own = intersect(own, context.regionBounds())
    return isEmpty(own) ? [] : [{ kind, renderer, context, moments, effect, bounds: own }]
  })
}

/** Times within a shutter of degrees about a frame at which what moves is sampled; the frame alone where nothing moves. */
function momentsOf(
  scene: Scene,
  effect: Effect,
  kind: EffectKind,
  parts: readonly TracedPart[],
  frame: number,
  { shutter, samples }: Settings,
): number[] {
  const open = Number(shutter ?? 0) / 360
  if (!kind.moves || open <= 0) return [frame]
  const state = (time: number) =>
    JSON.stringify([settingsAt(kind.parameters, effect.settings, time, scene.read), parts.map((part) => part.at(time))])
  if (kind.moves === 'byItsSettings' && state(frame - open / 2) === state(frame + open / 2)) return [frame]
  const count = Math.max(2, Math.round(Number(samples)))
  return Array.from({ length: count }, (_, k) => frame + open * ((k + 0.5) / count - 0.5))
}

/** Mattes of a frame: cards with the same region share one, each in a copy that is its own to change. */
function keptMattes(scene: Scene, scale: number, scratch: Scratch) {
  const kept = new Map<string, Float32Array>()
  return (region: Effect['region'], time: number, rect: Rect, slot: Slot): Float32Array => {
    if (!region.of.length) return scratch.floats(slot, rect.width * rect.height).fill(1)
    const { x, y, width, height } = rect
    const called = JSON.stringify([region, time, x, y, width, height])
    let matte = kept.get(called)
    if (!matte) {
      matte = regionMatte(
        scene,
        region,
        { time: time, scale: scale, rect: rect },
        scratch,
        slots.keptMatte.part(kept.size),
      )
      kept.set(called, matte)
    }
    const own = scratch.floats(slot, matte.length)
    own.set(matte)
    return own
  }
}

/** The effects of a frame and the pixels that they change together, empty where nothing happens. */
function planFrame(
  scene: Scene,
  frame: number,
  { scale, width, height }: { scale: number; width: number; height: number },
  scratch: Scratch,
  others: OtherPictures,
) {
  const whole = { x: 0, y: 0, width, height }
  const passes = passesAt(scene, frame, scale, whole, scratch, others)
  let region = passes.reduce<Rect>((all, pass) => unite(all, pass.bounds), noRect)
  // What changes the picture looks around itself: all of that has to be there.
  for (const { renderer, context, bounds } of passes)
    if (renderer.sampleRadius)
      region = intersect(whole, unite(region, sampledFrom(bounds, renderer.sampleRadius(context), whole)))
  return { passes, region }
}

const sampledFrom = (rect: Rect, by: number, whole: Rect): Rect => (by === Infinity ? whole : inflate(rect, by))

function drawPasses(passes: EffectPass[], scene: Scene, region: Rect, data: Float32Array, scratch: Scratch): void {
  for (let i = 0; i < passes.length;) {
    const { group, groupOpacity = 1 } = passes[i]!.effect
    let end = i + 1
    if (group) while (passes[end]?.effect.group === group) end++
    // A group is laid on as a whole: what was there before shows through all of it alike.
    const before = group && groupOpacity < 1 ? scratch.floats(slots.beforeTheGroup, data.length) : null
    before?.set(data)
    for (; i < end; i++) drawPass(passes[i]!, scene, region, data, scratch)
    if (before) scratch.kernels.mixInto(span(before), span(data), data.length, 1 - groupOpacity)
  }
}

/** Works one effect into the picture: on its own, or onto a layer or a copy that is then blended in where it counts. */
function drawPass(pass: EffectPass, scene: Scene, region: Rect, data: Float32Array, scratch: Scratch) {
  const { kind, renderer, context, moments, effect, bounds } = pass
  const { frame, scale, opacity, blend } = context
  if (kind.makes === 'own' && (blend === 'add' || blend === 'screen')) {
    const holdout = holdoutOf(scene, effect, frame, scale, region, scratch)
    return renderer.draw(context, { data, region, holdout })
  }
  const within = intersect(bounds, region)
  if (isEmpty(within)) return
  const picture = kind.makes === 'picture'
  // Also what a pixel at the rim looks at.
  const rect = picture ? intersect(region, sampledFrom(within, renderer.sampleRadius?.(context) ?? 0, region)) : within
  const layer = scratch.floats(slots.layer, rect.width * rect.height * 4, !picture)
  const draw = (moment: EffectContext) => {
    if (picture) copyRows(data, region, layer, rect, rect)
    renderer.draw(moment, { data: layer, region: rect, holdout: null, under: { data, region } })
  }
  if (moments.length === 1) draw(moments[0]!)
  else {
    const sum = scratch.floats(slots.moments, layer.length, true)
    for (const moment of moments) {
      if (!picture) layer.fill(0)
      draw(moment)
      scratch.kernels.addScaled(span(layer), span(sum), layer.length, 1 / moments.length)
    }
    layer.set(sum)
  }
  const mask = maskOf(pass, scene, within, scratch)
  for (let y = within.y; y < within.y + within.height; y++) {
    const from = 4 * ((y - rect.y) * rect.width + within.x - rect.x)
    const to = 4 * ((y - region.y) * region.width + within.x - region.x)
    const at = (y - within.y) * within.width
    // Its own light has its opacity in it.
    blendRow(
      blend,
      span(layer, from),
      span(data, to),
      within.width,
      { opacity: kind.makes === 'own' ? 1 : opacity, mask: mask && span(mask, at) },
      scratch.kernels,
    )
  }
}

/** Where an effect is seen over `rect`: its region and what does not cover it; null for everywhere. */
function maskOf(
  { kind, context, effect }: EffectPass,
  scene: Scene,
  rect: Rect,
  scratch: Scratch,
): Float32Array | null {
  const bounded = kind.region === 'bounds' && effect.region.of.length > 0
  const mask = bounded ? context.region(rect, slots.effectRegion) : null
  const holdout = holdoutOf(scene, effect, context.frame, context.scale, rect, scratch)
  if (!holdout) return mask
  const out = mask ?? scratch.floats(slots.effectRegion, rect.width * rect.height).fill(1)
  for (let i = 0; i < out.length; i++) out[i]! *= 1 - holdout[i]!
  return out
}

/** Pixels of `within` from a picture over `region` into one over `rect`. */
function copyRows(data: Float32Array, region: Rect, out: Float32Array, rect: Rect, within: Rect): void {
  for (let y = within.y; y < within.y + within.height; y++) {
    const from = 4 * ((y - region.y) * region.width + within.x - region.x)
    out.set(data.subarray(from, from + 4 * within.width), 4 * ((y - rect.y) * rect.width + within.x - rect.x))
  }
}

/** Another picture as working values, in a buffer of its own. */
function workingPicture(
  picture: Picture | null,
  need: PictureNeed,
  light: 'linear' | 'display',
  scratch: Scratch,
): Rgba | null {
  if (!picture) return null
  const { width, height } = picture
  const data = scratch.floats(slots.pictureOf.part(need.media), width * height * 4)
  decode(picture, { x: 0, y: 0, width, height }, data, light, scratch)
  // Light is premultiplied already.
  if (picture.alpha && !picture.light)
    for (let i = 0; i < width * height; i++) {
      const alpha = (picture.words[i]! >>> 24) / 255
      for (let c = 0; c < 4; c++) data[4 * i + c]! *= alpha
    }
  return { data, width, height }
}

/**
 * Lays the shot's effects onto `picture` in place. The picture is the plate at `scale`, or words of 0 for light
 * alone. Only the pixels that an effect reaches are taken to floats and back; all others stay as they are.
 * Returns that region, empty where nothing happens.
 */
export function renderFrame(
  scene: Scene,
  frame: number,
  scale: number,
  picture: Picture,
  scratch: Scratch,
  others: OtherPictures = noOthers,
): Rect {
  const { passes, region } = planFrame(
    scene,
    frame,
    { scale: scale, width: picture.width, height: picture.height },
    scratch,
    others,
  )
  if (isEmpty(region)) return region
  const data = scratch.floats(slots.working, region.width * region.height * 4)
  decode(picture, region, data, scene.light, scratch)
  drawPasses(passes, scene, region, data, scratch)
  encode(data, region, picture, scene.light, scratch)
  return region
}

/**
 * The frame as tightly packed I420 in limited-range BT.709 for a video file, cut to an even size. A plate that is
 * coded so already is converted only where light falls on it; everywhere else its bytes go through untouched.
 * `out` holds i420Layout(width & ~1, height & ~1).bytes of the upright picture.
 */
export function renderVideoFrame(
  scene: Scene,
  frame: number,
  yuv: Yuv,
  out: Uint8Array,
  scratch: Scratch,
  others: OtherPictures = noOthers,
): void {
  const upright = uprightSize(yuv)
  const [width, height] = [upright.width & ~1, upright.height & ~1]
  if (yuv.matrix !== 'bt709' || yuv.range !== 'limited' || yuv.rotation !== 0) {
    const picture = { words: scratch.words(slots.picture, upright.width * upright.height), ...upright }
    scratch.kernels.yuvToRgba(yuv, picture.words)
    renderFrame(scene, frame, 1, picture, scratch, others)
    return pictureToI420(picture, out)
  }
  copyI420(yuv, width, height, out)
  const { passes, region } = planFrame(scene, frame, { scale: 1, width: width, height: height }, scratch, others)
  if (isEmpty(region)) return
  const even = boundsOf([
    region.x & ~1,
    region.y & ~1,
    (region.x + region.width + 1) & ~1,
    (region.y + region.height + 1) & ~1,
  ])
  const data = scratch.floats(slots.working, even.width * even.height * 4)
  scratch.kernels.yuvToFloats(yuv, even, tables[scene.light].working, data)
  drawPasses(passes, scene, even, data, scratch)
  scratch.kernels.floatsToI420({ data, region: even }, tables[scene.light].back, { data: out, width, height })
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

/** A picture as large as it fits into another size, in its middle, on black; itself where it has that size. */
export function fittedPicture(picture: Picture, size: { width: number; height: number }, scratch: Scratch): Picture {
  if (picture.width === size.width && picture.height === size.height) return picture
  const data = scratch.floats(slots.toBeFitted, 4 * picture.width * picture.height)
  decode(picture, { x: 0, y: 0, width: picture.width, height: picture.height }, data, 'linear', scratch)
  const out: Picture = { words: scratch.words(slots.fittedWords, size.width * size.height), ...size }
  if (picture.light) out.light = scratch.floats(slots.fittedLight, 4 * size.width * size.height)
  const given = { data, width: picture.width, height: picture.height }
  encode(fitted(given, size, scratch), { x: 0, y: 0, ...size }, out, 'linear', scratch)
  return out
}

/** The scene with what is laid onto the picture, without what changes it: nothing of that is left without a plate. */
export const withoutPictureEffects = (scene: Scene): Scene => ({
  ...scene,
  effects: scene.effects.filter((effect) => effectKind(effect.kind).makes !== 'picture'),
})

/**
 * The shot's light alone on nothing, with straight alpha: laid over black it gives exactly the light that
 * {@link renderFrame} adds to black. Words of `picture` must be 0, and so its light, where it has some: that gets the largest of
 * its colours, 1 at the most, as its alpha.
 */
export function renderLightAlone(
  scene: Scene,
  frame: number,
  scale: number,
  picture: Picture,
  scratch: Scratch,
  others: OtherPictures = noOthers,
): void {
  const region = renderFrame(withoutPictureEffects(scene), frame, scale, picture, scratch, others)
  for (let y = region.y; y < region.y + region.height; y++) {
    for (let at = y * picture.width + region.x, end = at + region.width; at < end; at++) {
      const word = picture.words[at]!
      const [r, g, b] = [word & 255, (word >> 8) & 255, (word >> 16) & 255]
      const alpha = Math.max(r, g, b)
      const full = (v: number) => (alpha ? Math.round((v * 255) / alpha) : 0)
      picture.words[at] = ((alpha << 24) | (full(b) << 16) | (full(g) << 8) | full(r)) >>> 0
    }
  }
  const { light } = picture
  if (light)
    for (let i = 0; i < light.length; i += 4)
      light[i + 3] = Math.min(1, Math.max(light[i]!, light[i + 1]!, light[i + 2]!))
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
  const there = effect.behind.filter((id) => shapesOf(scene, id, frame).some((part) => part.points))
  return there.length
    ? coverOf(scene, there, { time: frame, scale: scale, rect: region }, scratch, slots.holdout)
    : null
}

const plain = Float32Array.from({ length: 256 }, (_, i) => i / 255)
const plainBack = Uint8Array.from({ length: encodeSteps + 1 }, (_, i) => Math.round((i / encodeSteps) * 255))
/** Encoded levels to working values and back, by how the project blends. */
const tables = {
  linear: { working: linearOf8Bit, back: encode8BitTable },
  display: { working: plain, back: plainBack },
}

/** Working values of a region of a picture. */
function decode(
  { words, light, width }: Picture,
  region: Rect,
  data: Float32Array,
  by: 'linear' | 'display',
  { kernels }: Scratch,
): void {
  for (let y = 0; y < region.height; y++) {
    const from = (region.y + y) * width + region.x
    const to = 4 * y * region.width
    if (!light) kernels.wordsToFloats(words, from, region.width, tables[by].working, data, to)
    else {
      const row = data.subarray(to, to + 4 * region.width)
      row.set(light.subarray(4 * from, 4 * (from + region.width)))
      if (by === 'display') throughAlpha(row, quickEncoded)
    }
  }
}

/** Working values of a region back into its picture. */
function encode(
  data: Float32Array,
  region: Rect,
  { words, light, width }: Picture,
  by: 'linear' | 'display',
  { kernels }: Scratch,
): void {
  for (let y = 0; y < region.height; y++) {
    const to = (region.y + y) * width + region.x
    const from = 4 * y * region.width
    kernels.floatsToWords(data, from, region.width, tables[by].back, words, to)
    if (!light) continue
    const row = light.subarray(4 * to, 4 * (to + region.width))
    row.set(data.subarray(from, from + 4 * region.width))
    if (by === 'display') throughAlpha(row, quickLinear)
  }
}

/** Takes premultiplied colours through a curve of what they are unmultiplied; light of nothing that covers as it is. */
function throughAlpha(row: Float32Array, curve: (v: number) => number): void {
  for (let i = 0; i < row.length; i += 4) {
    const alpha = row[i + 3]! || 1
    for (let c = i; c < i + 3; c++) row[c] = curve(row[c]! / alpha) * alpha
  }
}
