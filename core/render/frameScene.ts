import { inflate, type Rect } from '../geometry/rect.ts'
import type { Raster } from '../pixels/buffers/raster.ts'
import type { TracedPart } from '../shapes/traced.ts'
import type { Scene } from './scene.ts'

/** What all cards of a frame ask for and is found once: who lies where, and what they cover. */
export interface Found {
  time: number
  scale: number
  /** Pixels beyond which nobody looks for what is found once. */
  around: Rect
  /** By time and id, of any time: what trails looks back. */
  bounds: Map<string, Rect>
  covers: Map<string, { rect: Rect; matte: Float32Array }>
}
const known = new WeakMap<Scene, Found>()
/** Pixels at full size around a picture in which a softened region still looks for covers. */
const looksAround = 128

/** A scene for one drawing of one frame, at a scale and a size in pixels: shapes, bounds and covers of that frame are found once. */
export function sceneOfFrame(
  scene: Scene,
  time: number,
  scale: number,
  size: { width: number; height: number },
): Scene {
  const parts = new Map<string, TracedPart | null>()
  const members = new Map<string, TracedPart[]>()
  const own: Scene = {
    ...scene,
    partsOf: (member) => kept(members, member, () => scene.partsOf(member).map((part) => held(part, time))),
    part: (id) => kept(parts, id, () => held(scene.part(id), time)),
  }
  const around = inflate({ x: 0, y: 0, ...size }, Math.ceil(looksAround * scale))
  known.set(own, { time, scale, around, bounds: new Map(), covers: new Map() })
  return own
}

/** What is found once of a scene at a time and a scale; null where it is another frame's, or nobody's. */
export function foundIn(scene: Scene, time: number, scale: number): Found | null {
  const found = known.get(scene)
  return found?.time === time && found.scale === scale ? found : null
}

/** Where in a scene somebody lies at a scale, as far as it was found for a frame; null where nobody keeps it. */
export function boundsFound(scene: Scene, scale: number): Map<string, Rect> | null {
  const found = known.get(scene)
  return found?.scale === scale ? found.bounds : null
}

/** The part with its shape at one time read once. */
function held<T extends TracedPart | null>(part: T, time: number): T {
  if (!part) return part
  let shape: readonly number[] | null | undefined
  let pixels: Raster | null | undefined
  const at = (t: number) => (t !== time ? part.at(t) : shape === undefined ? (shape = part.at(t)) : shape)
  const raster = (t: number) =>
    t !== time ? part.raster!(t) : pixels === undefined ? (pixels = part.raster!(t)) : pixels
  return { ...part, at, ...(part.raster ? { raster } : {}) }
}

function kept<T>(all: Map<string, T>, id: string, find: () => T): T {
  if (!all.has(id)) all.set(id, find())
  return all.get(id)!
}
