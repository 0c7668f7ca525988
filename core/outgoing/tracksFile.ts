import Papa from 'papaparse'
import { areaOfRaster } from '../pixels/buffers/raster.ts'
import { bestSimilarity } from '../geometry/similarity.ts'
import type { SignalName } from '../parameters/drives.ts'
import type { Records } from '../records/records.ts'
import { clipFrame } from '../records/timing.ts'
import type { Part } from '../records/types.ts'
import type { Scene } from '../render/scene.ts'
import { anchors } from '../shapes/kind.ts'
import { partKind } from '../shapes/registry.ts'
import { trackOf } from '../shapes/riding.ts'
import { edgeOf } from '../shapes/traced.ts'
import { type CellState, cellAt, keyAt } from '../shapes/track.ts'

/*
 * What the traced motion says, frame by frame, for other programs: docs/tracks-file.schema.json is the schema of the JSON (JSON Schema,
 * draft 2020-12), docs/tracks-file.md says it in words. Places are pixels of the plate, x to the right and y down, from the outer corner of
 * its top left pixel; angles are degrees, clockwise on screen; frames count from the shot's first.
 */

export const tracksFormat = 'wisp-trail-tracks'
export const tracksVersion = 1

export interface TracksOrder {
  members: readonly { id: string; name: string }[]
  /** Frames, both included. */
  from: number
  to: number
  /** Called after every frame of every part. */
  step?: () => void
}

/** A part on one frame. */
interface PartFrame {
  frame: number
  state: CellState
  /** How sure it is, 0 to 1: 1 where a hand set it; null where it is computed from keys. */
  confidence: number | null
  /** Its middle, the mean of its points. */
  x: number
  y: number
  /** Turned since its first frame, on and on where it spins, and grown: 1 for as large as then. */
  rotation: number
  scale: number
  points: number[]
}

/** A member on one frame; null for what can not be said. Speeds are a frame's. */
type MemberFrame = { frame: number } & Record<
  'x' | 'y' | 'speed' | 'angle' | 'turning' | 'length' | 'area' | 'tipSpeed' | 'heelSpeed',
  number | null
>
const memberSignals = ['x', 'y', 'speed', 'angle', 'turning', 'length', 'area', 'tipSpeed', 'heelSpeed'] as const

/** Everything as JSON. Frames on which a part is away are not in its list. */
export function tracksJson(records: Records, scene: Scene, order: TracksOrder): string {
  const { shot, media } = scene
  return `${JSON.stringify(
    {
      ...{
        format: tracksFormat,
        version: tracksVersion,
        shot: shot.name,
        clip: media.name,
        firstFrameOfClip: clipFrame(shot, 0),
      },
      ...{ width: media.width, height: media.height, rate: media.rate, from: order.from, to: order.to },
      members: order.members.map(({ id, name }) => ({
        ...{ name, kind: records.get('member', id)!.kind },
        frames: framesOf(order).map((frame) => memberAt(scene, id, frame)),
        parts: records.childrenOf('part', id).map((part) => ({
          ...{ name: part.name, kind: part.kind, role: part.role },
          frames: partFrames(records, scene, part, order),
        })),
      })),
      contacts: contactsIn(scene, order),
    },
    null,
    1,
  )}\n`
}

/** A line for every part and frame (RFC 4180), with what its member does then. */
export function tracksCsv(records: Records, scene: Scene, order: TracksOrder): string {
  const rows = order.members.flatMap(({ id, name }) => {
    const member = new Map(framesOf(order).map((frame) => [frame, memberAt(scene, id, frame)]))
    return records.childrenOf('part', id).flatMap((part) =>
      partFrames(records, scene, part, order).map(({ points, ...at }) => {
        const { speed, angle, turning, length, area, tipSpeed, heelSpeed } = member.get(at.frame)!
        return {
          ...{ member: name, part: part.name, kind: part.kind, frame: at.frame },
          ...{ seconds: round(at.frame / scene.media.rate, 1e6), state: at.state, confidence: at.confidence },
          ...{ x: at.x, y: at.y, rotation: at.rotation, scale: at.scale },
          ...{ speed, angle, turning, length, area, tipSpeed, heelSpeed, points: points.join(' ') },
        }
      }),
    )
  })
  return `${Papa.unparse({ fields: [...csvColumns], data: rows }, { newline: '\r\n' })}\r\n`
}
export const csvColumns = [
  ...['member', 'part', 'kind', 'frame', 'seconds', 'state', 'confidence', 'x', 'y', 'rotation', 'scale'],
  ...['speed', 'angle', 'turning', 'length', 'area', 'tipSpeed', 'heelSpeed', 'points'],
] as const

const framesOf = ({ from, to }: TracksOrder): number[] => Array.from({ length: to - from + 1 }, (_, i) => from + i)

function memberAt(scene: Scene, member: string, frame: number): MemberFrame {
  const signal = (name: SignalName) => {
    const drive = { signal: name, of: member, with: '', smooth: 0, lag: 0 } as const
    const value = scene.read({ ...drive, from: [0, 1], to: [0, 1], bend: [0, 0, 1, 1] }, frame)
    return value === null || Number.isNaN(value) ? null : round(value)
  }
  return { frame, ...Object.fromEntries(memberSignals.map((name) => [name, signal(name)])) } as MemberFrame
}

function partFrames(records: Records, scene: Scene, part: Part, order: TracksOrder): PartFrame[] {
  const traced = scene.part(part.id)!
  const track = trackOf(records, part)
  let first: { points: readonly number[]; area: number } | null = null
  let rotation = 0
  return framesOf(order).flatMap((frame) => {
    order.step?.()
    const raster = traced.raster?.(frame)
    const points = traced.raster ? raster && edgeOf(traced, frame) : traced.at(frame)
    if (!points?.length) return []
    const area = raster ? areaOfRaster(raster) : 0
    first ??= { points, area }
    const places = middle(part.kind, points)
    let scale = raster ? Math.sqrt(area / Math.max(1, first.area)) : 1
    if (!raster && points.length === first.points.length && points.length > 2) {
      const { ar, ai } = bestSimilarity(first.points, points)
      scale = Math.hypot(ar, ai)
      // The nearest of all the same angles to that of the frame before.
      const angle = (Math.atan2(ai, ar) * 180) / Math.PI
      rotation = angle + 360 * Math.round((rotation - angle) / 360)
    }
    const state = cellAt(track, frame)
    const key = keyAt(track, frame)
    return [
      {
        ...{ frame, state, confidence: key ? (key.followed ?? 1) : null },
        ...{ x: round(places.x), y: round(places.y), rotation: round(rotation), scale: round(scale, 1e5) },
        points: points.map((v) => round(v, 100)),
      },
    ]
  })
}

/** Mean of the points that stand for themselves. */
function middle(kind: string, points: readonly number[]): { x: number; y: number } {
  const own = partKind(kind).pixels
    ? points.map((_, i) => i).slice(0, points.length / 2)
    : anchors(partKind(kind), points)
  const mean = (c: number) => own.reduce((sum, i) => sum + points[2 * i + c]!, 0) / own.length
  return { x: mean(0), y: mean(1) }
}

/** Where members of the order meet. */
function contactsIn(scene: Scene, { members, from, to }: TracksOrder) {
  return members.flatMap((one, i) =>
    members.slice(i + 1).flatMap((other) =>
      scene
        .contacts(one.id, other.id)
        .filter(({ frame }) => frame >= from && frame <= to)
        .map(({ frame, x, y, speed }) => ({
          ...{ between: [one.name, other.name], frame, x: round(x), y: round(y), speed: round(speed) },
        })),
    ),
  )
}

const round = (value: number, by = 1000): number => Math.round(value * by) / by
