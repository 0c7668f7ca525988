import { Backdrops } from '#core/tracking/backdrops.ts'
import type { FollowTask } from '#core/tracking/follow.ts'
import type { FollowPicture } from '#core/tracking/frame.ts'
import { seeing } from '#core/tracking/rod/view.ts'

/** Backdrops of frames that are at hand. */
export const backdropsOf = (frames: readonly FollowPicture[]): Backdrops =>
  new Backdrops(frames.length, (frame) => Promise.resolve(frames[frame]!))

/** A run over frames that are at hand, with the settings as they come, that nobody watches and nobody stops. */
export const unwatched = (
  frames: readonly FollowPicture[],
  backdrops = backdropsOf(frames),
): Omit<FollowTask, 'kind' | 'settings' | 'keys' | 'from' | 'to'> => ({
  ...{ model: 'auto', edgeFreedom: 0, stopBelow: 0 },
  picture: (frame) => Promise.resolve(frames[frame]!),
  see: seeing((frame) => Promise.resolve(frames[frame]!), backdrops),
  covered: () => [],
  earlier: () => null,
  found: () => {},
  progressed: () => {},
  stopped: () => false,
  breathe: () => Promise.resolve(),
})
