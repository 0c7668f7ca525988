import { EntitySchema, type EntitySchemaColumnOptions } from 'typeorm'
import type { RecordType, RecordTypes } from '#core/model/records.ts'

/** A row of a record: its fields, plus the project it lies in. */
export type Row<T extends RecordType> = Omit<RecordTypes[T], 'type'> & { project: string }

const text: EntitySchemaColumnOptions = { type: 'text' }
const whole: EntitySchemaColumnOptions = { type: 'integer' }
const real: EntitySchemaColumnOptions = { type: 'real' }
const yes: EntitySchemaColumnOptions = { type: 'boolean' }
const json: EntitySchemaColumnOptions = { type: 'simple-json' }
const id: EntitySchemaColumnOptions = { type: 'text', primary: true }
const within = (target: string): EntitySchemaColumnOptions => ({
  type: 'text',
  foreignKey: { target, onDelete: 'CASCADE' },
})

export interface ProjectRow {
  id: string
  name: string
  created: string
  light: 'linear' | 'display'
  /** Number of the last change. */
  revision: number
  changed: string
  /** When it was put aside, or null while it stands on the shelf. */
  deleted: string | null
}
export const projectEntity = new EntitySchema<ProjectRow>({
  name: 'project',
  columns: {
    id,
    name: text,
    created: text,
    light: text,
    revision: whole,
    changed: text,
    deleted: { ...text, nullable: true },
  },
})

const child = <T extends RecordType>(name: T, columns: Record<string, EntitySchemaColumnOptions>, index: string) =>
  new EntitySchema<Row<T>>({
    name,
    columns: { id, project: within('project'), ...columns } as never,
    indices: [
      { name: `${name}_by_project`, columns: ['project'] },
      ...(index ? [{ name: `${name}_by_${index}`, columns: [index] }] : []),
    ],
  })

export const recordEntities = {
  media: child(
    'media',
    {
      ...{
        name: text,
        hash: text,
        codec: text,
        audio: text,
        width: whole,
        height: whole,
        rotation: whole,
        frames: whole,
      },
      ...{ rate: real, variableRate: yes, seconds: real, bytes: whole, matrix: text, range: text, tagged: yes },
    },
    'hash',
  ),
  shot: child(
    'shot',
    { media: within('media'), name: text, order: real, in: whole, out: whole, join: { ...whole, default: 0 } },
    '',
  ),
  member: child('member', { shot: within('shot'), name: text, kind: text, colour: whole, order: real }, ''),
  part: child(
    'part',
    {
      ...{ member: within('member'), name: text, kind: text, order: real, tween: text, hold: yes, settings: json },
      ...{ role: { ...text, default: 'add' }, hidden: { ...yes, default: false }, locked: { ...yes, default: false } },
      ride: { ...json, nullable: true },
    },
    '',
  ),
  key: child(
    'key',
    {
      ...{ part: within('part'), frame: whole, points: json, tween: { ...text, default: '' } },
      ...{ followed: { ...real, nullable: true }, matte: { ...json, nullable: true } },
    },
    'part',
  ),
  stroke: child(
    'stroke',
    { part: within('part'), frame: whole, order: real, wanted: yes, size: real, points: json },
    'part',
  ),
  away: child('away', { part: within('part'), from: whole, to: whole }, ''),
  mark: child('mark', { shot: within('shot'), frame: whole, note: text }, ''),
  effect: child(
    'effect',
    {
      ...{ shot: within('shot'), kind: text, order: real, on: yes, target: text, behind: json, blend: text },
      ...{ settings: json, region: json, range: { ...json, nullable: true }, group: { ...text, default: '' } },
      ...{ opacity: json, groupOpacity: { ...real, default: 1 } },
    },
    '',
  ),
  look: child('look', { name: text, about: text, needs: json, cards: json, preview: text }, ''),
}

/** Every change, in order: what a second tab missed, and what has been received already. */
export interface ChangeRow {
  id: string
  project: string
  revision: number
  label: string
  diff: unknown
  at: string
}
export const changeEntity = new EntitySchema<ChangeRow>({
  name: 'change',
  columns: { id, project: within('project'), revision: whole, label: text, diff: json, at: text },
  indices: [{ name: 'change_by_revision', columns: ['project', 'revision'], unique: true }],
})

/** A file of footage, stored once whoever uses it. */
export interface FootageRow {
  hash: string
  bytes: number
  facts: unknown
  stored: string
}
export const footageEntity = new EntitySchema<FootageRow>({
  name: 'footage',
  columns: { hash: id, bytes: whole, facts: json, stored: text },
})

/** A file that was rendered and kept. */
export interface OutputRow {
  id: string
  project: string
  shot: string
  name: string
  bytes: number
  about: string
  made: string
}
export const outputEntity = new EntitySchema<OutputRow>({
  name: 'output',
  columns: { id, project: within('project'), shot: text, name: text, bytes: whole, about: text, made: text },
  indices: [{ name: 'output_by_project', columns: ['project'] }],
})

export const entities = [projectEntity, ...Object.values(recordEntities), changeEntity, footageEntity, outputEntity]
