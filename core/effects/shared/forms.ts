import type { EffectContext, EffectKind, SentencePiece } from '../effect.ts'
import { isAway, wholePicture } from './place.ts'

/** What most kinds have in common; each says for itself where it is otherwise. */
type Form = Pick<EffectKind, 'rides' | 'alone' | 'region' | 'makes' | 'blend' | 'reach'>

/** How the sentence of a layer ends. */
export const laidOn: SentencePiece[] = [
  { field: 'behind' },
  { text: 'laid on with' },
  { field: 'blend' },
  { text: 'at' },
  { field: 'opacity' },
  { field: 'range' },
]

export const anyShape = ['rod', 'oval', 'outline', 'pin'] as const

/** Nothing where whom it rides on is away, else the whole picture. */
export const wherever = (context: EffectContext) =>
  isAway(context) ? { x: 0, y: 0, width: 0, height: 0 } : wholePicture(context)

/** Changes the picture, everywhere or in a region, and rides on nobody. */
export const onPicture: Form = {
  ...{ rides: null, alone: true, region: 'bounds', makes: 'picture', blend: 'normal' },
  reach: wholePicture,
}

/** Changes the picture about a member, or about its middle. */
export const aboutSomebody: Form = { ...onPicture, rides: anyShape, reach: wherever }

/** Light of a member, laid on with Add. */
export const lightOfSomebody: Omit<Form, 'reach'> = {
  ...{ rides: anyShape, alone: false, region: 'none', makes: 'layer', blend: 'add' },
}
