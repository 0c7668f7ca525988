import { type EntityManager, In } from 'typeorm'
import type { Diff } from '#core/records/diff.ts'
import { type AnyRecord, matteElsewhere, withPixels } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import type { MatteRow } from './entities.ts'
import { matteName } from './matteName.ts'

/*
 * Pixels of painted mattes are most of what a project weighs. They are kept apart under a name made of their content:
 * neither the opening of a project nor the log of changes carries them.
 */

/** The change with its mattes put away. Throws a refusal where it names one that is not here. */
export async function putMattesAway(manager: EntityManager, diff: Diff): Promise<Diff> {
  const fresh = new Map<string, string>()
  const named = new Set<string>()
  const put = diff.put.map((record) => {
    if (record.type !== 'key' || !record.matte) return record
    const elsewhere = matteElsewhere(record)
    const name = elsewhere ?? matteName(record.matte.data)
    if (elsewhere === null) fresh.set(name, record.matte.data)
    else named.add(elsewhere)
    return withPixels(record, `#${name}`)
  })
  for (const [name, data] of fresh)
    await manager.query('INSERT INTO matte (name, data) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET loose = NULL', [
      ...[name, data],
    ])
  for (const name of named)
    if (!(await manager.update('matte', { name }, { loose: null })).affected)
      throw new HttpRefusal(
        422,
        say`The matte of a frame is not on the server any more. Paint or carry it there again.`,
      )
  return { ...diff, put }
}

/** Pixels by their names; of those that are not here, nothing. */
export async function mattesOf(manager: EntityManager, names: readonly string[]): Promise<Map<string, string>> {
  const rows = await manager.findBy<MatteRow>('matte', { name: In([...names]) })
  return new Map(rows.map(({ name, data }) => [name, data]))
}

/** The records with their mattes in them, as another database needs them. */
export async function withMattes(manager: EntityManager, records: AnyRecord[]): Promise<AnyRecord[]> {
  const out: AnyRecord[] = []
  for (const record of records) {
    const name = matteElsewhere(record)
    const data = name && (await mattesOf(manager, [name])).get(name)
    out.push(data && record.type === 'key' ? withPixels(record, data) : record)
  }
  return out
}

/** What still names a matte: keys, and the log of changes. */
const named = `SELECT substr(json_extract(matte, '$.data'), 2) FROM "key" WHERE matte IS NOT NULL
  UNION SELECT substr(json_extract(record.value, '$.matte.data'), 2)
  FROM change, json_each(change.diff, '$.put') AS record WHERE json_extract(record.value, '$.matte') IS NOT NULL
  UNION SELECT substr(json_extract(record.value, '$.matte.data'), 2)
  FROM change, json_each(change.back, '$.put') AS record WHERE json_extract(record.value, '$.matte') IS NOT NULL`

/**
 * Notes which mattes nobody names any more, and takes away those that nobody has named since before `limit` (ISO time):
 * until then an undo may bring their key back.
 */
export async function dropLooseMattes(manager: EntityManager, now: string, limit: string): Promise<void> {
  await manager.query(`UPDATE matte SET loose = NULL WHERE loose IS NOT NULL AND name IN (${named})`)
  await manager.query(`UPDATE matte SET loose = ? WHERE loose IS NULL AND name NOT IN (${named})`, [now])
  await manager.query(`DELETE FROM matte WHERE loose < ?`, [limit])
}
