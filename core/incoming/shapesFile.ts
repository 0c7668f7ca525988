import { say } from '../say.ts'
import { checks } from '../checks.ts'
import { newMember } from '../edits/cast.ts'
import type { NumberParameter } from '../parameters/parameters.ts'
import { limits } from '../records/limits.ts'
import { makeKey } from '../records/make.ts'
import type { Records } from '../records/records.ts'
import type { AnyRecord, Part } from '../records/types.ts'
import { type ShapesFile, shapesFormat, type ShapesPlate, shapesVersion } from '../outgoing/shapesFile.ts'
import { Refusal } from '../refusal.ts'
import { nodeNumbers } from '../shapes/kinds/outline.ts'
import { makePart } from '../shapes/make.ts'
import { partKind, partKinds } from '../shapes/registry.ts'
import { onPlate } from './svg.ts'

/**
 * Records of a file's members for a shot, new to its cast; from a plate of another size they are laid in the middle of this one, as
 * large as fits. Throws a Refusal that says what is wrong with the file.
 */
export function readShapes(
  text: string,
  { records, shot, plate }: { records: Records; shot: string; plate: Pick<ShapesPlate, 'width' | 'height'> },
  newId: () => string,
): AnyRecord[] {
  const file = parsed(text)
  const [scale, , , , left, top] = onPlate({ x: 0, y: 0, width: file.width, height: file.height }, plate)
  const put: AnyRecord[] = []
  for (const given of list(file.members, 'The file', 'members')) {
    const made = newMember(
      records,
      shot,
      { name: String(given.name ?? '').slice(0, limits.name - 4), kind: given.kind },
      newId,
    )
    // Names and colours of those before it are not in the records yet.
    const before = put.filter((one) => one.type === 'member').length
    const member = { ...made, colour: (made.colour + before) % 8, order: made.order + before }
    put.push(member)
    for (const [i, { keys, away, settings, ...part }] of list(given.parts, member.name, 'parts').entries()) {
      if (!Object.hasOwn(partKinds, part.kind) || partKind(part.kind).pixels)
        throw new Refusal(
          say`${part.name} of ${member.name} is of no kind that is known: “${String(part.kind).slice(0, 40)}”.`,
        )
      const { name, kind, role, tween, hold } = part
      const own = makePart({
        ...{ id: newId(), member: member.id, order: i + 1, name, kind, role, tween, hold },
        settings: scaled(kind, settings, scale),
      })
      put.push(own)
      const laid = list(keys, name, 'keys').map(({ frame, points, tween, followed }) => {
        checkPoints(points, own, frame)
        const at = points.map((v, j) => v * scale + (j % 2 ? top : left))
        return makeKey(own.id, frame, at, tween ?? '', followed ?? null)
      })
      if (new Set(laid.map(({ points }) => points.length)).size > 1)
        throw new Refusal(say`The keys of ${name} have different numbers of points; all must have the same.`)
      if (new Set(laid.map(({ frame }) => frame)).size < laid.length)
        throw new Refusal(say`${name} has two keys on one frame; there can only be one.`)
      put.push(...laid)
      for (const { from, to } of list(away, name, 'away'))
        put.push({ type: 'away', id: newId(), part: own.id, from, to })
    }
  }
  if (put.length === 0) throw new Refusal(say`There is nobody in this file of shapes.`)
  if (put.length > limits.diffRecords)
    throw new Refusal(
      say`The file holds ${put.length} members, parts and keys; at most ${limits.diffRecords} come in at once. Take some out first.`,
    )
  put.forEach((record) => checks.record(record))
  return put
}

function parsed(text: string): ShapesFile {
  let file: Partial<ShapesFile> | null
  try {
    file = JSON.parse(text) as Partial<ShapesFile> | null
  } catch {
    throw new Refusal(say`This is no JSON file, or it is cut short. Choose a file of shapes that was saved here.`)
  }
  if (file?.format !== shapesFormat || !Array.isArray(file.members))
    throw new Refusal(say`This file holds no shapes. Choose a file of shapes that was saved here.`)
  if ((file.version as number) !== shapesVersion)
    throw new Refusal(say`These shapes were written by a newer version; bring this one up to date first.`)
  const sides = [file.width, file.height]
  if (!sides.every((side) => typeof side === 'number' && side >= 1 && side <= 1e5))
    throw new Refusal(say`The file does not say how large the plate of its shapes is: “width” and “height”, in pixels.`)
  return file as ShapesFile
}

/** A list of the file, whose entries are things with names of their own. */
function list<T>(given: readonly T[] | undefined, of: string, what: string): readonly T[] {
  if (!Array.isArray(given) || given.some((one) => typeof one !== 'object' || one === null))
    throw new Refusal(say`${of} has no proper list of “${what}”.`)
  return given as readonly T[]
}

function checkPoints(points: unknown, { name, kind }: Part, frame: unknown): asserts points is number[] {
  const right =
    Array.isArray(points) &&
    points.length > 0 &&
    points.length <= limits.numbers &&
    points.every((v) => Number.isFinite(v)) &&
    fits(partKind(kind).numbers, points.length)
  if (!right) throw new Refusal(say`The key of ${name} at frame ${String(frame)} has points that make no ${kind}.`)
}
/** An outline has any number of nodes from three on. */
const fits = (numbers: readonly number[] | undefined, count: number) =>
  numbers ? numbers.includes(count) : count % nodeNumbers === 0 && count >= 3 * nodeNumbers

/** Settings that are lengths grow with the plate; what is not given is as usual. */
function scaled(kind: string, settings: Part['settings'] | undefined, scale: number): Part['settings'] {
  const lengths = new Map(
    partKind(kind).settings.flatMap((one) =>
      one.type === 'number' && one.unit === 'px' ? [[one.name, one] as const] : [],
    ),
  )
  return Object.fromEntries(
    Object.entries(settings ?? {}).map(([name, value]) => {
      const length = lengths.get(name) as NumberParameter | undefined
      if (!length || typeof value !== 'number') return [name, value]
      return [name, Math.max(length.min, Math.min(length.max, value * scale))]
    }),
  )
}
