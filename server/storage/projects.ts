import { randomUUID } from 'node:crypto'
import { type EntityManager, type EntityMetadata, In } from 'typeorm'
import { checks } from '#core/checks.ts'
import { duplicate } from '#core/edits/duplicate.ts'
import { clashes, type Diff, type RecordRef } from '#core/records/diff.ts'
import type { CommitAnswer, PastChange, ProjectSummary, StepOfChange, StoredChange } from '#core/records/exchange.ts'
import { limits } from '#core/records/limits.ts'
import { type ProjectFileHead, projectFileFormat, projectFileVersion } from '#core/records/projectFile.ts'
import { Records } from '#core/records/records.ts'
import {
  type AnyRecord,
  type KeptMatte,
  parentField,
  type Project,
  type RecordType,
  recordTypes,
  shotLength,
} from '#core/records/types.ts'
import { trackOf } from '#core/shapes/riding.ts'
import { tracedShare } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import { chunks, joined } from './chunks.ts'
import type { Database, Snapshot } from './database.ts'
import type { ChangeRow, ProjectRow, Row } from './entities.ts'
import { dropLooseMattes, mattesOf, putMattesAway, withMattes } from './mattes.ts'
import { checkLooks, checkPointCounts, checkRides, checkShots, refuseForeign } from './validity.ts'

/** Changes kept for tabs that lag behind; an older tab reloads. */
const keptChanges = 2000
/** Changes that a history is read of at once, and their bytes. */
const mostPast = 300
const mostPastBytes = 4 * 1024 ** 2
/** A project put aside stays this long, so that undo on the shelf works on the next day too. */
const keptDeleted = 1000 * 60 * 60 * 24 * 30

/** A project as text, piece by piece, as it was when this was asked for. */
export interface RecordStream {
  text: Generator<string>
  close: () => void
}

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
      for (const row of rows) if (row.deleted === null) out.push(await this.summaryOf(manager, row))
      return out
    })
  }

  /** The summary of a project; of one that can not be read, that it is damaged: it does not take the shelf with it. */
  private async summaryOf(manager: EntityManager, row: ProjectRow): Promise<ProjectSummary> {
    try {
      return await this.summarise(manager, row)
    } catch (error) {
      if (!isOfTheRecords(error)) throw error
      const { id, name, changed } = row
      return { id, name, changed, damaged: true, frames: 0, seconds: 0, shots: 0, traced: null }
    }
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
      try {
        return { revision: row.revision, records: await recordsOf(manager, row) }
      } catch (error) {
        if (!isOfTheRecords(error)) throw error
        throw damagedProject(row.name)
      }
    })
  }

  /**
   * A project as JSON, `{"revision": …, "records": […]}` with a line for every record: as it is now, however long it takes
   * to send it and whatever changes meanwhile. To be closed.
   */
  stream(id: string): Promise<RecordStream> {
    return this.streamOf(id, ({ revision }) => ({ revision }))
  }

  /** A project as a file that stands by itself: see records/projectFile.ts. Mattes are in it. To be closed. */
  streamWhole(id: string, media: string[]): Promise<RecordStream> {
    const written = new Date().toISOString()
    const head: ProjectFileHead = { format: projectFileFormat, version: projectFileVersion, written, media }
    return this.streamOf(id, () => head, true)
  }

  private async streamOf(id: string, head: (row: ProjectRow) => object, whole = false): Promise<RecordStream> {
    const { row, tables } = await this.database.read(async (manager) => ({
      row: await projectRow(manager, id),
      tables: recordTypes
        .filter((type) => type !== 'project')
        .map((type) => ({ type, columns: manager.connection.getMetadata(type).columns })),
    }))
    const snapshot = this.database.snapshot()
    let open = true
    // Closed twice, the database's own library ends the process.
    const close = () => {
      if (open) closeSnapshot(snapshot)
      open = false
    }
    try {
      for (const { type, columns } of tables) refuseDamaged(snapshot, row, type, columns)
      return { text: joined(recordLines(snapshot, row, tables, head, whole), 2 ** 15), close }
    } catch (error) {
      close()
      throw error
    }
  }

  /** A new project with the given records in it (none for an empty one). */
  async create(
    name: string,
    light: Project['light'] = 'linear',
    records: () => AnyRecord[] = () => [],
  ): Promise<string> {
    const project = newProject(freshId(), name, light)
    await this.database.write((manager) => insertProject(manager, project, records()))
    return project.id
  }

  async duplicate(id: string): Promise<string> {
    const opened = await this.open(id)
    const { name } = opened.records.find((record) => record.type === 'project')!
    return this.copyIn(opened, `${name.slice(0, 72)} copy`)
  }

  /** A project of its own from the records of another one, wherever that lies. */
  async copyIn({ records }: { records: AnyRecord[] }, name: string): Promise<string> {
    const { light } = records.find((record) => record.type === 'project')!
    const others = records.filter((record) => record.type !== 'project')
    return this.create(name, light, () => duplicate(others, freshId))
  }

  /**
   * Puts a project on the shelf that was written elsewhere, under its own ids; where one of them is taken here it becomes a
   * copy beside what there is. Throws a refusal where its records can not be kept, before anything is written.
   */
  async bringIn(records: AnyRecord[], clips: () => Promise<void>): Promise<{ id: string; copied: boolean }> {
    checkAll(records)
    checkTree(records)
    const project = records.find((record) => record.type === 'project')!
    const others = records.filter((record) => record.type !== 'project')
    await clips()
    return this.database.write(async (manager) => {
      const copied = await someTaken(manager, records)
      const own = copied ? newProject(freshId(), project.name, project.light) : project
      await insertProject(manager, own, copied ? duplicate(others, freshId) : others)
      return { id: own.id, copied }
    })
  }

  /** Puts a project aside, or back on the shelf. */
  async setDeleted(id: string, deleted: boolean): Promise<void> {
    await this.database.write(async (manager) => {
      const done = await manager.update('project', { id }, { deleted: deleted ? new Date().toISOString() : null })
      if (!done.affected) throw unknownProject()
    })
  }

  /** Removes for good what was put aside long ago, and mattes that nobody has named for as long. */
  async sweep(now = Date.now()): Promise<void> {
    const limit = new Date(now - keptDeleted).toISOString()
    await this.database.write(async (manager) => {
      await manager
        .createQueryBuilder()
        .delete()
        .from('project')
        .where('deleted IS NOT NULL AND deleted < :limit', { limit })
        .execute()
      await dropLooseMattes(manager, new Date(now).toISOString(), limit)
    })
  }

  /**
   * One change, whole or not at all, on disk when this returns. A change that was received before answers as it did then.
   * `stored` is the change as it went into the log; none where it was there before, or was not applied. One based on an
   * older revision is laid over what is newer where it clashes with none of it; else it is not applied.
   */
  async commit(
    project: string,
    change: { id: string; base: number; label: string; diff: unknown; step?: StepOfChange },
  ): Promise<{ answer: CommitAnswer; stored?: StoredChange }> {
    checkOr422(change.diff)
    const whole: Diff = change.diff
    return this.database.write(async (manager) => {
      const row = await projectRow(manager, project)
      const before = await manager.findOneBy<ChangeRow>('change', { id: change.id, project })
      if (before) return { answer: { accepted: true, revision: before.revision, newer: [] } }
      if (change.base > row.revision)
        // The shelf went back to a backup.
        throw new HttpRefusal(
          412,
          say`This tab knows a later state than the server. Reload the page; your last changes wait in this browser.`,
        )
      const newer = change.base < row.revision ? await changesAfter(manager, project, change.base) : []
      if (newer.length < row.revision - change.base)
        throw new HttpRefusal(
          410,
          say`This tab is too far behind to catch up. Reload the page; your last changes wait in this browser.`,
        )
      const diff = await putMattesAway(manager, whole)
      if (newer.some((one) => clashes(diff, one.diff).length > 0))
        return { answer: { accepted: false, revision: row.revision, newer } }
      const back = await inverseOf(manager, row, diff)
      await applyDiff(manager, project, diff)
      const revision = row.revision + 1
      const at = new Date().toISOString()
      const { id, label, step = { id, way: 'do' } } = change
      const noted = { diff, back, step: step.id, way: step.way }
      await manager.insert('change', { ...{ id, project, revision, label, at }, ...(noted as object) })
      await manager.update('project', { id: project }, { revision, changed: at })
      if (revision % 100 === 0)
        await manager
          .createQueryBuilder()
          .delete()
          .from('change')
          .where('project = :project AND revision <= :old', { project, old: revision - keptChanges })
          .execute()
      return { answer: { accepted: true, revision, newer }, stored: { id, revision, label, diff } }
    })
  }

  async changesSince(project: string, revision: number): Promise<StoredChange[]> {
    return this.database.read((manager) => changesAfter(manager, project, revision))
  }

  /** The last changes up to a revision, oldest first: at most {@link mostPast}, and no more than are read in a moment. */
  async past(project: string, until: number): Promise<PastChange[]> {
    return this.database.read(async (manager) => {
      await projectRow(manager, project)
      const sizes = await manager.query<{ revision: number; bytes: number }[]>(
        `SELECT revision, length(diff) + coalesce(length(back), 0) AS bytes FROM change
         WHERE project = ? AND revision <= ? ORDER BY revision DESC LIMIT ?`,
        [project, until, mostPast],
      )
      let [from, bytes] = [until + 1, 0]
      for (const one of sizes) {
        bytes += one.bytes
        if (bytes > mostPastBytes) break
        from = one.revision
      }
      const rows = await changesBetween(manager, project, from - 1, until)
      return rows.map((row) => ({
        ...asChange(row),
        back: row.back as Diff | null,
        step: { id: row.step || row.id, way: row.way as StepOfChange['way'] },
        at: row.at,
      }))
    })
  }

  /** A project with the pixels of its mattes, to be put into another database. */
  async whole(id: string): Promise<{ records: AnyRecord[] }> {
    const { records } = await this.open(id)
    return { records: await this.database.read((manager) => withMattes(manager, records)) }
  }

  /** Pixels of mattes by their names. */
  async mattes(names: readonly string[]): Promise<Map<string, string>> {
    return this.database.read((manager) => mattesOf(manager, names))
  }

  /** Throws where there is no such project on the shelf. */
  async exists(id: string): Promise<void> {
    await this.database.read((manager) => projectRow(manager, id))
  }
}

const newProject = (id: string, name: string, light: Project['light']): Project => ({
  ...{ type: 'project', id, name, created: new Date().toISOString(), light },
})

async function insertProject(manager: EntityManager, project: Project, put: AnyRecord[]): Promise<void> {
  checkAll([project, ...put])
  const { id, name, created, light } = project
  const changed = new Date().toISOString()
  await manager.insert('project', { id, name: name.trim(), created, light, revision: 0, changed, deleted: null })
  if (put.length) await applyDiff(manager, id, await putMattesAway(manager, { put, remove: [] }))
}

/** Whether an id of these records is in use, by whichever project. */
async function someTaken(manager: EntityManager, records: readonly AnyRecord[]): Promise<boolean> {
  for (const type of recordTypes) {
    const ids = records.flatMap((record) => (record.type === type ? [record.id] : []))
    for (const some of chunks(ids, 400)) if (await manager.countBy(type, { id: In(some) })) return true
  }
  return false
}

async function changesAfter(manager: EntityManager, project: string, revision: number): Promise<StoredChange[]> {
  return (await changesBetween(manager, project, revision, Number.MAX_SAFE_INTEGER)).map(asChange)
}
/** Changes after one revision, up to and with another. */
const changesBetween = (manager: EntityManager, project: string, after: number, until: number): Promise<ChangeRow[]> =>
  manager
    .createQueryBuilder<ChangeRow>('change', 'c')
    .where('c.project = :project AND c.revision > :after AND c.revision <= :until', { project, after, until })
    .orderBy('c.revision')
    .getMany()

/** What takes a change back: the records that it touches, as they are before it. */
async function inverseOf(
  manager: EntityManager,
  { id: project, name, created, light }: ProjectRow,
  diff: Diff,
): Promise<Diff> {
  const put: AnyRecord[] = []
  const remove: RecordRef[] = []
  for (const type of recordTypes) {
    const wanted = diff.put.filter((record) => record.type === type)
    const ids = [...wanted, ...diff.remove.filter((ref) => ref.type === type)].map((ref) => ref.id)
    if (ids.length === 0) continue
    if (type === 'project') {
      put.push({ type, id: project, name, created, light })
      continue
    }
    const there = new Set<string>()
    for (const some of chunks(ids, 400))
      for (const { project: _, ...fields } of await manager.findBy<Row<typeof type>>(type, { id: In(some), project })) {
        there.add(fields.id)
        put.push({ type, ...fields } as unknown as AnyRecord)
      }
    for (const { id } of wanted) if (!there.has(id)) remove.push({ type, id })
  }
  return { put, remove }
}

const freshId = () => randomUUID().slice(0, 13)
const asChange = (row: ChangeRow): StoredChange => ({
  id: row.id,
  revision: row.revision,
  label: row.label,
  diff: row.diff as Diff,
})
const unknownProject = () =>
  new HttpRefusal(404, say`There is no such project. It may have been deleted; look on the shelf.`)

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

/** Checks however many records: a project may hold more than a change. */
function checkAll(records: AnyRecord[]): void {
  for (const put of chunks(records, limits.diffRecords)) checkOr422({ put, remove: [] })
}

/** Throws where these are not the records of one whole project. */
function checkTree(records: readonly AnyRecord[]): void {
  const known = new Set(records.map(({ type, id }) => `${type} ${id}`))
  const one = records.filter(({ type }) => type === 'project').length === 1 && known.size === records.length
  const loose = records.some((record) => {
    const parent = parentField[record.type]
    return parent && !known.has(`${parent.type} ${(record as unknown as Record<string, string>)[parent.field]}`)
  })
  if (!one || loose)
    throw new HttpRefusal(
      422,
      say`The records in the file do not belong together: some are missing or stand twice. Take the project out once more.`,
    )
}

const damagedProject = (name: string) =>
  new HttpRefusal(
    500,
    say`"${name}" is damaged and can not be opened. Bring it back from a backup, on the shelf; the others are not touched.`,
  )

type Columns = EntityMetadata['columns']
/** Throws where a row of the project holds what is no JSON: before the first byte of an answer is on its way. */
function refuseDamaged(snapshot: Snapshot, row: ProjectRow, type: RecordType, columns: Columns): void {
  const json = columns.filter((column) => column.type === 'simple-json').map(({ databaseName }) => `"${databaseName}"`)
  if (json.length === 0) return
  const wrong = json.map((name) => `(${name} IS NOT NULL AND NOT json_valid(${name}))`).join(' OR ')
  const found = snapshot.prepare(`SELECT 1 FROM "${type}" WHERE project = ? AND (${wrong}) LIMIT 1`).get(row.id)
  if (found) throw damagedProject(row.name)
}

function* recordLines(
  snapshot: Snapshot,
  row: ProjectRow,
  tables: { type: RecordType; columns: Columns }[],
  head: (row: ProjectRow) => object,
  whole: boolean,
): Generator<string> {
  const pixels = snapshot.prepare('SELECT data FROM matte WHERE name = ?')
  /** A matte with its pixels, where they are to be in it and are there. */
  const withData = (text: string): string => {
    const matte = JSON.parse(text) as KeptMatte
    const found = pixels.get(matte.data.slice(1)) as { data: string } | undefined
    return found ? JSON.stringify({ ...matte, data: found.data }) : 'null'
  }
  const now = snapshot.prepare('SELECT * FROM project WHERE id = ?').get(row.id) as ProjectRow
  const { id, name, created, light } = now
  yield `${JSON.stringify(head(now)).slice(0, -1)},"records":[\n${JSON.stringify({ type: 'project', id, name, created, light })}`
  for (const { type, columns } of tables) {
    const fields = columns.filter(({ databaseName }) => databaseName !== 'project')
    for (const values of snapshot.prepare(`SELECT * FROM "${type}" WHERE project = ?`).iterate(row.id)) {
      const of = values as Record<string, string | number | null>
      const texts = fields.map(({ databaseName, type: kind }) => {
        const value = of[databaseName]
        // JSON stands in the row as the text that it is.
        const text =
          kind === 'simple-json' ? (value ?? 'null') : kind === 'boolean' ? Boolean(value) : JSON.stringify(value)
        const given = whole && databaseName === 'matte' && value !== null ? withData(String(value)) : text
        return `"${databaseName}":${String(given)}`
      })
      yield `,\n{"type":"${type}",${texts.join(',')}}`
    }
  }
  yield '\n]}'
}

/** Closing alone keeps what the snapshot sees until it is collected. */
function closeSnapshot(snapshot: Snapshot): void {
  if (snapshot.inTransaction) snapshot.exec('ROLLBACK')
  snapshot.close()
}

/** Whether an error comes from what a record holds, and not from the database. */
const isOfTheRecords = (error: unknown) => error instanceof SyntaxError || error instanceof TypeError

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
      throw new HttpRefusal(422, say`A project is deleted on the shelf, not by a change inside it.`)
    for (const some of chunks(ids, 400)) await manager.delete(type, { id: In(some), project })
  }
  for (const type of recordTypes) {
    const rows = diff.put.filter((record) => record.type === type)
    if (rows.length === 0) continue
    if (type === 'project') {
      const { id, name, light } = rows[0] as Project
      if (id !== project || rows.length > 1)
        throw new HttpRefusal(422, say`A change belongs to one project; this one names another.`)
      await manager.update('project', { id }, { name: name.trim(), light })
      continue
    }
    await refuseForeign(manager, project, type, rows)
    await putRows(manager, type, project, rows)
  }
  await checkShots(manager, diff)
  await checkLooks(manager, project, diff)
  await checkPointCounts(manager, diff)
  await checkRides(manager, project, diff)
}

/**
 * Writes rows of one type in plain SQL, some at a time: TypeORM's own upsert takes five times as long, and a change may put
 * thousands. Values are written as its columns read them.
 */
async function putRows(manager: EntityManager, type: RecordType, project: string, rows: AnyRecord[]): Promise<void> {
  const columns = manager.connection.getMetadata(type).columns.map((column) => ({
    name: column.databaseName,
    isJson: column.type === 'simple-json',
    standard: (column.default as unknown) ?? null,
  }))
  const names = columns.map(({ name }) => `"${name}"`).join(', ')
  const updates = columns.map(({ name }) => `"${name}" = excluded."${name}"`).join(', ')
  const values = `(${columns.map(() => '?').join(', ')})`
  for (const some of chunks(rows, 60))
    await manager.query(
      `INSERT INTO "${type}" (${names}) VALUES ${Array(some.length).fill(values).join(', ')}
       ON CONFLICT ("id") DO UPDATE SET ${updates}`,
      some.flatMap((row) =>
        columns.map(({ name, isJson, standard }) => {
          const value = name === 'project' ? project : ((row as unknown as Record<string, unknown>)[name] ?? standard)
          return isJson && value !== null ? JSON.stringify(value) : value
        }),
      ),
    )
}
