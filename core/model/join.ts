import type { Diff, Records } from './diff.ts'
import { makeEffect } from './make.ts'
import { shotLength, type Effect, type Media, type Shot } from './records.ts'

/** The shot that runs already over the last frames of another one. */
export interface Joined {
  shot: Shot
  /** A time of the shot before, in its frames, as one of this shot. */
  time(of: number): number
}

/** The shot after this one in the film's order, joined or not; null after the last. */
export function shotAfter(records: Records, shot: Shot): Shot | null {
  const all = records.all('shot')
  return all[all.findIndex((one) => one.id === shot.id) + 1] ?? null
}

/**
 * The next shot, where this one is joined to it: its first frame lies on the first one of the join. A clip of another
 * rate keeps its own speed.
 */
export function joinedShot(records: Records, shot: Shot): Joined | null {
  const next = shot.join > 0 ? shotAfter(records, shot) : null
  const [from, to] = [records.get('media', shot.media), next && records.get('media', next.media)]
  if (!next || !from || !to) return null
  const ratio = to.rate / from.rate
  return { shot: next, time: (of) => (of - joinStart(shot)) * ratio }
}

/** First frame of a shot on which the next one runs already; its length where it is cut. */
export const joinStart = (shot: Pick<Shot, 'in' | 'out' | 'join'>): number =>
  shotLength(shot) - Math.min(shot.join, shotLength(shot))

/** A stretch of the film: frames `from` up to `to` (exclusive) of a shot. */
export interface Stretch {
  shot: Shot
  media: Media
  from: number
  to: number
}

/** The whole film: every shot in order, each without the frames that the shot before it has shown already. */
export function filmOf(records: Records): Stretch[] {
  let shown = 0
  return records.all('shot').flatMap((shot) => {
    const media = records.get('media', shot.media)
    const from = Math.min(shown, shotLength(shot))
    const next = joinedShot(records, shot)
    shown = next ? Math.max(0, Math.round(next.time(shotLength(shot)))) : 0
    return media && from < shotLength(shot) ? [{ shot, media, from, to: shotLength(shot) }] : []
  })
}

/** How long a join is until somebody says otherwise, in frames: half a second at 24 a second. */
const usualJoin = 12

/** A card that lets the next shot take over in the course of the join, however long that is. */
const takeOverCard = (given: Pick<Effect, 'id' | 'shot' | 'order'>): Effect =>
  makeEffect({
    ...given,
    kind: 'takeOver',
    settings: {
      amount: { signal: 'join', of: '', with: '', from: [0, 1], to: [0, 1], bend: [0, 0, 1, 1], smooth: 0, lag: 0 },
    },
  })

/**
 * Joins a shot to the next one over its last `frames` (0 for a cut), with a card that takes over where there is none yet.
 * No longer than either shot.
 */
export function joinOver(records: Records, shot: Shot, frames: number, newId: () => string): Diff {
  const next = shotAfter(records, shot)
  const longest = Math.min(shotLength(shot), next ? shotLength(next) : 0)
  const join = Math.max(0, Math.min(longest, Math.round(frames)))
  const cards = records.childrenOf('effect', shot.id)
  const missing = join > 0 && !cards.some((one) => one.kind === 'takeOver')
  const card = missing ? [takeOverCard({ id: newId(), shot: shot.id, order: (cards.at(-1)?.order ?? 0) + 1 })] : []
  return { put: [{ ...shot, join }, ...card], remove: [] }
}

/** Adds another card that takes over; joins the shot where it is cut. */
export function takeOverIn(records: Records, shot: Shot, newId: () => string): Diff {
  const { put } = joinOver(records, shot, shot.join || usualJoin, newId)
  if (put.some((one) => one.type === 'effect')) return { put, remove: [] }
  const order = (records.childrenOf('effect', shot.id).at(-1)?.order ?? 0) + 1
  return { put: [...put, takeOverCard({ id: newId(), shot: shot.id, order })], remove: [] }
}
