import { effectKind } from '../effects/catalogue.ts'
import type { EffectContext, EffectKind, PictureNeed } from '../effects/effect.ts'
import { rendererFor } from '../effects/renderers.ts'
import { worksBehind } from '../effects/shared/behind.ts'
import { wherever } from '../effects/shared/place.ts'
import { boundsOf, intersect, isEmpty, noRect, type Rect, unite } from '../geometry/rect.ts'
import { opacityParameter } from '../parameters/opacity.ts'
import type { Settings } from '../parameters/parameters.ts'
import { numberAt, settingsAt } from '../parameters/values.ts'
import type { Rgba } from '../pixels/buffers/picture.ts'
import { type Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { span } from '../pixels/kernels/interface.ts'
import { copyI420, uprightSize, type Yuv } from '../pixels/buffers/yuv.ts'
import { linearColour, toEncoded } from '../pixels/colour/transfer.ts'
import { presence } from '../records/presence.ts'
import { clipPlace } from '../records/timing.ts'
import { type Effect, shotLength } from '../records/types.ts'
import type { TracedPart } from '../shapes/traced.ts'
import { sceneOfFrame } from './frameScene.ts'
import { type GraphicsCard, layPasses } from './graphics.ts'
import { drawPasses, type EffectPass, noLap, reachedBehind, sampledFrom } from './passes.ts'
import {
  copyOf,
  decode,
  encode,
  type OtherPictures,
  type Picture,
  pictureToI420,
  tables,
  workingPart,
  workingPicture,
} from './picture.ts'
import { regionBounds, regionMatte } from './region.ts'
import type { Scene } from './scene.ts'
import { plateAt, takeOut } from './surroundings.ts'

const slots = {
  next: new Slot(),
  made: new Slot(),
  keptMatte: new Slot(),
  working: new Slot(),
  picture: new Slot(),
}

const noOthers: OtherPictures = () => null

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

/** Every other picture that a frame is made from, each once, with the clean plate; in place of the next shot what that is made from. */
export function picturesNeeded(scene: Scene, frame: number): PictureNeed[] {
  const needs = scene.effects.flatMap((effect) => {
    const { renderer, opacity, settings } = effectAt(scene, effect, frame)
    const own = opacity > 0 ? (renderer.needs?.(settings, frame, shotLength(scene.shot), scene.rateOf) ?? []) : []
    return own.flatMap(({ made, without, ...need }) => {
      if (!made) return need
      const at = shotFrame(scene, need.frame)
      const plate = without && plateAt(scene, at)
      return [
        { ...need, frame: at },
        ...(plate ? [{ media: plate.media, frame: 0, scaled: true }] : []),
        ...picturesNeeded(before(scene, effect), at),
      ]
    })
  })
  const plate = plateAt(scene, frame)
  if (plate) needs.push({ media: plate.media, frame: 0, scaled: true })
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
  (frame: number): PictureNeed => ({ media: media.id, ...clipPlace(shot, frame), scaled: true })

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
      cardsThere: (name) =>
        scene.cards
          .filter((one) => one.kind === name && one.target === target)
          .map((one) => effectAt(scene, one, time)),
      sizeOf: others,
      rateOf: scene.rateOf,
      joined: scene.next(frame) !== null,
      picture(need) {
        if (need.made) {
          const made = madePicture(scene, effect, need.frame, scale, scratch, others)
          const picture = workingPicture(made, { ...need, media: 'made' }, scene.light, scratch)
          if (!picture || !need.without) return picture
          const area = { data: picture.data, region: { x: 0, y: 0, width: picture.width, height: picture.height } }
          const time = shotFrame(scene, need.frame)
          takeOut(scene, worksBehind(kind, effect, time), { time, scale }, area, scratch, others)
          return picture
        }
        if (need.media !== 'next') return workingPicture(others(need), need, scene.light, scratch)
        next ??= scratch.lasting(() => ({
          made: workingPicture(nextPicture(scene, frame, scale, scratch, others), need, scene.light, scratch),
        }))
        return next.made
      },
      eachRow(need, region, show) {
        const hides = need.without && worksBehind(kind, effect, shotFrame(scene, need.frame)).length > 0
        if (hides || need.media === 'next') {
          const picture = this.picture(need)
          for (let y = 0; picture && y < region.height; y++)
            show(span(picture.data, 4 * ((region.y + y) * picture.width + region.x)), y)
          return picture !== null
        }
        const picture = need.made ? madePicture(scene, effect, need.frame, scale, scratch, others) : others(need)
        for (let y = 0; picture && y < region.height; y++) {
          const part = { ...region, y: region.y + y, height: 1 }
          show(span(workingPart(picture, part, need, scene.light, scratch)), y)
        }
        return picture !== null
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
      const view = { time, scale, rect }
      matte = scratch.lasting(() => regionMatte(scene, region, view, scratch, slots.keptMatte.part(kept.size)))
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
  for (const pass of passes) {
    const { renderer, context, bounds } = pass
    const sampled = renderer.sampleRadius ? sampledFrom(bounds, renderer.sampleRadius(context), whole) : noRect
    region = intersect(whole, unite(region, unite(sampled, reachedBehind(pass, scene))))
  }
  return { passes, region }
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
  const own = sceneOfFrame(scene, frame, scale, picture)
  const { passes, region } = planFrame(
    own,
    frame,
    { scale, width: picture.width, height: picture.height },
    scratch,
    others,
  )
  if (isEmpty(region)) return region
  const data = scratch.floats(slots.working, region.width * region.height * 4)
  decode(picture, region, data, scene.light, scratch)
  drawPasses(passes, own, region, data, scratch, others)
  encode(data, region, picture, scene.light, scratch)
  return region
}

/**
 * Hands `lay` what a graphics card lays onto the plate at `scale`, in its order; the same as {@link renderFrame}. What a pass holds is
 * the scratch's, until the next one. Returns the pixels that change, or null where the core has to draw the frame: then nothing was handed over.
 */
export function layFrame(
  scene: Scene,
  frame: number,
  scale: number,
  size: { width: number; height: number },
  card: GraphicsCard,
  scratch: Scratch,
  others: OtherPictures = noOthers,
): Rect | null {
  const own = sceneOfFrame(scene, frame, scale, size)
  const { passes, region } = planFrame(own, frame, { scale, ...size }, scratch, others)
  return layPasses(passes, own, card, scratch) ? region : null
}

/**
 * The frame as tightly packed I420 in limited-range BT.709 for a video file, cut to an even size. A plate that is
 * coded so already is converted only where light falls on it; everywhere else its bytes go through untouched.
 * `out` holds i420Layout(width & ~1, height & ~1).bytes of the upright picture. `lap` is told each stage of a plate that is coded so.
 */
export function renderVideoFrame(
  scene: Scene,
  frame: number,
  yuv: Yuv,
  out: Uint8Array,
  scratch: Scratch,
  others: OtherPictures = noOthers,
  lap = noLap,
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
  lap('copied')
  const own = sceneOfFrame(scene, frame, 1, { width, height })
  const { passes, region } = planFrame(own, frame, { scale: 1, width, height }, scratch, others)
  if (isEmpty(region)) return
  const even = boundsOf([
    region.x & ~1,
    region.y & ~1,
    (region.x + region.width + 1) & ~1,
    (region.y + region.height + 1) & ~1,
  ])
  lap('planned')
  const data = scratch.floats(slots.working, even.width * even.height * 4)
  scratch.kernels.yuvToFloats(yuv, even, tables[scene.light].working, data)
  lap('to light')
  drawPasses(passes, own, even, data, scratch, others, lap)
  scratch.kernels.floatsToI420({ data, region: even }, tables[scene.light].back, { data: out, width, height })
  lap('back to video')
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
