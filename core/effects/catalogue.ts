import { say } from '../say.ts'
import { Refusal } from '../refusal.ts'
import { dive } from './arrangement/dive/dive.ts'
import { droplets } from './distortion/droplets/droplets.ts'
import { lag } from './arrangement/lag/lag.ts'
import { relight } from './light/relight/relight.ts'
import { echo } from './arrangement/echo/echo.ts'
import { frame } from './arrangement/frame/frame.ts'
import { hold } from './arrangement/hold/hold.ts'
import { insert } from './arrangement/insert/insert.ts'
import { reflection } from './arrangement/reflection/reflection.ts'
import { takeOver } from './arrangement/takeOver/takeOver.ts'
import { transform } from './arrangement/transform/transform.ts'
import { words } from './arrangement/words/words.ts'
import { lensBlur } from './blur/lensBlur/lensBlur.ts'
import { motionBlur } from './blur/motionBlur/motionBlur.ts'
import { soften } from './blur/soften/soften.ts'
import { spinBlur } from './blur/spinBlur/spinBlur.ts'
import { changeMask } from './breakup/changeMask/changeMask.ts'
import { colourSplit } from './breakup/colourSplit/colourSplit.ts'
import { dabs } from './breakup/dabs/dabs.ts'
import { dissolve } from './breakup/dissolve/dissolve.ts'
import { flicker } from './breakup/flicker/flicker.ts'
import { mosaic } from './breakup/mosaic/mosaic.ts'
import { signalTear } from './breakup/signalTear/signalTear.ts'
import { fill } from './colour/fill/fill.ts'
import { grade } from './colour/grade/grade.ts'
import { outlineLine } from './colour/outlineLine/outlineLine.ts'
import { barrel } from './distortion/barrel/barrel.ts'
import { blockScatter } from './distortion/blockScatter/blockScatter.ts'
import { lens } from './distortion/lens/lens.ts'
import { mirror } from './distortion/mirror/mirror.ts'
import { ripple } from './distortion/ripple/ripple.ts'
import { scroll } from './distortion/scroll/scroll.ts'
import { shake } from './distortion/shake/shake.ts'
import { twist } from './distortion/twist/twist.ts'
import type { EffectKind } from './effect.ts'
import { afterglow } from './light/afterglow/afterglow.ts'
import { blade } from './light/blade/blade.ts'
import { castLight } from './light/castLight/castLight.ts'
import { flash } from './light/flash/flash.ts'
import { glow } from './light/glow/glow.ts'
import { shadow } from './light/shadow/shadow.ts'
import { shafts } from './light/shafts/shafts.ts'
import { sparks } from './light/sparks/sparks.ts'
import { wrap } from './light/wrap/wrap.ts'

/** Every effect kind, in the order of the list they are chosen from. */
export const effectKinds = {
  ...{ blade, glow, shafts, flash, castLight, relight, wrap, shadow, afterglow, sparks },
  ...{ fill, grade, outlineLine },
  ...{ soften, spinBlur, lensBlur, motionBlur },
  ...{ twist, lens, barrel, ripple, mirror, blockScatter, shake, scroll, droplets },
  ...{ signalTear, colourSplit, flicker, dabs, mosaic, changeMask, dissolve },
  ...{ insert, dive, transform, hold, echo, lag, reflection, takeOver, words, frame },
} satisfies Record<string, EffectKind>

export type EffectKindName = keyof typeof effectKinds

/** The kind of an effect, by the name that its record keeps. Throws where there is none of that name. */
export function effectKind(name: string): EffectKind {
  const kind = (effectKinds as Record<string, EffectKind>)[name]
  if (!kind) throw new Refusal(say`There is no effect called "${name}".`)
  return kind
}
