import type { Records } from './records.ts'
import { type Media, type Shot, shotLength } from './types.ts'

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
export const joinStart = (shot: Pick<Shot, 'in' | 'out' | 'join' | 'timing'>): number =>
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
