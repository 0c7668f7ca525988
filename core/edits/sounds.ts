import type { Records } from '../records/records.ts'
import { type Media, type Shot, shotLength, type Sound } from '../records/types.ts'
import { soundKind } from '../sound/catalogue.ts'
import { ratioOf } from '../sound/signal/stereo.ts'
import { makeSound } from '../soundtrack/make.ts'
import { retargetedSound } from './duplicate.ts'
import { namesakes } from './namesakes.ts'

/**
 * A new sound behind those of the shot, about the first of the cast that it can be about; contacts are with the second one. A
 * file is read from `takes`.
 */
export function newSound(
  records: Records,
  shot: string,
  kind: string,
  newId: () => string,
  takes: readonly Media[] = [],
  frame = 0,
): Sound {
  const { moments } = soundKind(kind)
  const members = records.childrenOf('member', shot)
  // What swings and meets are props, what lands are performers.
  const fit = (kinds: string[]) => members.filter((member) => kinds.includes(member.kind))
  const order = moments === 'landings' ? ['performer', 'other', 'prop', 'hand'] : ['prop', 'hand', 'performer', 'other']
  const [first, second] = fit(order).sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind))
  const made = makeSound({
    ...{ id: newId(), shot, kind, order: nextOrder(records, shot) },
    ...{ target: kind === 'file' ? '' : (first?.id ?? ''), takes: takes.map((media) => media.id) },
  })
  if (made.way === 'through') return { ...made, settings: { ...made.settings, level: -12 } }
  if (made.source === 'contacts' && first && second) return { ...made, with: second.id }
  if (first && made.source !== 'frames' && made.source !== 'contacts') return made
  // With nobody to ride on it is where the playhead stands.
  return { ...made, source: 'frames', beads: [{ at: null, frame, muted: false, gain: 0 }] }
}

/**
 * The sound for another shot, about whom it has there by the same name. Frames that were named, or chosen, stay as far as that
 * shot has them; what a hand did to moments of this shot's motion does not come along.
 */
export function soundForShot(records: Records, sound: Sound, shot: Shot, newId: () => string): Sound {
  const length = shotLength(shot)
  const { range } = sound
  const [from, to] = range ? [Math.min(range.from, length - 1), Math.min(range.to, length - 1)] : [0, length - 1]
  const fade = (frames: number) => Math.min(frames, to + 1 - from)
  return {
    ...retargetedSound(sound, namesakes(records, shot)),
    ...{ id: newId(), shot: shot.id, order: nextOrder(records, shot.id) },
    beads: sound.beads.filter((bead) => bead.at === null && (bead.frame ?? length) < length),
    range: range && { from, to, fadeIn: fade(range.fadeIn), fadeOut: fade(range.fadeOut) },
  }
}

/**
 * The sound beginning `seconds` later (below 0: earlier) than it did, with nothing of what is heard moved in time: a file is read
 * from further on. What has begun again by then, and what is made, begins wherever it is told to.
 */
export function begunLater(records: Records, sound: Sound, seconds: number): Sound {
  if (sound.kind !== 'file' || sound.way !== 'through') return sound
  const { over, pitch } = sound.settings
  const pace = ratioOf(typeof pitch === 'number' ? pitch : 0)
  const begin = Math.max(0, Number(sound.settings.begin ?? 0) + seconds * pace)
  const lasts = records.get('media', sound.takes[0] ?? '')?.seconds ?? Infinity
  return over === 'loop' && begin >= lasts ? sound : { ...sound, settings: { ...sound.settings, begin } }
}

/** The sound cut in two at a frame, the second one going on where the first ends; null where it is not there. `secondsAt`: of a frame. */
export function splitSound(
  records: Records,
  sound: Sound,
  frame: number,
  length: number,
  secondsAt: (frame: number) => number,
  newId: () => string,
): [Sound, Sound] | null {
  const range = sound.range ?? { from: 0, to: length - 1, fadeIn: 0, fadeOut: 0 }
  if (frame <= range.from || frame > range.to) return null
  const [before, after] = [frame - range.from, range.to + 1 - frame]
  const later = begunLater(records, sound, secondsAt(frame) - secondsAt(range.from))
  return [
    { ...sound, range: { ...range, to: frame - 1, fadeIn: Math.min(before, range.fadeIn), fadeOut: 0 } },
    {
      ...{ ...later, id: newId(), order: sound.order + 0.5 },
      range: { ...range, from: frame, fadeIn: 0, fadeOut: Math.min(after, range.fadeOut) },
    },
  ]
}

function nextOrder(records: Records, shot: string): number {
  return (
    Math.max(0, ...records.childrenOf('sound', shot).flatMap(({ kind, order }) => (kind === 'own' ? [] : order))) + 1
  )
}
