import { say } from '../say.ts'
import * as yup from 'yup'
import { eases } from './curves.ts'
import { signals } from './drives.ts'
import type { NumberParameter, Parameter, Settings } from './parameters.ts'

const colourPattern = /^#[0-9a-f]{6}$/i

function numberSchema(p: NumberParameter) {
  return yup
    .number()
    .typeError(say`${p.label} must be a number from ${p.min} to ${p.max}.`)
    .min(p.min, say`${p.label} must be at least ${p.min}.`)
    .max(p.max, say`${p.label} must be at most ${p.max}.`)
}

const frameSchema = (label: string) =>
  yup
    .number()
    .integer(say`Keys of ${label} lie on whole frames.`)
    .min(-100_000)
    .max(1_000_000)
    .required()
const bendSchema = yup
  .array(yup.number().min(-10).max(10).required())
  .length(4, say`A bend has four numbers.`)
  .test('within', say`The handles of a bend lie within its span.`, (bend) =>
    [bend?.[0], bend?.[2]].every((x) => x === undefined || (x >= 0 && x <= 1)),
  )
const spanSchema = { ease: yup.string().oneOf(eases).required(), bend: bendSchema.optional().default(undefined) }
const sorted = (label: string) =>
  [
    'order',
    say`Keys of ${label} must be sorted, one per frame.`,
    (keys: readonly { frame: number }[] | undefined) =>
      (keys ?? []).every((key, i) => i === 0 || key.frame > keys![i - 1]!.frame),
  ] as const

/** A number that keys or a signal may move over time. */
export function movingSchema(p: NumberParameter): yup.Schema {
  const still = numberSchema(p)
  const curve = yup.object({
    keys: yup
      .array(yup.object({ frame: frameSchema(p.label), value: still.required(), ...spanSchema }))
      .min(1, say`${p.label} needs at least one key; set it still to remove them.`)
      .required()
      .test(...sorted(p.label)),
  })
  const pair = (label: string) => yup.array(yup.number().required(label)).length(2, label).required(label)
  const drive = yup.object({
    signal: yup
      .string()
      .oneOf(Object.keys(signals), say`${p.label} is driven by a signal that does not exist; choose another.`)
      .required(),
    of: yup.string().max(80).defined(),
    with: yup.string().max(80).defined(),
    from: pair(say`The range that drives ${p.label} needs two numbers.`),
    to: yup.array(still.required()).length(2).required(),
    bend: bendSchema.required(),
    smooth: yup.number().min(0).max(100).required(),
    lag: yup.number().min(-1000).max(1000).required(),
  })
  return yup.lazy((value: unknown) =>
    typeof value !== 'object' || value === null ? still : 'signal' in value ? drive.noUnknown() : curve.noUnknown(),
  ) as unknown as yup.Schema
}

function schemaOf(p: Parameter): yup.Schema {
  switch (p.type) {
    case 'number':
      return p.keyed ? movingSchema(p) : numberSchema(p)
    case 'colour': {
      const still = yup
        .string()
        .test(
          'colour',
          say`${p.label} must be a colour written as #rrggbb.`,
          (value) => value === undefined || colourPattern.test(value) || (value === '' && p.inherits !== undefined),
        )
      const curve = yup.object({
        colours: yup
          .array(yup.object({ frame: frameSchema(p.label), colour: still.required(), ...spanSchema }))
          .min(1, say`${p.label} needs at least one key; set it still to remove them.`)
          .required()
          .test(...sorted(p.label)),
      })
      if (!p.keyed) return still
      return yup.lazy((value: unknown) =>
        typeof value === 'object' && value !== null ? curve.noUnknown() : still,
      ) as unknown as yup.Schema
    }
    case 'choice':
      return yup.string().oneOf(
        p.options.map((option) => option.value),
        say`${p.label} must be one of: ${p.options.map((option) => option.label).join(', ')}.`,
      )
    case 'list':
      return yup
        .array(settingsSchema(p.of))
        .typeError(say`${p.label} must be a list.`)
        .max(p.max, say`${p.label} holds at most ${p.max} rows; remove one first.`)
    case 'member':
    case 'media':
      return yup.string().max(80, say`${p.label} names something that can not exist; choose it again.`)
    case 'text':
      return yup.string().max(p.max, say`${p.label} is too long; keep it under ${p.max} characters.`)
    case 'tone':
      return yup
        .array(yup.array(yup.number().min(0).max(1).required()).length(2).required())
        .min(2, say`${p.label} needs two places at least.`)
        .max(16, say`${p.label} takes at most 16 places; remove one first.`)
        .test('rising', say`Places of ${p.label} must go from left to right.`, (places) =>
          (places ?? []).every((place, i) => i === 0 || place[0]! > places![i - 1]![0]!),
        )
  }
}

/** Yup schema of a settings object made from its description; unknown names are refused. */
export function settingsSchema(parameters: readonly Parameter[]): yup.ObjectSchema<Settings> {
  const known = schemaCache.get(parameters)
  if (known) return known
  const schema = yup
    .object(Object.fromEntries(parameters.map((p) => [p.name, schemaOf(p)])))
    .noUnknown(({ unknown }) => say`There is no setting called ${unknown}.`) as unknown as yup.ObjectSchema<Settings>
  schemaCache.set(parameters, schema)
  return schema
}

const schemaCache = new WeakMap<readonly Parameter[], yup.ObjectSchema<Settings>>()
