import type { EffectContext, EffectKind, Renderer } from '../effects/effect.ts'
import { worksBehind } from '../effects/shared/behind.ts'
import { presence } from '../records/presence.ts'
import { inflate, intersect, isEmpty, noRect, type Rect } from '../geometry/rect.ts'
import { copyArea } from '../pixels/buffers/picture.ts'
import { type Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { blendRow } from '../pixels/colour/blend.ts'
import { type Span, span } from '../pixels/kernels/interface.ts'
import type { Effect } from '../records/types.ts'
import type { OtherPictures } from './picture.ts'
import { boundsOfCover, coverOf, shapesOf } from './region.ts'
import type { Scene } from './scene.ts'
import { type Seen, seenBehind } from './softEdge.ts'
import { holeBounds, takeOut } from './surroundings.ts'

const slots = {
  beforeTheGroup: new Slot(),
  plate: new Slot(),
  wide: new Slot(),
  cover: new Slot(),
  line: new Slot(),
  seen: new Slot(),
  seenLayer: new Slot(),
  seenLine: new Slot(),
  layer: new Slot(),
  moments: new Slot(),
  effectRegion: new Slot(),
  holdout: new Slot(),
}

/** One effect at work on a frame. */
export interface EffectPass {
  kind: EffectKind
  renderer: Renderer
  context: EffectContext
  /** The moments within its shutter, the frame's own alone where nothing is smeared. */
  moments: EffectContext[]
  effect: Effect
  /** Pixels that it may change. */
  bounds: Rect
}
/** Is called when a stage of a frame is done, by its name: whoever measures keeps the clock. */
export type Lap = (stage: string) => void
export const noLap: Lap = () => {}

/** What is looked at from a rectangle by so many pixels around; everything for Infinity. */
export const sampledFrom = (rect: Rect, by: number, whole: Rect): Rect => (by === Infinity ? whole : inflate(rect, by))

/** A picture that effects are worked into: the frame, or the frame without some who are hidden from effects. */
interface Canvas {
  data: Float32Array
  /** Members and parts that were taken out of it; nobody from the frame itself. */
  without: readonly string[]
  /** What is behind them as the frame shows it along their soft edge; null where that is no longer known. */
  seen: Seen | null
}

/** Whom an effect works behind on its frame: who is there of those. */
export function hiddenFrom({ kind, context, effect }: EffectPass, scene: Scene): string[] {
  const { frame, scale } = context
  return worksBehind(kind, effect, frame).filter((id) => !isEmpty(boundsOfCover(scene, [id], frame, scale)))
}

const isAmong = (some: readonly string[], all: readonly string[]): boolean => some.every((id) => all.includes(id))

/** Pixels that have to be there for an effect to be worked in behind somebody. */
export const reachedBehind = (pass: EffectPass, scene: Scene): Rect => {
  const hidden = hiddenFrom(pass, scene)
  return hidden.length ? holeBounds(scene, hidden, pass.context.frame, pass.context.scale) : noRect
}

/** Works effects into a picture over `region`, in their order. */
export function drawPasses(
  passes: EffectPass[],
  scene: Scene,
  region: Rect,
  data: Float32Array,
  scratch: Scratch,
  others: OtherPictures,
  lap = noLap,
): void {
  const frame: Canvas = { data, without: [], seen: null }
  const hidden = passes.map((pass) => hiddenFrom(pass, scene))
  /** The frame without some, as long as effects work on it. */
  const plates: { canvas: Canvas; last: number }[] = []
  hidden.forEach((without, i) => {
    if (!without.length) return
    const known = plates.find(({ canvas }) => sameIds(canvas.without, without))
    if (known) return void (known.last = i)
    const plate = scratch.floats(slots.plate.part(plates.length), data.length)
    plate.set(data)
    const { context } = passes[i]!
    const view = { time: context.frame, scale: context.scale }
    scratch.passing(() => takeOut(scene, without, view, { data: plate, region }, scratch, others))
    const seen = seenBehind(scene, without, view, { data, region }, plate, scratch, slots.seen.part(plates.length))
    plates.push({ canvas: { data: plate, without, seen }, last: i })
    lap('the performer taken out')
  })
  for (let i = 0; i < passes.length;) {
    const { group, groupOpacity = 1 } = passes[i]!.effect
    let end = i + 1
    if (group) while (passes[end]?.effect.group === group) end++
    const canvases = [frame, ...plates.filter(({ last }) => last >= i).map(({ canvas }) => canvas)]
    // A group is laid on as a whole: what was there before shows through all of it alike.
    const before = group && groupOpacity < 1 ? canvases.map((one, k) => copyOf(one.data, k, scratch)) : null
    for (; i < end; i++) {
      const pass = passes[i]!
      const own = plates.find(({ canvas }) => sameIds(canvas.without, hidden[i]!))
      scratch.passing(() => {
        const drawn = layers(pass, region, scratch)
        for (const canvas of canvases) {
          if (canvas === own?.canvas || worksOnlyOn(pass, canvas)) continue
          if (canvas === frame && own) drawBehind(pass, drawn, scene, region, frame, own.canvas, own.last > i, scratch)
          else drawPass(pass, drawn, scene, region, canvas, scratch)
        }
        for (const canvas of canvases) if (canvas !== own?.canvas) drawSeen(pass, drawn, scene, canvas, scratch)
      })
      lap(pass.kind.title)
    }
    before?.forEach((one, k) => {
      scratch.kernels.mixInto(span(one), span(canvases[k]!.data), data.length, 1 - groupOpacity)
      canvases[k]!.seen = null
    })
  }
}

const sameIds = (one: readonly string[], other: readonly string[]): boolean =>
  one.length === other.length && isAmong(one, other)

function copyOf(data: Float32Array, k: number, scratch: Scratch): Float32Array {
  const copy = scratch.floats(slots.beforeTheGroup.part(k), data.length)
  copy.set(data)
  return copy
}

/** Whether an effect changes nobody but who was taken out of a picture. */
const worksOnlyOn = ({ kind, effect: { region } }: EffectPass, { without }: Canvas): boolean =>
  kind.makes === 'picture' && region.of.length > 0 && region.side !== 'outside' && isAmong(region.of, without)

/** Works an effect into what is seen behind some, too; what looks around leaves that unknown. */
function drawSeen(pass: EffectPass, layerOn: LayerOn, scene: Scene, canvas: Canvas, scratch: Scratch): void {
  const { seen, without } = canvas
  if (!seen || isEmpty(intersect(pass.bounds, seen.region)) || worksOnlyOn(pass, canvas)) return
  const { kind, renderer, context } = pass
  const pixelwise = kind.makes === 'picture' && !renderer.sampleRadius?.(context)
  if (looksAt(pass) && !pixelwise) canvas.seen = null
  else {
    const own = pixelwise ? layers(pass, seen.region, scratch) : layerOn
    drawPass(pass, own, scene, seen.region, { data: seen.data, without, seen: null }, scratch)
  }
}

/** Works one effect into a picture: on its own, or onto a layer or a copy that is then blended in where it counts. */
function drawPass(
  pass: EffectPass,
  layerOn: LayerOn,
  scene: Scene,
  region: Rect,
  { data, without }: Canvas,
  scratch: Scratch,
): void {
  const { kind, renderer, context, effect } = pass
  const { frame, scale, blend } = context
  if (kind.makes === 'own' && (blend === 'add' || blend === 'screen')) {
    const holdout = holdoutOf(scene, effect, frame, scale, region, without, scratch)
    return renderer.draw(context, { data, region, holdout })
  }
  if (worksInPlace(pass, region))
    return renderer.draw(context, { data, region, holdout: null, under: { data, region } })
  const drawn = layerOn(data)
  if (!drawn) return
  const { layer, rect } = drawn
  const within = intersect(drawn.within, region)
  const mask = maskOf(pass, scene, within, without, scratch)
  for (let y = within.y; y < within.y + within.height; y++) {
    const from = 4 * ((y - rect.y) * rect.width + within.x - rect.x)
    const to = 4 * ((y - region.y) * region.width + within.x - region.x)
    const at = (y - within.y) * within.width
    layOn(pass, span(layer, from), span(data, to), within.width, mask && span(mask, at), scratch)
  }
}

/** Whether an effect changes all of the region pixel by pixel, fully and everywhere: then no copy has to be laid on. */
function worksInPlace({ kind, renderer, context, moments, effect, bounds }: EffectPass, region: Rect): boolean {
  const pixelwise = kind.makes === 'picture' && renderer.sampleRadius?.(context) === 0
  const all = context.blend === 'normal' && context.opacity === 1 && !effect.region.of.length && !effect.behind.length
  const whole = intersect(bounds, region)
  return pixelwise && all && moments.length === 1 && whole.width === region.width && whole.height === region.height
}

/** Lays a row of an effect's layer on. */
function layOn(
  { kind, context }: EffectPass,
  layer: Span,
  under: Span,
  count: number,
  mask: Span | null,
  scratch: Scratch,
) {
  // Its own light has its opacity in it.
  const opacity = kind.makes === 'own' ? 1 : context.opacity
  blendRow(context.blend, layer, under, count, { opacity, mask }, scratch.kernels)
}

/**
 * Works one effect into the frame and into the picture without those whom it works behind. With I the frame, a the matte,
 * F and B the colours in front and behind, I = a F + (1 - a) B; with B turned into R, it becomes I + (1 - a) (R - B),
 * which is a F + (1 - a) R: nothing of the old surroundings is left along the edge, and F need not be known. `again`: whether other
 * effects work on the picture without them afterwards.
 */
function drawBehind(
  pass: EffectPass,
  layerOn: LayerOn,
  scene: Scene,
  region: Rect,
  frame: Canvas,
  plate: Canvas,
  again: boolean,
  scratch: Scratch,
): void {
  const drawn = layerOn(plate.data)
  if (!drawn) return
  const { layer, rect, within } = drawn
  const mask = maskOf(pass, scene, within, [], scratch)
  const wide = again ? copyOfMask(mask, scratch) : mask
  const open = again ? maskOf(pass, scene, within, plate.without, scratch) : null
  const { context, effect, kind } = pass
  const moved = effect.region.side === 'outside' && (effect.region.grow !== 0 || effect.region.soften !== 0)
  const view = { time: context.frame, scale: context.scale, rect: within }
  const cover = moved ? coverOf(scene, plate.without, view, scratch, slots.cover) : null
  const hole = intersect(holeBounds(scene, plate.without, context.frame, context.scale), within)
  const alongEdge =
    plate.seen && !isEmpty(hole) ? seenStretches(pass, plate.seen, plate.data, drawn, region, hole, scratch) : null
  const { kernels } = scratch
  const line = span(scratch.floats(slots.line, 4 * within.width))
  // Its own light has its opacity in it.
  const opacity = kind.makes === 'own' ? 1 : context.opacity
  for (let y = within.y; y < within.y + within.height; y++) {
    const from = 4 * ((y - rect.y) * rect.width + within.x - rect.x)
    const to = 4 * ((y - region.y) * region.width + within.x - region.x)
    const at = (y - within.y) * within.width
    const plain = (x: number, count: number): Stretch => ({
      ...{ x, count, layer: span(layer, from + 4 * x), under: span(plate.data, to + 4 * x) },
    })
    /** What the effect changes behind them, into the line. */
    const takeChange = ({ layer, under, count }: Stretch) => {
      line.data.set(under.data.subarray(under.at, under.at + 4 * count))
      blendRow(context.blend, layer, line, count, { opacity, mask: null }, kernels)
      kernels.addScaled(under, line, 4 * count, -1)
    }
    /** Adds that to a picture where a mask says. */
    const change = (onto: Span, mask: Float32Array | null, stretch: Stretch) => {
      const { x, count, layer, under } = stretch
      const there = mask && span(mask, at + x)
      if (context.blend === 'normal') return kernels.changeRow(layer, under, onto, count, opacity, there)
      takeChange(stretch)
      kernels.layRow(false, line, onto, count, 1, there)
    }
    const inHole = !isEmpty(hole) && y >= hole.y && y < hole.y + hole.height
    const skip = hole.x - within.x
    const rest = skip + hole.width
    const front = inHole ? (alongEdge?.(y) ?? plain(skip, hole.width)) : null
    // Beside the hole nobody is in front.
    const stretches = front ? [plain(0, skip), front, plain(rest, within.width - rest)] : [plain(0, within.width)]
    for (const stretch of stretches) {
      const onto = span(frame.data, to + 4 * stretch.x)
      if (cover && stretch === front) {
        const { x, count, under } = stretch
        takeChange(stretch)
        kernels.changeOver(onto, under, line, wide && span(wide, at + x), span(cover, at + x), count)
      } else if (stretch.count > 0) change(onto, wide, stretch)
      if (stretch !== front) continue
      // Only where the frame and what is behind differ can it have become less than nothing.
      for (let i = onto.at, end = i + 4 * stretch.count; i < end; i++) if (frame.data[i]! < 0) frame.data[i] = 0
    }
    if (!again) continue
    if (front && plate.seen) change(span(plate.seen.data, placeIn(plate.seen.region, hole.x, y)), open, front)
    change(span(plate.data, to), open, plain(0, within.width))
  }
}

/** Pixels of a row, what an effect makes of them, and of what: of a picture without some, or of what is seen of it. */
interface Stretch {
  /** From the first pixel on that the effect may change. */
  x: number
  count: number
  layer: Span
  under: Span
}

const placeIn = (region: Rect, x: number, y: number): number => 4 * ((y - region.y) * region.width + x - region.x)

/** Pixels from how far away an effect takes what it shows until nothing of the place itself is left in it. */
const farAway = 8

/**
 * What an effect makes of what is seen along a soft edge, by rows of the hole. What works pixel by pixel, or is laid on, works on that. What
 * looks around works on the picture without them, which nobody's rim is left in, and takes the place of what is seen.
 */
function seenStretches(
  pass: EffectPass,
  seen: Seen,
  plate: Float32Array,
  { layer, rect, within }: Layer,
  region: Rect,
  hole: Rect,
  scratch: Scratch,
): (y: number) => Stretch {
  const { kind, renderer, context } = pass
  const place = { x: hole.x - within.x, count: hole.width }
  const radius = kind.makes === 'picture' ? (renderer.sampleRadius?.(context) ?? 0) : null
  if (!radius) {
    const own =
      radius === null ? { layer, rect } : drawLayer(pass, seen.region, seen.data, true, scratch.inner(slots.seenLayer))!
    return (y) => ({
      ...{ ...place, layer: span(own.layer, placeIn(own.rect, hole.x, y)) },
      under: span(seen.data, placeIn(seen.region, hole.x, y)),
    })
  }
  const line = span(scratch.floats(slots.seenLine, 4 * hole.width))
  const replaces = Math.max(0, Math.min(1, (radius / context.scale - farAway / 2) / farAway))
  return (y) => {
    const at = placeIn(region, hole.x, y)
    const made = placeIn(rect, hole.x, y)
    const known = placeIn(seen.region, hole.x, y)
    line.data.set(plate.subarray(at, at + 4 * hole.width))
    for (let x = 0; x < hole.width; x++) {
      const share = replaces * seen.replaced[known / 4 + x]!
      // What is left alone stays as it is.
      if (share === 0 || isSamePixel(layer, made + 4 * x, plate, at + 4 * x)) continue
      for (let c = 4 * x; c < 4 * x + 3; c++) line.data[c]! += (seen.data[known + c]! - line.data[c]!) * share
    }
    return { ...place, layer: span(layer, made), under: line }
  }
}

const isSamePixel = (one: Float32Array, i: number, other: Float32Array, k: number): boolean =>
  one[i] === other[k] && one[i + 1] === other[k + 1] && one[i + 2] === other[k + 2]

/** The mask in a buffer of its own: the next one that is asked for is made in the same place. */
function copyOfMask(mask: Float32Array | null, scratch: Scratch): Float32Array | null {
  if (!mask) return null
  const copy = scratch.floats(slots.wide, mask.length)
  copy.set(mask)
  return copy
}

/** What an effect makes of a picture, over `rect`; it may change the pixels `within`. */
interface Layer {
  layer: Float32Array
  rect: Rect
  within: Rect
}
/** What an effect makes of a picture over the region, until the next effect is drawn. Null where it changes nothing. */
type LayerOn = (data: Float32Array) => Layer | null

/** Whether an effect looks at the picture that it works on. */
export const looksAt = ({ kind, renderer, context }: EffectPass): boolean =>
  kind.makes === 'picture' || Boolean(renderer.seesPicture?.(context))

/** What an effect makes of each of several pictures: of all of them the same where it does not look at them. */
function layers(pass: EffectPass, region: Rect, scratch: Scratch): LayerOn {
  if (looksAt(pass)) return (data) => drawLayer(pass, region, data, true, scratch)
  let made: Layer | null | undefined
  return (data) => (made === undefined ? (made = drawLayer(pass, region, data, false, scratch)) : made)
}

/** What an effect makes of a picture over the region, on a copy or on nothing; until the next is drawn. Null where it changes nothing. */
export function drawLayer(
  { kind, renderer, context, moments, bounds }: EffectPass,
  region: Rect,
  data: Float32Array,
  sees: boolean,
  scratch: Scratch,
): Layer | null {
  const within = intersect(bounds, region)
  if (isEmpty(within)) return null
  const picture = kind.makes === 'picture'
  // Also what a pixel at the rim looks at.
  const rect = picture ? intersect(region, sampledFrom(within, renderer.sampleRadius?.(context) ?? 0, region)) : within
  const layer = scratch.floats(slots.layer, rect.width * rect.height * 4, !picture)
  const draw = (moment: EffectContext) => {
    if (picture && !renderer.redraws) copyArea({ data, region }, { data: layer, region: rect })
    renderer.draw(moment, { data: layer, region: rect, holdout: null, ...(sees ? { under: { data, region } } : {}) })
  }
  draw(moments[0]!)
  if (moments.length === 1) return { layer, rect, within }
  const mean = scratch.floats(slots.moments, layer.length)
  mean.set(layer)
  for (let k = 1; k < moments.length; k++) {
    if (!picture) layer.fill(0)
    draw(moments[k]!)
    scratch.kernels.mixInto(span(layer), span(mean), layer.length, 1 / (k + 1))
  }
  return { layer: mean, rect, within }
}

/**
 * Where an effect is seen over `rect` in a picture without some: its region and what does not cover it; null for everywhere.
 */
export function maskOf(
  { kind, context, effect }: EffectPass,
  scene: Scene,
  rect: Rect,
  without: readonly string[],
  scratch: Scratch,
): Float32Array | null {
  const { region } = effect
  const all = !region.of.length || (region.side === 'outside' && isAmong(region.of, without))
  const mask = kind.region === 'bounds' && !all ? context.region(rect, slots.effectRegion) : null
  const holdout = holdoutOf(scene, effect, context.frame, context.scale, rect, without, scratch)
  if (!holdout) return mask
  const out = mask ?? scratch.floats(slots.effectRegion, rect.width * rect.height).fill(1)
  for (let i = 0; i < out.length; i++) out[i]! *= 1 - holdout[i]!
  return out
}

/** What covers the effect in a picture without some, over the region: its holdouts together. Null where none is there. */
export function holdoutOf(
  scene: Scene,
  effect: Effect,
  frame: number,
  scale: number,
  region: Rect,
  without: readonly string[],
  scratch: Scratch,
): Float32Array | null {
  const share = presence(effect.behindRange, frame)
  const there = effect.behind.filter(
    (id) => share > 0 && !without.includes(id) && shapesOf(scene, id, frame).some((part) => part.points),
  )
  if (!there.length) return null
  const cover = coverOf(scene, there, { time: frame, scale: scale, rect: region }, scratch, slots.holdout)
  if (share < 1) for (let i = 0; i < cover.length; i++) cover[i]! *= share
  return cover
}
