import { say } from '../say.ts'
import { Refusal } from '../refusal.ts'
import type { VoiceKind } from './voice.ts'
import { boom } from './voices/boom.ts'
import { crack } from './voices/crack.ts'
import { crackle } from './voices/crackle.ts'
import { hum } from './voices/hum.ts'
import { lightUp } from './voices/lightUp.ts'
import { putOut } from './voices/putOut.ts'
import { file, own } from './voices/recordings.ts'
import { shimmer } from './voices/shimmer.ts'
import { step } from './voices/step.ts'
import { swish } from './voices/swish.ts'
import { thud } from './voices/thud.ts'
import { tick } from './voices/tick.ts'
import { wind } from './voices/wind.ts'

/** Everything that can be heard, in the order of the list it is chosen from. */
export const soundKinds = {
  ...{ hum, lightUp, putOut, crackle, shimmer },
  ...{ swish, crack, tick },
  ...{ step, thud },
  ...{ wind, boom },
  ...{ file, own },
} satisfies Record<string, VoiceKind>

/** The kind of a sound, by the name that its record keeps. Throws where there is none of that name. */
export function soundKind(name: string): VoiceKind {
  const kind = (soundKinds as Record<string, VoiceKind>)[name]
  if (!kind) throw new Refusal(say`There is no sound called "${name}".`)
  return kind
}
