import { soughtIn } from '../words/sought.ts'
import { soundKinds } from './catalogue.ts'
import type { VoiceKind } from './voice.ts'

/** Words by which somebody looks for a voice who does not know what it is called here. */
export const voiceWords: Record<keyof typeof soundKinds, string> = {
  hum: 'drone buzz neon electric engine idle loop sword blade',
  lightUp: 'ignite start on power switch begin open',
  putOut: 'extinguish off stop end power down fizzle',
  crackle: 'fire flame spark electric burn campfire static',
  shimmer: 'magic sparkle bells glitter spell twinkle chime',
  swish: 'whoosh swoosh swing sweep air pass by sword',
  crack: 'hit clash impact strike clang metal collision contact',
  tick: 'click tap clock blip',
  step: 'foot footstep walk run shoe',
  thud: 'land impact fall drop punch body heavy',
  wind: 'air breeze storm background ambience atmosphere noise',
  boom: 'explosion bass rumble sub impact thunder',
  file: 'recording sample import music own audio',
  own: 'original camera microphone speech recording',
}

/** Voices that are looked for by what was typed, as `soughtIn` ranks them; all of them for ''. */
export const soughtVoices = (typed: string): VoiceKind[] =>
  soughtIn(typed, Object.values(soundKinds) as VoiceKind[], (kind) => ({
    name: kind.title,
    says: kind.summary,
    words: voiceWords[kind.kind as keyof typeof soundKinds],
  }))
