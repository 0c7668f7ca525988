/// <reference lib="webworker" />
import type { Yuv } from '#core/pixels/buffers/yuv.ts'
import type { Box, Detected, PersonMask, Sought } from '#core/suggesting/detected.ts'
import { say } from '#core/say.ts'

/*
 * Runs one of the learned detectors. They are scripts that expect to be loaded by name into a classic worker, so this file
 * imports nothing but types and speaks in plain messages: a question with its number in, the answer with the same number out.
 */

export interface DetectQuestion {
  id: number
  what: Sought
  /** Width of the upright plate in pixels. */
  width: number
  height: number
  frame: Yuv
  /** The part of the picture that is looked at: what is found is told in pixels from its corner. Null for all of it. */
  box: Box | null
}
export type DetectAnswer = { id: number; found: Detected[] } | { id: number; error: string }

interface Landmark {
  x: number
  y: number
  visibility?: number
}
interface Results {
  multiFaceLandmarks?: Landmark[][]
  multiHandLandmarks?: Landmark[][]
  multiHandedness?: { score: number }[]
  poseLandmarks?: Landmark[]
  segmentationMask?: CanvasImageSource
}
interface Detector {
  initialize(): Promise<void>
  setOptions(options: Record<string, unknown>): void
  onResults(listener: (results: Results) => void): void
  reset(): void
  send(input: { image: OffscreenCanvas }): Promise<void>
}
type DetectorClass = new (config: { locateFile(name: string): string }) => Detector

const scope = self as unknown as DedicatedWorkerGlobalScope & Record<string, unknown>
/** A script element: put into the page it loads what its source names. */
class ScriptElement {
  private source = ''
  private readonly listeners = new Map<string, () => void>()
  setAttribute(name: string, value: string): void {
    if (name === 'src') this.source = value
  }
  addEventListener(name: string, listener: () => void): void {
    this.listeners.set(name, listener)
  }
  load(): void {
    scope.importScripts(this.source)
    this.listeners.get('load')?.()
  }
}
// The scripts believe to be on a page: of it they take canvases, and further scripts that they put into it.
scope.window = scope
scope.document = {
  createElement: (name: string) => (name === 'canvas' ? new OffscreenCanvas(1, 1) : new ScriptElement()),
  addEventListener() {},
  body: { appendChild: (script: ScriptElement) => script.load() },
}

/** Longer side of the picture that a detector gets, in pixels. */
const side = 512

const kinds: Record<Sought, { folder: string; class: string; options: Record<string, unknown> }> = {
  faces: { folder: 'face_mesh', class: 'FaceMesh', options: { maxNumFaces: 6, refineLandmarks: true } },
  hands: {
    folder: 'hands',
    class: 'Hands',
    options: { maxNumHands: 6, modelComplexity: 1, minDetectionConfidence: 0.3, minTrackingConfidence: 0.3 },
  },
  people: {
    folder: 'pose',
    class: 'Pose',
    options: {
      ...{ modelComplexity: 1, enableSegmentation: true, smoothLandmarks: false, smoothSegmentation: false },
      ...{ minDetectionConfidence: 0.3, minTrackingConfidence: 0.3 },
    },
  },
}

let started: Promise<Detector> | null = null
let results: Results = {}

async function start(what: Sought): Promise<Detector> {
  const { folder, class: name, options } = kinds[what]
  const address = (file: string) => `/api/detectors/${folder}/${file}`
  scope.importScripts(address(`${folder}.js`))
  const detector = new (scope[name] as DetectorClass)({ locateFile: address })
  detector.setOptions({ ...options, selfieMode: false, useCpuInference: true })
  detector.onResults((one) => (results = one))
  await detector.initialize()
  return detector
}

scope.onmessage = async ({ data }: MessageEvent<DetectQuestion>) => {
  const { id, what, frame } = data
  try {
    const detector = await (started ??= start(what))
    const [left, top, right, bottom] = data.box ?? [0, 0, data.width, data.height]
    const size = { width: right - left, height: bottom - top }
    const small = await reduced(frame, data, [left, top, right, bottom])
    const first = await look(detector, small)
    const more = { faces, people, hands: async () => fromResults(first, what, size) }[what]
    const found = await more(first, detector, small, size)
    scope.postMessage({ id, found } satisfies DetectAnswer)
  } catch (error) {
    started = null
    const why = error instanceof Error ? error.message : String(error)
    scope.postMessage({
      id,
      error: say`The detector for ${what} could not be run here (${why.slice(0, 120)}). Trace by hand; everything else works without it.`,
    } satisfies DetectAnswer)
  }
}

/** Each frame is looked at for itself: nothing of the one before is taken over. */
async function look(detector: Detector, image: OffscreenCanvas): Promise<Results> {
  detector.reset()
  results = {}
  await detector.send({ image })
  return results
}

/** A part of the frame upright, its longer side at most {@link side} pixels. */
async function reduced(
  frame: Yuv,
  upright: { width: number; height: number },
  [left, top, right, bottom]: Box,
): Promise<OffscreenCanvas> {
  const scale = Math.min(1, side / Math.max(right - left, bottom - top))
  const out = new OffscreenCanvas(
    Math.max(1, Math.round((right - left) * scale)),
    Math.max(1, Math.round((bottom - top) * scale)),
  )
  const context = out.getContext('2d')!
  context.imageSmoothingQuality = 'high'
  context.translate((upright.width / 2 - left) * scale, (upright.height / 2 - top) * scale)
  context.rotate((frame.rotation * Math.PI) / 180)
  const [width, height] = [frame.width * scale, frame.height * scale]
  const picture = await imageOf(frame)
  context.drawImage(picture, -width / 2, -height / 2, width, height)
  picture.close()
  return out
}

async function imageOf({ data, width, height, planes, rgba, range }: Yuv): Promise<VideoFrame | ImageBitmap> {
  if (rgba) return createImageBitmap(new ImageData(new Uint8ClampedArray(rgba), width, height))
  return new VideoFrame(data as Uint8Array<ArrayBuffer>, {
    ...{ format: 'I420', codedWidth: width, codedHeight: height, timestamp: 0 },
    layout: planes.map(({ offset, stride }) => ({ offset, stride })),
    colorSpace: { matrix: 'bt709', primaries: 'bt709', transfer: 'bt709', fullRange: range === 'full' },
  })
}

/**
 * Faces come without a confidence. The picture is looked at once more mirrored: how far the eyes lie apart in both says
 * how sure they are. 1 where they agree, a half where they are off by a sixth of the distance between the eyes.
 */
async function faces(
  first: Results,
  detector: Detector,
  image: OffscreenCanvas,
  size: { width: number; height: number },
): Promise<Detected[]> {
  const found = fromResults(first, 'faces', size)
  if (found.length === 0) return found
  const turned = new OffscreenCanvas(image.width, image.height)
  const context = turned.getContext('2d')!
  context.translate(image.width, 0)
  context.scale(-1, 1)
  context.drawImage(image, 0, 0)
  const mirrored = fromResults(await look(detector, turned), 'faces', size)
  return found.map((one) => {
    const [own, distance] = eyesOf(one)
    let off = Infinity
    for (const other of mirrored) {
      // Left and right change places.
      const [[ax, ay, bx, by]] = eyesOf(other)
      const away = (x: number, y: number, i: number) => Math.hypot(size.width - x - own[i]!, y - own[i + 1]!)
      off = Math.min(off, (away(bx!, by!, 0) + away(ax!, ay!, 2)) / 2)
    }
    return { ...one, confidence: Math.exp((-Math.LN2 * 6 * off) / distance) }
  })
}

/** People that are found on a frame at most, and how sure each of them must be. */
const mostPeople = 6
const surePerson = 0.5
/** Share of one that may lie on others, and how large one must be against the first: reflections look like people, too. */
const mostShared = 0.5
const leastSize = 0.04
/** How much two boxes of the same person have in common, of what both cover. */
const sameBox = 0.55

/** The detector sees one person: each is hidden, and the picture looked at again, until nobody else is found. */
async function people(
  first: Results,
  detector: Detector,
  image: OffscreenCanvas,
  size: { width: number; height: number },
): Promise<Detected[]> {
  const found = fromResults(first, 'people', size)
  const left = new OffscreenCanvas(image.width, image.height)
  left.getContext('2d')!.drawImage(image, 0, 0)
  for (let last = found[0]; last?.mask && found.length < mostPeople; last = found.at(-1)) {
    hide(left, last.mask)
    const [next] = fromResults(await look(detector, left), 'people', size)
    if (!next?.mask || next.confidence < surePerson || sizeOf(next.mask) < leastSize * sizeOf(found[0]!.mask!)) break
    if (sharedBy(next.mask, found) > mostShared || !(await confirmed(next, detector, image, size))) break
    found.push(next)
  }
  return found
}

/** Whether somebody is seen at the same place of the picture as it is, too: what is left between grey shapes deceives. */
async function confirmed(
  { box: [left, top, right, bottom] }: Detected,
  detector: Detector,
  image: OffscreenCanvas,
  size: { width: number; height: number },
): Promise<boolean> {
  const [mx, my] = [0.15 * (right - left), 0.15 * (bottom - top)]
  const [x, y] = [Math.max(0, left - mx), Math.max(0, top - my)]
  const width = Math.min(size.width, right + mx) - x
  const height = Math.min(size.height, bottom + my) - y
  const scale = image.width / size.width
  const close = new OffscreenCanvas(Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale)))
  const from = [x * scale, y * scale, width * scale, height * scale] as const
  close.getContext('2d')!.drawImage(image, ...from, 0, 0, close.width, close.height)
  const [one] = fromResults(await look(detector, close), 'people', { width, height })
  if (!one?.mask || one.confidence < surePerson) return false
  const [l, t, r, b] = one.box
  const across = Math.max(0, Math.min(right, x + r) - Math.max(left, x + l))
  const down = Math.max(0, Math.min(bottom, y + b) - Math.max(top, y + t))
  const both = across * down
  return both > sameBox * ((right - left) * (bottom - top) + (r - l) * (b - t) - both)
}

/** Lays one even grey over a person, and a little beyond. */
function hide(picture: OffscreenCanvas, { data, width, height }: PersonMask): void {
  const cover = new OffscreenCanvas(width, height)
  const pixels = new ImageData(width, height)
  for (let i = 0; i < data.length; i++) if (data[i]! > 40) pixels.data.set([118, 118, 118, 255], 4 * i)
  cover.getContext('2d')!.putImageData(pixels, 0, 0)
  const context = picture.getContext('2d')!
  const beyond = 0.015 * Math.max(picture.width, picture.height)
  for (let k = 0; k < 8; k++) {
    const angle = (Math.PI * k) / 4
    const [x, y] = [beyond * Math.cos(angle), beyond * Math.sin(angle)]
    context.drawImage(cover, x, y, picture.width, picture.height)
  }
  context.drawImage(cover, 0, 0, picture.width, picture.height)
}

const sizeOf = ({ data }: PersonMask): number => data.reduce((sum, value) => sum + (value >= 128 ? 1 : 0), 0)

/** Share of a person's mask that lies on those who were found before. */
function sharedBy({ data }: PersonMask, found: readonly Detected[]): number {
  let [own, shared] = [0, 0]
  for (let i = 0; i < data.length; i++) {
    if (data[i]! < 128) continue
    own++
    if (found.some(({ mask }) => mask!.data[i]! >= 128)) shared++
  }
  return own ? shared / own : 1
}

/** Middles of the right and the left eye, and how far apart they are. */
function eyesOf({ places, lines }: Detected): [number[], number] {
  const middle = (line: readonly number[]) =>
    [0, 1].map((k) => line.reduce((sum, i) => sum + places[2 * i + k]!, 0) / line.length)
  const own = [...middle(lines['right eye']!), ...middle(lines['left eye']!)]
  return [own, Math.max(1, Math.hypot(own[2]! - own[0]!, own[3]! - own[1]!))]
}

function fromResults(from: Results, what: Sought, size: { width: number; height: number }): Detected[] {
  if (what === 'faces')
    return (from.multiFaceLandmarks ?? []).map((marks) => detected(what, marks, 1, size, faceLines()))
  if (what === 'hands')
    return (from.multiHandLandmarks ?? []).map((marks, i) =>
      detected(what, marks, from.multiHandedness?.[i]?.score ?? 0, size, {}),
    )
  const marks = from.poseLandmarks
  if (!marks) return []
  // Nose, shoulders, hips, knees: the three of them that are seen best, whatever the picture cuts off.
  const seen = [0, 11, 12, 23, 24, 25, 26].map((i) => marks[i]?.visibility ?? 0).sort((a, b) => b - a)
  const confidence = seen.slice(0, 3).reduce((a, b) => a + b) / 3
  const mask = from.segmentationMask ? maskOf(from.segmentationMask, size) : null
  const one = detected(what, marks, confidence, size, {})
  return [{ ...one, mask, box: mask ? boxOfMask(mask) : one.box }]
}

function detected(
  what: Sought,
  marks: Landmark[],
  confidence: number,
  { width, height }: { width: number; height: number },
  lines: Detected['lines'],
): Detected {
  const places = marks.flatMap(({ x, y }) => [x * width, y * height])
  const xs = marks.map(({ x }) => x * width)
  const ys = marks.map(({ y }) => y * height)
  const box = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] as const
  return { what, confidence: Math.max(0, Math.min(1, confidence)), box, places, lines, mask: null }
}

/** Closed lines of a face, from the pairs of places that the detector joins. */
function faceLines(): Detected['lines'] {
  const line = (name: string) => chained(scope[name] as [number, number][])
  return {
    'right eye': line('FACEMESH_RIGHT_EYE'),
    'left eye': line('FACEMESH_LEFT_EYE'),
    head: line('FACEMESH_FACE_OVAL'),
  }
}

/** Pairs put one after the other, each at whichever of its ends goes on. */
function chained(pairs: [number, number][]): number[] {
  const next = new Map<number, number[]>()
  for (const [a, b] of pairs)
    for (const [from, to] of [
      [a, b],
      [b, a],
    ] as const)
      next.set(from, [...(next.get(from) ?? []), to])
  const start = pairs[0]![0]
  const out = [start]
  for (let before = -1, at = start; ;) {
    const on = next.get(at)!.find((to) => to !== before)
    if (on === undefined || on === start || out.length > pairs.length) return out
    out.push(on)
    before = at
    at = on
  }
}

function maskOf(image: CanvasImageSource, size: { width: number; height: number }): PersonMask {
  const { width, height } = image as { width: number; height: number }
  const canvas = new OffscreenCanvas(width, height)
  const context = canvas.getContext('2d')!
  context.drawImage(image, 0, 0)
  const pixels = context.getImageData(0, 0, width, height).data
  const data = new Uint8Array(width * height)
  for (let i = 0; i < data.length; i++) data[i] = pixels[4 * i + 3]!
  return { width, height, data, box: [0, 0, size.width, size.height] }
}

function boxOfMask(mask: PersonMask): Box {
  let [left, top, right, bottom] = [mask.width, mask.height, 0, 0]
  for (let y = 0, i = 0; y < mask.height; y++)
    for (let x = 0; x < mask.width; x++, i++) {
      if (mask.data[i]! < 128) continue
      left = Math.min(left, x)
      right = Math.max(right, x + 1)
      top = Math.min(top, y)
      bottom = Math.max(bottom, y + 1)
    }
  if (right === 0) return [0, 0, 0, 0]
  const [sx, sy] = [mask.box[2] / mask.width, mask.box[3] / mask.height]
  return [left * sx, top * sy, right * sx, bottom * sy]
}
