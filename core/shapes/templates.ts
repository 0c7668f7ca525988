import { said } from '../say.ts'
import type { MemberKind } from '../records/types.ts'
import type { PartKindName } from './registry.ts'

/** Starting points for common cast members: parts to be placed, renamed, added to or deleted as one likes. */
export interface Template {
  label: string
  kind: MemberKind
  name: string
  parts: { name: string; kind: PartKindName }[]
}

const outline = (name: string) => ({ name, kind: 'outline' as const })

const written: Template[] = [
  { label: 'Prop', kind: 'prop', name: 'Prop', parts: [{ name: 'shaft', kind: 'rod' }] },
  {
    label: 'Prop with two ends',
    kind: 'prop',
    name: 'Prop',
    parts: [
      { name: 'upper half', kind: 'rod' },
      { name: 'lower half', kind: 'rod' },
    ],
  },
  {
    label: 'Performer with limbs',
    kind: 'performer',
    name: 'Performer',
    parts: [
      ...['head', 'torso', 'left upper arm', 'left forearm', 'left hand'].map(outline),
      ...['right upper arm', 'right forearm', 'right hand', 'left thigh', 'left shin', 'right thigh', 'right shin'].map(
        outline,
      ),
    ],
  },
  { label: 'Performer, head only', kind: 'performer', name: 'Performer', parts: [{ name: 'head', kind: 'oval' }] },
  { label: 'Pair of eyes', kind: 'eye', name: 'Eyes', parts: [outline('left eye'), outline('right eye')] },
  {
    label: 'Hand with fingers',
    kind: 'hand',
    name: 'Hand',
    parts: ['palm', 'thumb', 'first finger', 'middle finger', 'ring finger', 'little finger'].map(outline),
  },
  { label: 'Something else', kind: 'other', name: 'Thing', parts: [outline('body')] },
]

export const templates: Template[] = written.map(({ label, kind, name, parts }) => ({
  ...{ label: said(label), kind, name: said(name) },
  parts: parts.map((part) => ({ ...part, name: said(part.name) })),
}))
