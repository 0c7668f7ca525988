import type { EntityManager } from 'typeorm'
import type { Diff } from '#core/records/diff.ts'
import { limits } from '#core/records/limits.ts'
import { Records } from '#core/records/records.ts'
import { clipRange } from '#core/records/timing.ts'
import {
  type AnyRecord,
  framesOf,
  type Media,
  parentField,
  type Part,
  type RecordType,
  type TimePiece,
} from '#core/records/types.ts'
import { nodeNumbers } from '#core/shapes/kinds/outline.ts'
import { partKind } from '#core/shapes/registry.ts'
import { wouldCircle } from '#core/shapes/riding.ts'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import { chunks } from './chunks.ts'

/* What must hold between the records of a project after a change, whichever of them it touches. */

/** No record of a change may take over, or hang on, a record of another project. */
export async function refuseForeign(
  manager: EntityManager,
  project: string,
  type: RecordType,
  rows: AnyRecord[],
): Promise<void> {
  const parent = parentField[type]
  const parents = parent
    ? new Set(rows.map((row) => (row as unknown as Record<string, string>)[parent.field]!))
    : new Set<string>()
  const lookups: [string, string[]][] = [[type, rows.map((row) => row.id)]]
  if (parent) lookups.push([parent.type, [...parents]])
  for (const [table, ids] of lookups)
    for (const some of chunks(ids, 400)) {
      const foreign = await manager
        .createQueryBuilder(table, 't')
        .where('t.id IN (:...some) AND t.project <> :project', { some, project })
        .getCount()
      if (foreign) throw new HttpRefusal(422, say`A ${type} of this change belongs to another project.`)
    }
}

interface ShotOfClip extends Pick<Media, 'codec' | 'frames'> {
  name: string
  in: number
  out: number
  /** As it is kept. */
  timing: string | null
}

/** No shot is longer than its clip, whichever of the two the change touches. */
export async function checkShots(manager: EntityManager, diff: Diff): Promise<void> {
  for (const record of diff.put) {
    if (record.type === 'shot' && record.out <= record.in)
      throw new HttpRefusal(422, say`The out point of a shot must lie after its in point.`)
    if (record.type !== 'shot' && record.type !== 'media') continue
    const shots = await manager.query<ShotOfClip[]>(
      `SELECT shot.name, shot."in", shot."out", shot.timing, media.codec, media.frames FROM shot JOIN media ON media.id = shot.media
       WHERE ${record.type}.id = ?`,
      [record.id],
    )
    const far = shots.find(
      (shot) =>
        shot.out > framesOf(shot) ||
        (shot.timing && clipRange({ ...shot, timing: JSON.parse(shot.timing) as TimePiece[] }).to > framesOf(shot)),
    )
    if (far)
      throw new HttpRefusal(
        422,
        say`"${far.name}" goes on after the end of its clip, which has ${framesOf(far)} frames. Let it end before.`,
      )
  }
}

/** All keys of a part have the same number of points, the one its kind asks for. */
export async function checkPointCounts(manager: EntityManager, diff: Diff): Promise<void> {
  const touched = new Set(
    diff.put.flatMap((record) => (record.type === 'key' ? record.part : record.type === 'part' ? record.id : [])),
  )
  for (const id of touched) {
    const part = await manager.findOneBy<Part & { project: string }>('part', { id })
    if (!part) throw new HttpRefusal(422, say`A key belongs to a part that is not in this project any more.`)
    const numbers = partKind(part.kind).numbers
    const lengths = await manager.query<{ n: number }[]>(
      'SELECT DISTINCT json_array_length(points) AS n FROM "key" WHERE part = ?',
      [id],
    )
    if (
      lengths.length > 1 ||
      lengths.some(
        ({ n }) => n % 2 > 0 || (numbers && !numbers.includes(n)) || (part.kind === 'outline' && n % nodeNumbers > 0),
      )
    )
      throw new HttpRefusal(
        422,
        say`Every key of "${part.name}" must have the same number of points${numbers ? ` (${numbers.map((n) => n / 2).join(' or ')})` : ''}.`,
      )
  }
}

export async function checkLooks(manager: EntityManager, project: string, diff: Diff): Promise<void> {
  if (!diff.put.some((record) => record.type === 'look')) return
  if ((await manager.countBy('look', { project })) > limits.looks)
    throw new HttpRefusal(422, say`A project keeps at most ${limits.looks} looks. Delete some first.`)
}

/** Nothing rides, over however many others, on itself. */
export async function checkRides(manager: EntityManager, project: string, diff: Diff): Promise<void> {
  const riding = diff.put.filter((record) => record.type === 'part' && record.ride)
  if (riding.length === 0) return
  const parts = await manager.findBy<Part & { project: string }>('part', { project })
  const records = new Records(parts.map(({ project: _, ...part }) => ({ ...part, type: 'part' as const })))
  for (const part of records.all('part'))
    if (part.ride?.from.some((carrier) => wouldCircle(records, part, carrier.part)))
      throw new HttpRefusal(
        422,
        say`"${part.name}" would ride on itself; let one part of that circle ride on nothing first.`,
      )
}
