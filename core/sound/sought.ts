import { say } from '../say.ts'
import { soughtIn } from '../words/sought.ts'
import { soundKinds } from './catalogue.ts'
import type { VoiceKind } from './voice.ts'

/** Words by which somebody looks for a voice who does not know what it is called here. */
export const voiceWords: Record<keyof typeof soundKinds, string> = {
  hum: say`drone buzz neon electric engine idle loop sword blade`,
  lightUp: say`ignite start on power switch begin open`,
  putOut: say`extinguish off stop end power down fizzle`,
  crackle: say`fire flame spark electric burn campfire static`,
  shimmer: say`magic sparkle bells glitter spell twinkle chime`,
  swish: say`whoosh swoosh swing sweep air pass by sword`,
  crack: say`hit clash impact strike clang metal collision contact`,
  tick: say`click tap clock blip`,
  step: say`foot footstep walk run shoe`,
  thud: say`land impact fall drop punch body heavy`,
  wind: say`air breeze storm background ambience atmosphere noise`,
  boom: say`explosion bass rumble sub impact thunder`,
  file: say`recording sample import music own audio`,
  own: say`original camera microphone speech recording`,
}

/** Voices that are looked for by what was typed, as `soughtIn` ranks them; all of them for ''. */
export const soughtVoices = (typed: string): VoiceKind[] =>
  soughtIn(typed, Object.values(soundKinds) as VoiceKind[], (kind) => ({
    name: kind.title,
    says: kind.summary,
    words: voiceWords[kind.kind as keyof typeof soundKinds],
  }))
