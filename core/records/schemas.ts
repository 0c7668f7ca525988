import { say } from '../say.ts'
import * as yup from 'yup'
import { opacityParameter } from '../parameters/opacity.ts'
import type { Parameter, Settings } from '../parameters/parameters.ts'
import { movingSchema, settingsSchema } from '../parameters/schemas.ts'
import { strangeFields } from '../parameters/words.ts'
import { blendNames } from '../pixels/colour/blend.ts'
import { Refusal } from '../refusal.ts'
import type { Diff, RecordRef } from './diff.ts'
import { checkKeepable } from './keepable.ts'
import { limits } from './limits.ts'
import {
  type AnyRecord,
  type EffectCard,
  keyId,
  pictureCodecs,
  type RecordType,
  recordTypes,
  type RecordTypes,
} from './types.ts'

/** What the records are to know of the kinds that they name: the settings of each, by its name. */
export interface KindSettings {
  parts: Record<string, readonly Parameter[]>
  effects: Record<string, readonly Parameter[]>
  sounds: Record<string, readonly Parameter[]>
  /** What the moments of sounds may come from. */
  moments: readonly string[]
}

/** The schema of every record type, and of the fields of a card, for these kinds. */
export function recordSchemas(kinds: KindSettings) {
  const cardFields = cardFieldsFor(kinds.effects)
  return {
    cardFields,
    records: {
      project: projectSchema,
      media: mediaSchema,
      shot: shotSchema,
      member: memberSchema,
      part: partSchemaFor(kinds.parts),
      key: keySchema,
      stroke: strokeSchema,
      away: awaySchema,
      mark: markSchema,
      plate: plateSchema,
      effect: yup.object({ type: tag('effect'), id: id(), shot: id(), order: order(), ...cardFields }),
      sound: soundSchemaFor(kinds),
      look: lookSchemaFor(cardFields),
    } satisfies { [T in RecordType]: yup.Schema<RecordTypes[T]> },
  }
}

/** The checks that both sides keep to, for these kinds: each throws an Error whose message is a sentence. */
export interface RecordChecks {
  /** Checks one record alone; relations between records are the business of whoever holds them all. */
  record(record: unknown): asserts record is AnyRecord
  /** Checks the form of a diff from outside, and every record in it. */
  diff(diff: unknown): asserts diff is Diff
  /** Checks what a look is made of, wherever it is kept: see looks/looks.ts. */
  look(look: unknown): void
}

export function recordChecks(kinds: KindSettings): RecordChecks {
  const { records, cardFields } = recordSchemas(kinds)
  // Made once: every call of a schema's builder copies the schema.
  const strict = Object.fromEntries(
    Object.entries(records).map(([type, schema]) => [
      type,
      (schema as yup.ObjectSchema<yup.AnyObject>).strict().noUnknown(strangeFields(say`It`)),
    ]),
  )
  const looks = yup
    .object(lookFieldsOf(cardFields))
    .strict()
    .noUnknown(strangeFields(say`A look`))

  const record = (record: unknown): void => {
    const type = (record as { type?: unknown } | null)?.type
    if (typeof type !== 'string' || !Object.hasOwn(strict, type))
      throw new Refusal(
        typeof type === 'string' && type
          ? say`There is no record type called "${type.slice(0, 40)}".`
          : say`A record of the change does not say of what type it is.`,
      )
    if (isPlainKey(record)) return
    try {
      strict[type]!.validateSync(record)
    } catch (error) {
      const why = error instanceof yup.ValidationError ? error.message : say`it is damaged.`
      throw new Refusal(say`The ${type} was refused: ${why}`, { cause: error })
    }
    checkKeepable(record, type)
  }
  const diff = (diff: unknown): void => {
    const { put, remove } = (diff ?? {}) as Partial<Diff>
    if (!Array.isArray(put) || !Array.isArray(remove))
      throw new Refusal(say`A change needs the lists "put" and "remove".`)
    if (put.length + remove.length > limits.diffRecords)
      throw new Refusal(say`A change holds at most ${limits.diffRecords} records; make it in smaller steps.`)
    put.forEach(record)
    for (const ref of remove as Partial<RecordRef>[])
      if (!ref || typeof ref.id !== 'string' || !recordTypes.includes(ref.type as RecordType))
        throw new Refusal(say`Every removal needs a type and an id.`)
  }
  return { record, diff, look: (look) => void looks.validateSync(look) }
}

// Fields that many records have.

const id = () =>
  yup
    .string()
    .matches(/^[A-Za-z0-9_@-]{1,80}$/, '${path} must be an id of letters, digits, _, @ or -.')
    .required(say`\${path} is missing.`)
const name = () =>
  yup
    .string()
    .test('blank', say`The name is empty; type at least one character.`, (value) => (value ?? '').trim() !== '')
    .max(limits.name, say`The name is too long; keep it under ${limits.name} characters.`)
    .required(say`The name is missing.`)
const whole = (label: string) =>
  yup
    .number()
    .typeError(say`${label} must be a number.`)
    .integer(say`${label} must be a whole number.`)
    .required(say`${label} is missing.`)
const order = () =>
  yup
    .number()
    .typeError(say`The order must be a number.`)
    .min(-1e9)
    .max(1e9)
    .required(say`The order is missing.`)
const tag = <T extends string>(type: T) => yup.string<T>().oneOf([type]).required()
const frame = () =>
  whole(say`The frame`)
    .min(-limits.frames)
    .max(limits.frames)
const oneOf = <T extends string>(names: readonly T[], sentence?: string) =>
  yup.string<T>().oneOf(names, sentence).required()
/** Points of a key, a stroke or a reference shape: a flat list of plate pixels. One loop: there are thousands of them. */
const pointList = () =>
  yup
    .mixed<number[]>((value): value is number[] => Array.isArray(value))
    .required()
    .typeError(say`The points of a shape are a list of numbers.`)
    .test('points', (points, { createError }) => {
      const wrong = wrongPoints(points)
      return wrong === null || createError({ message: wrong })
    })
function wrongPoints(points: readonly unknown[]): string | null {
  if (points.length < 2) return say`A shape needs at least one point.`
  if (points.length > limits.numbers)
    return say`A shape has at most ${limits.numbers / 8} points; trace it in several parts.`
  for (const number of points) {
    if (typeof number !== 'number' || Number.isNaN(number)) return say`Every coordinate must be a number.`
    if (Math.abs(number) > limits.coordinate) return say`A point lies too far outside the picture; undo the last nudge.`
  }
  return null
}
const tweens = ['straight', 'arc', 'eased', 'held'] as const
const tweenSentence = say`In-betweens are straight, arc, eased or held.`

/** The name of a kind; the sentence is what refuses any other. */
const kindName = (kinds: Record<string, unknown>, sentence: string) =>
  yup.string().oneOf(Object.keys(kinds), sentence).required()
/** Settings as the kind beside them describes them. */
const settingsOf = (kinds: Record<string, readonly Parameter[]>) =>
  yup
    .mixed<Settings>()
    .required()
    .test('settings', function (value) {
      const { kind } = this.parent as { kind?: string }
      const parameters = kind !== undefined && Object.hasOwn(kinds, kind) && kinds[kind]
      if (!parameters) return true
      try {
        settingsSchema(parameters).validateSync(value, { strict: true })
        return true
      } catch (error) {
        return this.createError({ message: (error as Error).message })
      }
    })

const projectSchema = yup.object({
  type: tag('project'),
  id: id(),
  name: name(),
  created: yup.string().max(40).required(),
  light: oneOf(['linear', 'display']),
})

const mediaSchema = yup.object({
  type: tag('media'),
  id: id(),
  name: yup.string().max(260).required(),
  hash: yup
    .string()
    .matches(/^[0-9a-f]{64}$/, say`The content hash must be 64 hexadecimal digits.`)
    .required(),
  codec: oneOf(['avc', 'vp8', 'vp9', 'av1', 'sound', ...pictureCodecs] as const),
  audio: yup.string().max(40).defined(),
  width: whole(say`The width`)
    .min(0)
    .max(limits.side.max),
  height: whole(say`The height`)
    .min(0)
    .max(limits.side.max),
  rotation: whole(say`The rotation`).oneOf([0, 90, 180, 270]),
  frames: whole(say`The frame count`)
    .min(0)
    .max(limits.frames),
  rate: yup
    .number()
    .min(limits.rate.min, say`A clip has at least one frame in 100 seconds.`)
    .max(limits.rate.max, say`A clip has at most 1000 frames a second.`)
    .required(),
  variableRate: yup.boolean().required(),
  seconds: yup
    .number()
    .min(0)
    .max(limits.frames / limits.rate.min)
    .required(),
  bytes: whole(say`The size`).min(1),
  matrix: oneOf(['bt709', 'bt601']),
  range: oneOf(['limited', 'full']),
  tagged: yup.boolean().required(),
})

const shotSchema = yup.object({
  type: tag('shot'),
  id: id(),
  media: id(),
  name: name(),
  order: order(),
  in: whole(say`The in point`).min(0, say`The in point can not lie before the clip.`),
  out: whole(say`The out point`)
    .min(1)
    .max(limits.frames),
  join: whole(say`The join`)
    .min(0, say`A join takes 0 frames or more.`)
    .max(limits.frames),
  level: yup
    .number()
    .min(-60, say`All of a shot’s sound is lowered by at most 60 dB.`)
    .max(30, say`All of a shot’s sound is raised by at most 30 dB.`)
    .optional(),
  timing: yup
    .array()
    .of(
      yup.object({
        from: yup
          .number()
          .min(0, say`A piece of a shot can not begin before its clip.`)
          .max(limits.frames)
          .required(),
        step: yup.number().min(-limits.speed.max).max(limits.speed.max).required(),
        length: whole(say`The length of a piece`)
          .min(1, say`A piece of a shot lasts a frame at least.`)
          .max(limits.frames),
        between: oneOf(['repeated', 'blended', 'moved']),
      }),
    )
    .min(1)
    .max(limits.timePieces, say`A shot has at most ${limits.timePieces} pieces that run at speeds of their own.`)
    .nullable()
    .optional(),
})

const memberSchema = yup.object({
  type: tag('member'),
  id: id(),
  shot: id(),
  name: name(),
  kind: oneOf(['prop', 'eye', 'hand', 'performer', 'other']),
  colour: whole(say`The colour`)
    .min(0)
    .max(7),
  order: order(),
})

const partSchemaFor = (kinds: KindSettings['parts']) =>
  yup.object({
    type: tag('part'),
    id: id(),
    member: id(),
    name: name(),
    kind: kindName(kinds, say`A part is a rod, an oval, an outline, a pin, a point or a painted matte.`),
    order: order(),
    tween: oneOf(tweens, tweenSentence),
    hold: yup.boolean().required(),
    role: oneOf(['add', 'cut', 'limit'], say`A part adds to, cuts from or limits the matte.`),
    hidden: yup.boolean().required(),
    locked: yup.boolean().required(),
    ride: yup
      .object({
        on: id(),
        from: yup
          .array(yup.object({ part: id(), points: pointList() }))
          .min(1)
          .max(60)
          .required(),
      })
      .nullable()
      .defined(),
    settings: settingsOf(kinds),
  })

const keySchema = yup.object({
  type: tag('key'),
  id: id().test('key-id', say`The id of a key is made of its part and frame.`, function (value) {
    const parent = this.parent as { part?: string; frame?: number }
    return value === keyId(parent.part ?? '', parent.frame ?? 0)
  }),
  part: id(),
  frame: frame(),
  points: pointList(),
  tween: yup
    .string()
    .oneOf([...tweens, ''] as const, tweenSentence)
    .defined(),
  followed: yup
    .number()
    .min(0, say`A confidence lies between 0 and 1.`)
    .max(1, say`A confidence lies between 0 and 1.`)
    .nullable()
    .optional(),
  matte: yup
    .object({
      x: whole(say`The left of a matte`)
        .min(0)
        .max(limits.side.max),
      y: whole(say`The top of a matte`)
        .min(0)
        .max(limits.side.max),
      width: whole(say`The width of a matte`)
        .min(1)
        .max(limits.side.max),
      height: whole(say`The height of a matte`)
        .min(1)
        .max(limits.side.max),
      data: yup
        .string()
        .max(limits.matteLetters, say`The matte of a frame is too large.`)
        .matches(/^(#[A-Za-z0-9_-]{22}|[A-Za-z0-9+/]*={0,2})$/, say`A matte is kept in base 64.`)
        .required(),
    })
    .nullable()
    .optional()
    .default(undefined),
})

const keyFields = new Set(['type', 'id', 'part', 'frame', 'points', 'tween', 'followed', 'matte'])
/**
 * Whether it is a key as nearly all are, without a matte: such a one needs no schema. A change may put thousands of them,
 * and the schema takes twenty times as long. Whatever is not, well or ill, is the schema's to judge.
 */
export function isPlainKey(record: unknown): boolean {
  const key = record as Partial<RecordTypes['key']>
  if (key.type !== 'key' || typeof key.part !== 'string' || !/^[A-Za-z0-9_-]{1,60}$/.test(key.part)) return false
  if (!Number.isInteger(key.frame) || Math.abs(key.frame!) > limits.frames) return false
  if (key.id !== keyId(key.part, key.frame!) || !Array.isArray(key.points) || wrongPoints(key.points)) return false
  if (key.tween !== '' && !tweens.includes(key.tween as never)) return false
  if (key.matte !== undefined && key.matte !== null) return false
  const sure = key.followed ?? 0
  return typeof sure === 'number' && sure >= 0 && sure <= 1 && Object.keys(key).every((name) => keyFields.has(name))
}

const strokeSchema = yup.object({
  type: tag('stroke'),
  id: id(),
  part: id(),
  frame: frame(),
  order: order(),
  wanted: yup.boolean().required(),
  size: yup
    .number()
    .min(1, say`A brush is at least 1 px wide.`)
    .max(limits.brush, say`A brush is at most ${limits.brush} px wide.`)
    .required(),
  points: pointList(),
})

const awaySchema = yup
  .object({
    type: tag('away'),
    id: id(),
    part: id(),
    from: whole(say`The first frame`)
      .min(-limits.frames)
      .max(limits.frames),
    to: whole(say`The last frame`)
      .min(-limits.frames)
      .max(limits.frames),
  })
  .test('range', say`An away range must not end before it begins.`, (value) => value.from <= value.to)

const markSchema = yup.object({
  type: tag('mark'),
  id: id(),
  shot: id(),
  frame: frame(),
  note: yup
    .string()
    .max(400, say`The note is too long; keep it under 400 characters.`)
    .defined(),
})

const plateSchema = yup.object({
  type: tag('plate'),
  id: id(),
  shot: id(),
  media: id(),
  x: whole(say`The left of a clean plate`)
    .min(-limits.coordinate)
    .max(limits.coordinate),
  y: whole(say`The top of a clean plate`)
    .min(-limits.coordinate)
    .max(limits.coordinate),
  from: whole(say`The first frame`)
    .min(0)
    .max(limits.frames),
  motions: yup
    .mixed<number[]>((value): value is number[] => Array.isArray(value))
    .required()
    .typeError(say`The motions of a clean plate are a list of numbers.`)
    .test(
      'motions',
      say`A clean plate has four numbers for every frame that it knows.`,
      (motions) =>
        motions.length % 4 === 0 &&
        motions.length <= 4 * limits.frames &&
        motions.every((one: unknown) => typeof one === 'number' && Math.abs(one) <= limits.coordinate),
    ),
})

const regionSchema = yup.object({
  of: yup.array(id()).max(60).required(),
  side: oneOf(['inside', 'outside', 'edge'], say`An effect works inside, outside or along the edge.`),
  grow: yup
    .number()
    .min(-400, say`The region shrinks by at most 400 px.`)
    .max(400, say`The region grows by at most 400 px.`)
    .required(),
  soften: yup
    .number()
    .min(0)
    .max(400, say`The region is softened by at most 400 px.`)
    .required(),
  filmed: yup.boolean().optional(),
})

const fade = () =>
  yup
    .number()
    .min(0, say`A fade takes 0 frames or more.`)
    .max(limits.frames)
    .required()
const rangeSchema = yup
  .object({
    from: whole(say`The first frame`)
      .min(-limits.frames)
      .max(limits.frames),
    to: whole(say`The last frame`)
      .min(-limits.frames)
      .max(limits.frames),
    fadeIn: fade(),
    fadeOut: fade(),
  })
  .test(
    'range',
    say`The frames of an effect must not end before they begin.`,
    (value) => !value || value.from <= value.to,
  )

const cardFieldsFor = (kinds: KindSettings['effects']) => ({
  kind: kindName(kinds, say`There is no effect of this kind.`),
  on: yup.boolean().required(),
  target: yup.string().max(80).defined(),
  region: regionSchema.required(),
  behind: yup.array(id()).max(60).required(),
  behindRange: rangeSchema.nullable().optional(),
  blend: oneOf(blendNames, say`There is no blending of this name.`),
  opacity: movingSchema(opacityParameter) as yup.Schema<EffectCard['opacity']>,
  range: rangeSchema.nullable().defined(),
  group: yup
    .string()
    .max(limits.name, say`The name of a group is too long; keep it under ${limits.name} characters.`)
    .defined(),
  groupOpacity: yup.number().min(0).max(1).optional(),
  settings: settingsOf(kinds),
})

/** A frame that may lie between two. */
const between = (label: string) =>
  yup
    .number()
    .typeError(say`${label} must be a number.`)
    .min(-limits.frames)
    .max(limits.frames)
const beadSchema = yup.object({
  at: between(say`The frame of a moment`)
    .nullable()
    .defined(),
  frame: between(say`The frame of a moment`)
    .nullable()
    .defined(),
  muted: yup.boolean().required(),
  gain: yup
    .number()
    .min(-60, say`A moment is at most 60 dB quieter.`)
    .max(24, say`A moment is at most 24 dB louder.`)
    .required(),
})
const soundSchemaFor = ({ sounds, moments }: KindSettings) =>
  yup.object({
    type: tag('sound'),
    id: id(),
    shot: id(),
    order: order(),
    kind: kindName(sounds, say`There is no sound of this kind.`),
    on: yup.boolean().required(),
    way: oneOf(['through', 'moments'], say`A sound is there through a range, or at moments.`),
    target: yup.string().max(80).defined(),
    source: oneOf(moments, say`There are no moments of this name.`),
    with: yup.string().max(80).defined(),
    beads: yup
      .array(beadSchema.noUnknown(strangeFields(say`A moment`)))
      .max(limits.beads, say`A sound has at most ${limits.beads} moments set by hand; use a second card.`)
      .required(),
    range: rangeSchema.nullable().defined(),
    takes: yup
      .array(id())
      .max(60, say`A sound takes turns among at most 60 files.`)
      .required(),
    settings: settingsOf(sounds),
  })

const lookFieldsOf = (cardFields: ReturnType<typeof cardFieldsFor>) => ({
  name: name(),
  about: yup
    .string()
    .max(200, say`What a look is good for is said in 200 characters at most.`)
    .defined(),
  needs: yup.array(yup.string().max(40).required()).max(20).required(),
  cards: yup
    .array(yup.object(cardFields).noUnknown(strangeFields(say`A card`)))
    .min(1, say`The look has no cards.`)
    .max(40, say`A look has at most 40 cards.`)
    .required(),
})

const lookSchemaFor = (cardFields: ReturnType<typeof cardFieldsFor>) =>
  yup.object({
    type: tag('look'),
    id: id(),
    ...lookFieldsOf(cardFields),
    preview: yup
      .string()
      .max(60_000, say`The picture of the look is too large.`)
      .matches(/^(data:image\/jpeg;base64,[A-Za-z0-9+/=]+)?$/, 'The picture of a look is a small JPEG.')
      .defined(),
  })
