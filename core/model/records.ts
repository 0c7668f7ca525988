import * as yup from 'yup'
import { effectKinds } from '../effects/registry.ts'
import { partKinds } from '../shapes/registry.ts'
import { blendNames, type BlendName } from '../image/blend.ts'
import {
  movingSchema,
  settingsSchema,
  type Curve,
  type Drive,
  type NumberParameter,
  type Settings,
} from './parameters.ts'

/** Limits that every side keeps to; refusals name them. */
export const limits = {
  name: 80,
  side: { min: 16, max: 4096 },
  pixels: 4096 * 2304,
  frames: 20_000,
  coordinate: 1e6,
  numbers: 3000,
  brush: 400,
  matteLetters: 4_000_000,
  diffRecords: 20_000,
  uploadBytes: 4 * 1024 ** 3,
} as const

const id = () =>
  yup
    .string()
    .matches(/^[A-Za-z0-9_@-]{1,80}$/, '${path} must be an id of letters, digits, _, @ or -.')
    .required('${path} is missing.')
const name = () =>
  yup
    .string()
    .test('blank', 'The name is empty; type at least one character.', (value) => (value ?? '').trim() !== '')
    .max(limits.name, `The name is too long; keep it under ${limits.name} characters.`)
    .required('The name is missing.')
const whole = (label: string) =>
  yup
    .number()
    .typeError(`${label} must be a number.`)
    .integer(`${label} must be a whole number.`)
    .required(`${label} is missing.`)
const order = () => yup.number().typeError('The order must be a number.').required('The order is missing.')
const tag = <T extends string>(type: T) => yup.string<T>().oneOf([type]).required()

const projectSchema = yup.object({
  type: tag('project'),
  id: id(),
  name: name(),
  created: yup.string().required(),
  /** Whether light is blended in linear light or on the encoded values. */
  light: yup.string<'linear' | 'display'>().oneOf(['linear', 'display']).required(),
})

const mediaSchema = yup.object({
  type: tag('media'),
  id: id(),
  name: yup.string().max(260).required(),
  hash: yup
    .string()
    .matches(/^[0-9a-f]{64}$/, 'The content hash must be 64 hexadecimal digits.')
    .required(),
  /** How a video is coded, or what its pictures are: a still is a sequence of one. */
  codec: yup.string<MediaCodec>().oneOf(['avc', 'vp8', 'vp9', 'av1', 'png', 'jpeg']).required(),
  audio: yup.string().defined(),
  /** Size of the upright picture in pixels, rotation applied. */
  width: whole('The width').min(1).max(limits.side.max),
  height: whole('The height').min(1).max(limits.side.max),
  /** Clockwise turn in degrees that makes the coded picture upright. */
  rotation: yup.number().oneOf([0, 90, 180, 270]).required(),
  frames: whole('The frame count').min(1).max(limits.frames),
  /** Frames a second: the mean over the clip. */
  rate: yup.number().moreThan(0).max(1000).required(),
  variableRate: yup.boolean().required(),
  seconds: yup.number().min(0).required(),
  bytes: whole('The size').min(1),
  matrix: yup.string<'bt709' | 'bt601'>().oneOf(['bt709', 'bt601']).required(),
  range: yup.string<'limited' | 'full'>().oneOf(['limited', 'full']).required(),
  /** False where the file names no colour matrix and the size decided. */
  tagged: yup.boolean().required(),
})

const shotSchema = yup.object({
  type: tag('shot'),
  id: id(),
  media: id(),
  name: name(),
  order: order(),
  /** First frame of the clip and the one after the last. */
  in: whole('The in point').min(0, 'The in point can not lie before the clip.'),
  out: whole('The out point').min(1).max(limits.frames),
  /** Over how many of its last frames the next shot runs already; 0 for a cut. */
  join: whole('The join').min(0, 'A join takes 0 frames or more.').max(limits.frames),
})

const memberSchema = yup.object({
  type: tag('member'),
  id: id(),
  shot: id(),
  name: name(),
  kind: yup.string<MemberKind>().oneOf(['prop', 'eye', 'hand', 'performer', 'other']).required(),
  /** Index into the cast colours, 0 to 7. */
  colour: whole('The colour').min(0).max(7),
  order: order(),
})

const tweens = ['straight', 'arc', 'eased', 'held'] as const
const tweenSentence = 'In-betweens are straight, arc, eased or held.'
/** Points of a key or of a reference shape: a flat list of plate pixels. */
const pointList = () =>
  yup
    .array(
      yup
        .number()
        .required()
        .typeError('Every coordinate must be a number.')
        .min(-limits.coordinate, 'A point lies too far outside the picture; undo the last nudge.')
        .max(limits.coordinate, 'A point lies too far outside the picture; undo the last nudge.'),
    )
    .min(2, 'A shape needs at least one point.')
    .max(limits.numbers, `A shape has at most ${limits.numbers / 8} points; trace it in several parts.`)
    .required()

const partSchema = yup.object({
  type: tag('part'),
  id: id(),
  member: id(),
  name: name(),
  kind: yup
    .string<PartKindName>()
    .oneOf(
      Object.keys(partKinds) as PartKindName[],
      'A part is a rod, an oval, an outline, a pin, a point or a painted matte.',
    )
    .required(),
  order: order(),
  tween: yup.string<Tween>().oneOf(tweens, tweenSentence).required(),
  /** Whether the shape stays before its first and after its last key. */
  hold: yup.boolean().required(),
  /** What the part does to its member's matte, in the order of the parts. */
  role: yup.string<Role>().oneOf(['add', 'cut', 'limit'], 'A part adds to, cuts from or limits the matte.').required(),
  /** Not drawn on the bench; it counts in mattes and effects all the same. */
  hidden: yup.boolean().required(),
  /** Seen but not to be moved. */
  locked: yup.boolean().required(),
  /**
   * What the part rides on: the id of another part or of a member, and the shapes of what carries it when the riding
   * began. Its keys are kept as if those had never moved since. Null where it rides on nothing.
   */
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
  settings: yup
    .mixed<Settings>()
    .required()
    .test('settings', function (value, context) {
      const kind = (context.parent as { kind?: string }).kind
      return kind && kind in partKinds ? checkSettings(this, partKinds[kind as PartKindName].settings, value) : true
    }),
})

const keySchema = yup.object({
  type: tag('key'),
  /** `keyId(part, frame)`: one key per part and frame, whoever makes it. */
  id: id().test('key-id', 'The id of a key is made of its part and frame.', function (value) {
    const parent = this.parent as { part?: string; frame?: number }
    return value === keyId(parent.part ?? '', parent.frame ?? 0)
  }),
  part: id(),
  /** Counted from the shot's in point; keys before it stay when the shot is cut shorter. */
  frame: whole('The frame').min(-limits.frames).max(limits.frames),
  points: pointList(),
  /** Style of the in-betweens after this key; '' for the part's own. */
  tween: yup
    .string<Tween | ''>()
    .oneOf([...tweens, ''], tweenSentence)
    .defined(),
  /** How sure it is, 0 to 1, where the shape came from following the picture; null or missing where a hand set it. */
  followed: yup
    .number()
    .min(0, 'A confidence lies between 0 and 1.')
    .max(1, 'A confidence lies between 0 and 1.')
    .nullable()
    .optional(),
  /** The matte of a painted part on this frame: see image/raster.ts. Null or missing on all others. */
  matte: yup
    .object({
      x: whole('The left of a matte').min(0).max(limits.side.max),
      y: whole('The top of a matte').min(0).max(limits.side.max),
      width: whole('The width of a matte').min(1).max(limits.side.max),
      height: whole('The height of a matte').min(1).max(limits.side.max),
      data: yup
        .string()
        .max(limits.matteLetters, 'The matte of a frame is too large.')
        .matches(/^[A-Za-z0-9+/]*={0,2}$/, 'A matte is kept in base 64.')
        .required(),
    })
    .nullable()
    .optional()
    .default(undefined),
})

/** A stroke of a painted part: what it lies on is wanted, or is not. */
const strokeSchema = yup.object({
  type: tag('stroke'),
  id: id(),
  part: id(),
  frame: whole('The frame').min(-limits.frames).max(limits.frames),
  /** Place in the order of the frame's strokes: a later one lies over an earlier. */
  order: order(),
  wanted: yup.boolean().required(),
  /** Its whole width in plate pixels. */
  size: yup
    .number()
    .min(1, 'A brush is at least 1 px wide.')
    .max(limits.brush, `A brush is at most ${limits.brush} px wide.`)
    .required(),
  points: pointList(),
})

const awaySchema = yup
  .object({
    type: tag('away'),
    id: id(),
    part: id(),
    /** First and last frame on which the part is not there. */
    from: whole('The first frame').min(-limits.frames),
    to: whole('The last frame').max(limits.frames),
  })
  .test('range', 'An away range must not end before it begins.', (value) => value.from <= value.to)

const markSchema = yup.object({
  type: tag('mark'),
  id: id(),
  shot: id(),
  frame: whole('The frame').min(-limits.frames).max(limits.frames),
  note: yup.string().max(400, 'The note is too long; keep it under 400 characters.').defined(),
})

/** Where an effect works: within, around or along the edge of members or single parts; everywhere where none is named. */
const regionSchema = yup.object({
  /** Ids of members and parts, taken together. */
  of: yup.array(id()).max(60).required(),
  side: yup
    .string<Side>()
    .oneOf(['inside', 'outside', 'edge'], 'An effect works inside, outside or along the edge.')
    .required(),
  /** Pixels by which the edge is moved outwards, or half the width of the band along it. */
  grow: yup
    .number()
    .min(-400, 'The region shrinks by at most 400 px.')
    .max(400, 'The region grows by at most 400 px.')
    .required(),
  /** Softness of the region's edge in pixels. */
  soften: yup.number().min(0).max(400, 'The region is softened by at most 400 px.').required(),
})

/** Frames on which an effect is there, both inclusive, with its fading in and out in frames. */
const rangeSchema = yup
  .object({
    from: whole('The first frame').min(-limits.frames),
    to: whole('The last frame').max(limits.frames),
    fadeIn: yup.number().min(0, 'A fade takes 0 frames or more.').max(limits.frames).required(),
    fadeOut: yup.number().min(0, 'A fade takes 0 frames or more.').max(limits.frames).required(),
  })
  .test('range', 'The frames of an effect must not end before they begin.', (value) => !value || value.from <= value.to)

export const opacityParameter: NumberParameter = {
  ...{ type: 'number', name: 'opacity', label: 'Opacity', unit: '%', min: 0, max: 1, step: 0.01, default: 1 },
  ...{ hint: 'How much of the effect is laid on.', keyed: true },
}

/** What every effect has, whatever its kind: also what a card of a look keeps. */
export const effectFields = {
  kind: yup
    .string<EffectKindName>()
    .oneOf(Object.keys(effectKinds) as EffectKindName[], 'There is no effect of this kind.')
    .required(),
  on: yup.boolean().required(),
  /** The cast member it rides on, or '' while none is chosen. */
  target: yup.string().max(80).defined(),
  region: regionSchema.required(),
  /** Members and parts that cover it. */
  behind: yup.array(id()).max(60).required(),
  blend: yup.string<BlendName>().oneOf(blendNames, 'There is no blending of this name.').required(),
  opacity: movingSchema(opacityParameter) as yup.Schema<number | Curve | Drive>,
  range: rangeSchema.nullable().defined(),
  /** Cards of the same group stand together and are switched together; '' for none. */
  group: yup
    .string()
    .max(limits.name, `The name of a group is too long; keep it under ${limits.name} characters.`)
    .defined(),
  /** How much of its whole group is laid on, 0 to 1, the same on all of its cards; all of it where missing. */
  groupOpacity: yup.number().min(0).max(1).optional(),
  settings: yup
    .mixed<Settings>()
    .required()
    .test('settings', function (value, context) {
      const kind = (context.parent as { kind?: string }).kind
      return kind && kind in effectKinds
        ? checkSettings(this, effectKinds[kind as EffectKindName].parameters, value)
        : true
    }),
}

/** What a look is made of, wherever it is kept: see effects/looks.ts. */
export const lookFields = {
  name: name(),
  about: yup.string().max(200, 'What a look is good for is said in 200 characters at most.').defined(),
  /** Kinds of parts that its subject needs one of; empty where it goes on anything, or on nobody. */
  needs: yup.array(yup.string().required()).required(),
  cards: yup
    .array(yup.object(effectFields).noUnknown('A card carries a field that does not belong there.'))
    .min(1, 'The look has no cards.')
    .max(40, 'A look has at most 40 cards.')
    .required(),
}
const lookSchema = yup.object({
  type: tag('look'),
  id: id(),
  ...lookFields,
  /** A small picture of it as a data address, or ''. */
  preview: yup
    .string()
    .max(60_000, 'The picture of the look is too large.')
    .matches(/^(data:image\/jpeg;base64,[A-Za-z0-9+/=]+)?$/, 'The picture of a look is a small JPEG.')
    .defined(),
})

const effectSchema = yup.object({ type: tag('effect'), id: id(), shot: id(), order: order(), ...effectFields })

function checkSettings(
  context: { createError(options: { message: string; path?: string }): yup.ValidationError },
  parameters: Parameters<typeof settingsSchema>[0],
  value: unknown,
): true | yup.ValidationError {
  try {
    settingsSchema(parameters).validateSync(value, { strict: true })
    return true
  } catch (error) {
    return context.createError({ message: (error as Error).message })
  }
}

export type MediaCodec = 'avc' | 'vp8' | 'vp9' | 'av1' | 'png' | 'jpeg'
export type MemberKind = 'prop' | 'eye' | 'hand' | 'performer' | 'other'
export type PartKindName = keyof typeof partKinds
export type EffectKindName = keyof typeof effectKinds
export type Tween = 'straight' | 'arc' | 'eased' | 'held'
export type Role = 'add' | 'cut' | 'limit'
export type Side = 'inside' | 'outside' | 'edge'

export const schemas = {
  project: projectSchema,
  media: mediaSchema,
  shot: shotSchema,
  member: memberSchema,
  part: partSchema,
  key: keySchema,
  stroke: strokeSchema,
  away: awaySchema,
  mark: markSchema,
  effect: effectSchema,
  look: lookSchema,
}
export type Project = yup.InferType<typeof projectSchema>
export type Media = yup.InferType<typeof mediaSchema>
export type Shot = yup.InferType<typeof shotSchema>
export type Member = yup.InferType<typeof memberSchema>
export type Part = yup.InferType<typeof partSchema>
export type Key = yup.InferType<typeof keySchema>
export type Stroke = yup.InferType<typeof strokeSchema>
export type Away = yup.InferType<typeof awaySchema>
export type Mark = yup.InferType<typeof markSchema>
export type Effect = yup.InferType<typeof effectSchema>
export type Region = Effect['region']
export type KeptLook = yup.InferType<typeof lookSchema>
export interface RecordTypes {
  project: Project
  media: Media
  shot: Shot
  member: Member
  part: Part
  key: Key
  stroke: Stroke
  away: Away
  mark: Mark
  effect: Effect
  look: KeptLook
}
export type RecordType = keyof RecordTypes
export type AnyRecord = RecordTypes[RecordType]

/** Field of a record that names the record it belongs to; `project` for those that belong to the project itself. */
export const parentField: { [T in RecordType]: { field: string; type: RecordType } | null } = {
  project: null,
  media: null,
  shot: { field: 'media', type: 'media' },
  member: { field: 'shot', type: 'shot' },
  part: { field: 'member', type: 'member' },
  key: { field: 'part', type: 'part' },
  stroke: { field: 'part', type: 'part' },
  away: { field: 'part', type: 'part' },
  mark: { field: 'shot', type: 'shot' },
  effect: { field: 'shot', type: 'shot' },
  look: null,
}
/** Parents before children: the order in which records can be written. */
export const recordTypes = [
  'project',
  'media',
  'shot',
  'member',
  'part',
  'key',
  'stroke',
  'away',
  'mark',
  'effect',
  'look',
] as const

export const keyId = (part: string, frame: number): string => `${part}@${frame}`

/** Whether a medium is a still or a sequence of pictures. */
export const isPictures = ({ codec }: Pick<Media, 'codec'>): boolean => codec === 'png' || codec === 'jpeg'

/** Number of frames in a shot. */
export const shotLength = (shot: Pick<Shot, 'in' | 'out'>): number => shot.out - shot.in

/** Made once: every call of a schema's builder copies the schema. */
const strictSchemas = Object.fromEntries(
  Object.entries(schemas).map(([type, schema]) => [
    type,
    (schema as yup.ObjectSchema<yup.AnyObject>)
      .strict()
      .noUnknown('A ${path} carries a field that does not belong there.'),
  ]),
)

/**
 * Checks one record alone. Throws an Error whose message is a sentence naming what is wrong; relations
 * between records are the business of whoever holds them all.
 */
export function checkRecord(record: unknown): asserts record is AnyRecord {
  const type = (record as { type?: unknown } | null)?.type
  if (typeof type !== 'string' || !(type in schemas))
    throw new Error(`There is no record type called "${String(type).slice(0, 40)}".`)
  try {
    strictSchemas[type]!.validateSync(record)
  } catch (error) {
    throw new Error(`The ${type} was refused: ${(error as Error).message}`, { cause: error })
  }
}
