import { randomUUID } from 'node:crypto'
import { type EntityManager, In } from 'typeorm'
import { checks } from '#core/checks.ts'
import { duplicate } from '#core/edits/duplicate.ts'
import type { Diff } from '#core/records/diff.ts'
import type { CommitAnswer, ProjectSummary, StoredChange } from '#core/records/exchange.ts'
import { Records } from '#core/records/records.ts'
import { type AnyRecord, type Key, parentField, type Part, type Project, type RecordType, recordTypes, shotLength } from '#core/records/types.ts'
import { nodeNumbers } from '#core/shapes/kinds/outline.ts'
import { partKind } from '#core/shapes/registry.ts'
import { trackOf, wouldCircle } from '#core/shapes/riding.ts'
import { tracedShare } from '#core/shapes/track.ts'
import { HttpRefusal } from '../http/refusal.ts'
import type { Database } from './database.ts'
import type { ChangeRow, ProjectRow } from './entities.ts'

/** Changes kept for tabs that lag behind; an older tab reloads. */
const keptChanges = 2000
/** A project put aside stays this long, so that undo on the shelf works on the next day too. */
const keptDeleted = 1000 * 60 * 60 * 24 * 30

export class Projects {
  private readonly summaries = new Map<string, { revision: number; summary: ProjectSummary }>()
  private readonly database: Database

  constructor(database: Database) {
    this.database = database
  }

  async list(): Promise<ProjectSummary[]> {
    return this.database.read(async (manager) => {
      const rows = await manager.find<ProjectRow>('project', { order: { changed: 'DESC' } })
      const out: ProjectSummary[] = []
      for (const row of rows) if (row.deleted === null) out.push(await this.summarise(manager, row))
      return out
    })
  }

  private async summarise(manager: EntityManager, row: ProjectRow): Promise<ProjectSummary> {
    const known = this.summaries.get(row.id)
    if (known?.revision === row.revision) return { ...known.summary, changed: row.changed }
    const records = new Records(await recordsOf(manager, row))
    const shots = records.all('shot')
    let [frames, seconds, shares, parts] = [0, 0, 0, 0]
    for (const shot of shots) {
      frames += shotLength(shot)
      seconds += shotLength(shot) / (records.get('media', shot.media)?.rate ?? 24)
      for (const member of records.childrenOf('member', shot.id))
        for (const part of records.childrenOf('part', member.id)) {
          shares += tracedShare(trackOf(records, part), shotLength(shot), part.ride !== null)
          parts++
        }
    }
    const summary = {
      id: row.id,
      name: row.name,
      changed: row.changed,
      frames,
      seconds,
      shots: shots.length,
      traced: parts ? shares / parts : null,
    }
    this.summaries.set(row.id, { revision: row.revision, summary })
    return summary
  }

  async open(id: string): Promise<{ revision: number; records: AnyRecord[] }> {
    return this.database.read(async (manager) => {
      const row = await projectRow(manager, id)
      return { revision: row.revision, records: await recordsOf(manager, row) }
    })
  }

  /** A new project with the given records in it (none for an empty one). */
  async create(name: string, records: (project: string) => AnyRecord[] = () => []): Promise<string> {
    const id = randomUUID().slice(0, 13)
    const now = new Date().toISOString()
    const project: AnyRecord = { type: 'project', id, name, created: now, light: 'linear' }
    checkOr422({ put: [project], remove: [] })
    await this.database.write(async (manager) => {
      await manager.insert('project', {
        id,
        name: name.trim(),
        created: now,
        light: 'linear',
        revision: 0,
        changed: now,
        deleted: null,
      })
      const put = records(id)
      checkOr422({ put, remove: [] })
      if (put.length) await applyDiff(manager, id, { put, remove: [] })
    })
    return id
  }

  async duplicate(id: string): Promise<string> {
    const { records } = await this.open(id)
    const project = records.find((record) => record.type === 'project')!
    const light = project.light
    const copy = await this.create(`${project.name.slice(0, 72)} copy`, () =>
      duplicate(
        records.filter((r) => r.type !== 'project'),
        () => randomUUID().slice(0, 13),
      ),
    )
    if (light !== 'linear') await this.database.write((manager) => manager.update('project', { id: copy }, { light }))
    return copy
  }

  /** Puts a project aside, or back on the shelf. */
  async setDeleted(id: string, deleted: boolean): Promise<void> {
    await this.database.write(async (manager) => {
      const done = await manager.update('project', { id }, { deleted: deleted ? new Date().toISOString() : null })
      if (!done.affected) throw unknownProject()
    })
  }

  /** Removes for good what was put aside long ago. */
  async sweep(): Promise<void> {
    const limit = new Date(Date.now() - keptDeleted).toISOString()
    await this.database.write((manager) =>
      manager
        .createQueryBuilder()
        .delete()
        .from('project')
        .where('deleted IS NOT NULL AND deleted < :limit', { limit })
        .execute(),
    )
  }

  /**
   * One change, whole or not at all, on disk when this returns. A change that was received before answers as it
   * did then; one based on an older revision is not applied and answers with what is newer.
   */
  async commit(
    project: string,
    change: { id: string; base: number; label: string; diff: unknown },
  ): Promise<CommitAnswer & { repeated?: boolean }> {
    const { diff } = change
    checkOr422(diff)
    return this.database.write(async (manager) => {
      const row = await projectRow(manager, project)
      const before = await manager.findOneBy<ChangeRow>('change', { id: change.id })
      if (before) return { accepted: true, revision: before.revision, repeated: true }
      if (change.base > row.revision)
        throw new HttpRefusal(409, 'This tab knows a later state than the server. Reload the page.')
      if (change.base < row.revision) {
        const newer = await manager
          .createQueryBuilder<ChangeRow>('change', 'c')
          .where('c.project = :project AND c.revision > :base', { project, base: change.base })
          .orderBy('c.revision')
          .getMany()
        if (newer.length < row.revision - change.base)
          throw new HttpRefusal(
            410,
            'This tab is too far behind to catch up. Reload the page; your last changes wait in it.',
          )
        return { accepted: false, revision: row.revision, newer: newer.map(asChange) }
      }
      await applyDiff(manager, project, diff)
      const revision = row.revision + 1
      const at = new Date().toISOString()
      await manager.insert('change', {
        id: change.id,
        project,
        revision,
        label: change.label,
        diff: diff as object,
        at,
      })
      await manager.update('project', { id: project }, { revision, changed: at })
      if (revision % 100 === 0)
        await manager
          .createQueryBuilder()
          .delete()
          .from('change')
          .where('project = :project AND revision <= :old', { project, old: revision - keptChanges })
          .execute()
      return { accepted: true, revision }
    })
  }

  async changesSince(project: string, revision: number): Promise<StoredChange[]> {
    return this.database.read(async (manager) => {
      const rows = await manager
        .createQueryBuilder<ChangeRow>('change', 'c')
        .where('c.project = :project AND c.revision > :revision', { project, revision })
        .orderBy('c.revision')
        .getMany()
      return rows.map(asChange)
    })
  }
}

const asChange = (row: ChangeRow): StoredChange => ({
  id: row.id,
  revision: row.revision,
  label: row.label,
  diff: row.diff as Diff,
})
const unknownProject = () =>
  new HttpRefusal(404, 'There is no such project. It may have been deleted; look on the shelf.')

async function projectRow(manager: EntityManager, id: string): Promise<ProjectRow> {
  const row = await manager.findOneBy<ProjectRow>('project', { id })
  if (!row || row.deleted !== null) throw unknownProject()
  return row
}

function checkOr422(diff: unknown): asserts diff is Diff {
  try {
    checks.diff(diff)
  } catch (error) {
    throw new HttpRefusal(422, (error as Error).message)
  }
}

async function recordsOf(manager: EntityManager, row: ProjectRow): Promise<AnyRecord[]> {
  const out: AnyRecord[] = [{ type: 'project', id: row.id, name: row.name, created: row.created, light: row.light }]
  for (const type of recordTypes) {
    if (type === 'project') continue
    const rows = await manager.findBy<{ project?: string }>(type, { project: row.id })
    for (const { project: _, ...fields } of rows) out.push({ type, ...fields } as unknown as AnyRecord)
  }
  return out
}

async function applyDiff(manager: EntityManager, project: string, diff: Diff): Promise<void> {
  for (const type of [...recordTypes].reverse()) {
    const ids = diff.remove.filter((ref) => ref.type === type).map((ref) => ref.id)
    if (ids.length && type === 'project')
      throw new HttpRefusal(422, 'A project is deleted on the shelf, not by a change inside it.')
    for (const some of chunks(ids, 400)) await manager.delete(type, { id: In(some), project })
  }
  for (const type of recordTypes) {
    const rows = diff.put.filter((record) => record.type === type)
    if (rows.length === 0) continue
    if (type === 'project') {
      const { id, name, light } = rows[0] as Project
      if (id !== project || rows.length > 1)
        throw new HttpRefusal(422, 'A change belongs to one project; this one names another.')
      await manager.update('project', { id }, { name: name.trim(), light })
      continue
    }
    await refuseForeign(manager, project, type, rows)
    for (const some of chunks(rows, 60))
      await manager.upsert(
        type,
        some.map(({ type: _, ...fields }) => ({ ...fields, project })),
        ['id'],
      )
  }
  await checkShots(manager, diff)
  await checkPointCounts(manager, diff)
  await checkRides(manager, project, diff)
}

/** No record of a change may take over, or hang on, a record of another project. */
async function refuseForeign(
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
      if (foreign) throw new HttpRefusal(422, `A ${type} of this change belongs to another project.`)
    }
}

async function checkShots(manager: EntityManager, diff: Diff): Promise<void> {
  for (const shot of diff.put) {
    if (shot.type !== 'shot') continue
    if (shot.out <= shot.in) throw new HttpRefusal(422, 'The out point of a shot must lie after its in point.')
    const media = await manager.findOneBy<{ id: string; frames: number }>('media', { id: shot.media })
    if (media && shot.out > media.frames)
      throw new HttpRefusal(422, `The out point lies after the end of the clip, which has ${media.frames} frames.`)
  }
}

/** All keys of a part have the same number of points, the one its kind asks for. */
async function checkPointCounts(manager: EntityManager, diff: Diff): Promise<void> {
  const touched = new Map<string, Key[]>()
  for (const record of diff.put)
    if (record.type === 'key') touched.set(record.part, [...(touched.get(record.part) ?? []), record])
  for (const [id, keys] of touched) {
    const part = await manager.findOneBy<Part & { project: string }>('part', { id })
    if (!part) throw new HttpRefusal(422, 'A key belongs to a part that is not in this project any more.')
    const numbers = partKind(part.kind).numbers
    const lengths: { n: number }[] = await manager.query(
      'SELECT DISTINCT json_array_length(points) AS n FROM "key" WHERE part = ?',
      [id],
    )
    if (
      lengths.length > 1 ||
      (numbers !== undefined && lengths[0]?.n !== numbers) ||
      (part.kind === 'outline' && lengths[0]!.n % nodeNumbers > 0) ||
      keys.some((key) => key.points.length % 2)
    )
      throw new HttpRefusal(
        422,
        `Every key of "${part.name}" must have the same number of points${numbers ? ` (${numbers / 2})` : ''}.`,
      )
  }
}

/** Nothing rides, over however many others, on itself. */
async function checkRides(manager: EntityManager, project: string, diff: Diff): Promise<void> {
  const riding = diff.put.filter((record) => record.type === 'part' && record.ride)
  if (riding.length === 0) return
  const parts = await manager.findBy<Part & { project: string }>('part', { project })
  const records = new Records(parts.map(({ project: _, ...part }) => ({ ...part, type: 'part' as const })))
  for (const part of records.all('part'))
    if (part.ride?.from.some((carrier) => wouldCircle(records, part, carrier.part)))
      throw new HttpRefusal(
        422,
        `"${part.name}" would ride on itself; let one part of that circle ride on nothing first.`,
      )
}

function* chunks<T>(list: T[], size: number): Generator<T[]> {
  for (let i = 0; i < list.length; i += size) yield list.slice(i, i + size)
}
