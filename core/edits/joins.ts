import { makeEffect } from '../effects/make.ts'
import type { Diff } from '../records/diff.ts'
import { shotAfter } from '../records/film.ts'
import type { Records } from '../records/records.ts'
import { type Effect, type Shot, shotLength } from '../records/types.ts'

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
