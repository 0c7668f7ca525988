import type { EffectKind } from './effect.ts'
import { afterglow } from './light/afterglow.ts'
import { barrel } from './distortion/barrel.ts'
import { blade } from './light/blade.ts'
import { blockScatter } from './distortion/blockScatter.ts'
import { castLight } from './light/castLight.ts'
import { changeMask } from './breakup/changeMask.ts'
import { colourSplit } from './breakup/colourSplit.ts'
import { dabs } from './breakup/dabs.ts'
import { dive } from './arrangement/dive.ts'
import { dissolve } from './breakup/dissolve.ts'
import { echo } from './arrangement/echo.ts'
import { fill } from './colour/fill.ts'
import { flash } from './light/flash.ts'
import { flicker } from './breakup/flicker.ts'
import { glow } from './light/glow.ts'
import { grade } from './colour/grade.ts'
import { hold } from './arrangement/hold.ts'
import { insert } from './arrangement/insert.ts'
import { lens } from './distortion/lens.ts'
import { lensBlur } from './blur/lensBlur.ts'
import { mosaic } from './breakup/mosaic.ts'
import { motionBlur } from './blur/motionBlur.ts'
import { outlineLine } from './colour/outlineLine.ts'
import { ripple } from './distortion/ripple.ts'
import { scroll } from './distortion/scroll.ts'
import { shafts } from './light/shafts.ts'
import { shake } from './distortion/shake.ts'
import { signalTear } from './breakup/signalTear.ts'
import { soften } from './blur/soften.ts'
import { sparks } from './light/sparks.ts'
import { spinBlur } from './blur/spinBlur.ts'
import { takeOver } from './arrangement/takeOver.ts'
import { transform } from './arrangement/transform.ts'
import { twist } from './distortion/twist.ts'
import { words } from './arrangement/words.ts'

/** Every effect kind, in the order of the list they are chosen from; a new one is its file and a line here. */
export const effectKinds = {
  ...{ blade, glow, shafts, flash, castLight, afterglow, sparks },
  ...{ fill, grade, outlineLine },
  ...{ soften, spinBlur, lensBlur, motionBlur },
  ...{ twist, lens, barrel, ripple, blockScatter, shake, scroll },
  ...{ signalTear, colourSplit, flicker, dabs, mosaic, changeMask, dissolve },
  ...{ insert, dive, transform, hold, echo, takeOver, words },
}

export type EffectKindName = keyof typeof effectKinds

/** The kind of an effect, by the name that its record keeps. Throws where there is none of that name. */
export function effectKind(name: string): EffectKind {
  const kind = (effectKinds as Record<string, EffectKind>)[name]
  if (!kind) throw new Error(`There is no effect called "${name}".`)
  return kind
}
