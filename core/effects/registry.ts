import { afterglow } from './afterglow.ts'
import { barrel } from './barrel.ts'
import { blade } from './blade.ts'
import { blockScatter } from './blockScatter.ts'
import { castLight } from './castLight.ts'
import { changeMask } from './changeMask.ts'
import { colourSplit } from './colourSplit.ts'
import { dabs } from './dabs.ts'
import { dive } from './dive.ts'
import { dissolve } from './dissolve.ts'
import { echo } from './echo.ts'
import { fill } from './fill.ts'
import { flash } from './flash.ts'
import { flicker } from './flicker.ts'
import { glow } from './glow.ts'
import { grade } from './grade.ts'
import { hold } from './hold.ts'
import { insert } from './insert.ts'
import { lens } from './lens.ts'
import { lensBlur } from './lensBlur.ts'
import { mosaic } from './mosaic.ts'
import { motionBlur } from './motionBlur.ts'
import { outlineLine } from './outlineLine.ts'
import { ripple } from './ripple.ts'
import { scroll } from './scroll.ts'
import { shafts } from './shafts.ts'
import { shake } from './shake.ts'
import { signalTear } from './signalTear.ts'
import { soften } from './soften.ts'
import { sparks } from './sparks.ts'
import { spinBlur } from './spinBlur.ts'
import { takeOver } from './takeOver.ts'
import { transform } from './transform.ts'
import { twist } from './twist.ts'
import { words } from './words.ts'

/** Every effect kind, in the order of the list they are chosen from; a new one is its file and a line here. */
export const effectKinds = {
  ...{ blade, glow, shafts, flash, castLight, afterglow, sparks },
  ...{ fill, grade, outlineLine },
  ...{ soften, spinBlur, lensBlur, motionBlur },
  ...{ twist, lens, barrel, ripple, blockScatter, shake, scroll },
  ...{ signalTear, colourSplit, flicker, dabs, mosaic, changeMask, dissolve },
  ...{ insert, dive, transform, hold, echo, takeOver, words },
}
