import type { Diff } from '../records/diff.ts'
import type { Records } from '../records/records.ts'
import type { Shot } from '../records/types.ts'
import { cutTo, retime } from './retime.ts'

/**
 * Cuts a shot anew: `from` and `to` are frames of the clip, `to` the one after the last. Frames of a shot count from
 * its in point, so keys, away ranges and curves move along and stay on their picture; what then lies outside the
 * shot is kept, for the day it is cut longer again.
 */
export const recutShot = (records: Records, shot: Shot, from: number, to: number, newId: () => string): Diff =>
  retime(records, shot, cutTo(shot, from, to), newId)
