import type { Records } from '../records/records.ts'
import type { Away, Key, Member, Part } from '../records/types.ts'
import { partKind } from '../shapes/registry.ts'
import { shapeOf } from '../shapes/riding.ts'

/*
 * Traced shapes as a JSON file, of which docs/shapes-file.md tells: members with parts, parts with keys and ranges of absence. Places
 * are pixels of a plate of `width` x `height`, x to the right and y down, frames count from 0. Painted mattes are no shapes
 * and stay at home.
 */

export const shapesFormat = 'wisp-trail-shapes'
export const shapesVersion = 1

export interface ShapesFile {
  format: typeof shapesFormat
  version: typeof shapesVersion
  width: number
  height: number
  /** Frames a second. */
  rate: number
  members: FileMember[]
}
interface FileMember extends Pick<Member, 'name' | 'kind'> {
  parts: FilePart[]
}
interface FilePart extends Pick<Part, 'name' | 'kind' | 'role' | 'tween' | 'hold' | 'settings'> {
  keys: Pick<Key, 'frame' | 'points' | 'tween' | 'followed'>[]
  away: Pick<Away, 'from' | 'to'>[]
}

/** The plate that shapes lie on, and how long a shot is. */
export interface ShapesPlate {
  width: number
  height: number
  rate: number
  frames: number
}

/** Members with their shapes as a file. What rides on something has its shape on every frame. */
export function writeShapes(records: Records, members: readonly Member[], plate: ShapesPlate): string {
  const file: ShapesFile = {
    ...{ format: shapesFormat, version: shapesVersion, width: plate.width, height: plate.height, rate: plate.rate },
    members: members.map(({ id, name, kind }) => ({
      ...{ name, kind },
      parts: records
        .childrenOf('part', id)
        .filter((part) => !partKind(part.kind).pixels)
        .map(({ name, kind, role, tween, hold, settings, ...part }) => ({
          ...{ name, kind, role, tween, hold, settings },
          keys: keysOf(records, { name, kind, role, tween, hold, settings, ...part }, plate.frames),
          away: records.childrenOf('away', part.id).map(({ from, to }) => ({ from, to })),
        })),
    })),
  }
  return `${JSON.stringify(file, null, 1)}\n`
}

function keysOf(records: Records, part: Part, frames: number): FilePart['keys'] {
  const keys = records.childrenOf('key', part.id)
  if (!part.ride)
    return keys.map(({ frame, points, tween, followed }) => ({ frame, points, tween, followed: followed ?? null }))
  return Array.from({ length: frames }, (_, frame) => frame).flatMap((frame) => {
    const points = shapeOf(records, part, frame)
    return points ? [{ frame, points: [...points], tween: '' as const, followed: null }] : []
  })
}
