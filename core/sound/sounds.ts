import type { Settings } from '../parameters/parameters.ts'
import type { VoiceSound } from './voice.ts'
import { boomSound } from './voices/boom.ts'
import { crackSound } from './voices/crack.ts'
import { crackleSound } from './voices/crackle.ts'
import { humSound } from './voices/hum.ts'
import { lightUpSound } from './voices/lightUp.ts'
import { putOutSound } from './voices/putOut.ts'
import { shimmerSound } from './voices/shimmer.ts'
import { stepSound } from './voices/step.ts'
import { swishSound } from './voices/swish.ts'
import { thudSound } from './voices/thud.ts'
import { tickSound } from './voices/tick.ts'
import { windSound } from './voices/wind.ts'

/** How every voice of the catalogue sounds, by its name. */
export const voiceSounds = {
  ...{ hum: humSound, lightUp: lightUpSound, putOut: putOutSound, crackle: crackleSound, shimmer: shimmerSound },
  ...{ swish: swishSound, crack: crackSound, tick: tickSound },
  ...{ step: stepSound, thud: thudSound },
  ...{ wind: windSound, boom: boomSound },
}

/** How a kind sounds; nothing of what is read from files. */
export const soundOf = (kind: string): VoiceSound<Settings> =>
  (voiceSounds as unknown as Record<string, VoiceSound<Settings>>)[kind] ?? {}
