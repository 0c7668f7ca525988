import type { Stretch } from '#core/records/film.ts'
import type { Records } from '#core/records/records.ts'
import { type Media, type Shot, shotLength } from '#core/records/types.ts'
import { heardShots } from '#core/soundtrack/lanes.ts'
import { api } from '../project/api.ts'
import type { SoundOrder } from './soundMix.ts'

/** What is heard of stretches of a film, each from second `starts` on, as workers are told it. */
export function filmOrder(
  records: Records,
  stretches: readonly Stretch[],
  starts: readonly number[],
  timesOf: (media: Media) => readonly number[],
): SoundOrder {
  const heard = heardShots(records, stretches, starts, timesOf)
  return {
    shots: heard.map(({ shot, media: _, ...rest }) => ({ ...rest, shot: shot.id })),
    addresses: Object.fromEntries(records.all('media').map(({ id, hash }) => [id, api.footageAddress(hash)])),
  }
}

/** That of a whole shot by itself; null where it, or its clip, is gone. */
export async function shotOrder(
  records: Records,
  id: string,
  timesOf: (media: Media) => readonly number[] | Promise<number[]>,
): Promise<SoundOrder | null> {
  const shot: Shot | undefined = records.get('shot', id)
  const media = shot && records.get('media', shot.media)
  if (!shot || !media) return null
  const stretches = [{ shot, media, from: 0, to: shotLength(shot) }]
  const times = new Map<string, readonly number[]>([[media.id, await timesOf(media)]])
  const known = (one: Media) => times.get(one.id) ?? []
  // The shot that it is joined to is heard, too.
  for (const { media: one } of heardShots(records, stretches, [0], known))
    if (!times.has(one.id)) times.set(one.id, await timesOf(one))
  return filmOrder(records, stretches, [0], known)
}
