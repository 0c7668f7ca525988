import { EntitySchema, type EntitySchemaColumnOptions } from 'typeorm'
import type { SchemaDescription } from 'yup'
import type { ConversionChoices, ConversionQuestions } from '#core/records/exchange.ts'
import { recordSchemas } from '#core/records/schemas.ts'
import { type KeptLook, parentField, type RecordType, recordTypes, type RecordTypes } from '#core/records/types.ts'

/** A row of a record: its fields, plus the project it lies in. */
export type Row<T extends RecordType> = Omit<RecordTypes[T], 'type'> & { project: string }

const text: EntitySchemaColumnOptions = { type: 'text' }
const whole: EntitySchemaColumnOptions = { type: 'integer' }
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

/** What columns that came with a later migration hold in the rows of before. */
const defaults: { [T in RecordType]?: Partial<RecordTypes[T]> } = {
  shot: { join: 0, level: 0, timing: null },
  part: { role: 'add', hidden: false, locked: false },
  key: { tween: '' },
  effect: { group: '', groupOpacity: 1, behindRange: null },
}
/** Fields beside the project by which rows are looked up. */
const lookedUpBy: { [T in RecordType]?: string } = { media: 'hash', key: 'part', stroke: 'part' }

/** The column of a field, from its schema: what is neither text, a number nor yes and no is kept as JSON. */
function columnOf(type: RecordType, name: string, field: SchemaDescription): EntitySchemaColumnOptions {
  const parent = parentField[type]
  if (name === parent?.field) return within(parent.type)
  const isWhole = (field.tests ?? []).some((test) => test.name === 'integer')
  const types = { string: 'text', number: isWhole ? 'integer' : 'real', boolean: 'boolean' } as const
  const standard = (defaults[type] as Record<string, string | number | boolean> | undefined)?.[name]
  return {
    type: types[field.type as keyof typeof types] ?? 'simple-json',
    ...(field.nullable ? { nullable: true } : {}),
    ...(standard === undefined ? {} : { default: standard }),
  }
}

/** The table of a record type: a column for every field of its schema. */
function recordEntity<T extends RecordType>(type: T): EntitySchema<Row<T>> {
  const { fields } = recordSchemas({ parts: {}, effects: {}, sounds: {}, moments: [] }).records[type].describe()
  const columns = Object.entries(fields)
    .filter(([name]) => name !== 'type' && name !== 'id')
    .map(([name, field]) => [name, columnOf(type, name, field as SchemaDescription)])
  const index = lookedUpBy[type]
  return new EntitySchema<Row<T>>({
    name: type,
    columns: { id, project: within('project'), ...Object.fromEntries(columns) } as never,
    indices: [
      { name: `${type}_by_project`, columns: ['project'] },
      ...(index ? [{ name: `${type}_by_${index}`, columns: [index] }] : []),
    ],
  })
}

const recordEntities = recordTypes.filter((type) => type !== 'project').map(recordEntity)

/** Every change, in order: what a second tab missed, and what has been received already. */
export interface ChangeRow {
  id: string
  project: string
  revision: number
  label: string
  diff: unknown
  /** What takes it back; null for changes of before that was noted. */
  back: unknown
  /** Undo step that it belongs to, '' for changes of before these were noted, and what it is to it. */
  step: string
  way: string
  at: string
}
export const changeEntity = new EntitySchema<ChangeRow>({
  name: 'change',
  columns: {
    ...{ id, project: within('project'), revision: whole, label: text, diff: json, at: text },
    back: { ...json, nullable: true },
    step: { ...text, default: '' },
    way: { ...text, default: 'do' },
  },
  indices: [{ name: 'change_by_revision', columns: ['project', 'revision'], unique: true }],
})

/** The pixels of painted mattes, once each, whoever has them: keys and the log of changes only name them. */
export interface MatteRow {
  name: string
  data: string
  /** Since when nobody names it, or null. */
  loose: string | null
}
export const matteEntity = new EntitySchema<MatteRow>({
  name: 'matte',
  columns: { name: id, data: text, loose: { ...text, nullable: true } },
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

/** A clip that came in for a project and has to be converted, or was. */
export interface ConversionRow {
  id: string
  project: string
  name: string
  /** Hash of the file as it came in, under which it lies among the originals, and its size. */
  source: string
  bytes: number
  called: string
  state: 'asking' | 'waiting' | 'done' | 'failed' | 'taken'
  /** What there was to choose, and what was chosen; null where there was no choice. */
  questions: ConversionQuestions | null
  choices: ConversionChoices | null
  /** Hash of what came of it; '' before. */
  result: string
  /** Why it failed, in a sentence; where it is done, what of it is not as it should be. */
  error: string
  asked: string
}
export const conversionEntity = new EntitySchema<ConversionRow>({
  name: 'conversion',
  columns: {
    ...{ id, project: within('project'), name: text, source: text, bytes: whole, called: text, state: text },
    ...{ result: text, error: text, asked: text },
    ...{ questions: { ...json, nullable: true }, choices: { ...json, nullable: true } },
  },
  indices: [{ name: 'conversion_by_project', columns: ['project'] }],
})

/** A look that is kept for all projects. */
export interface OwnLookRow extends Omit<KeptLook, 'type'> {
  /** When, which is their order. */
  kept: string
}
export const ownLookEntity = new EntitySchema<OwnLookRow>({
  name: 'own_look',
  columns: { id, name: text, about: text, needs: json, cards: json, preview: text, kept: text },
})

export const entities = [
  ...[projectEntity, ...recordEntities, changeEntity, matteEntity, footageEntity, outputEntity],
  conversionEntity,
  ownLookEntity,
]
