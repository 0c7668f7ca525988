import { defaultsOf } from '../parameters/values.ts'
import { ovalOf, packed, type Raster } from '../pixels/buffers/raster.ts'
import { makeKey } from '../records/make.ts'
import type { Key, Part } from '../records/types.ts'
import { partKind } from './registry.ts'

/** A part with everything that is not given as usual. `settings` go over the defaults of its kind. */
export function makePart(
  given: Pick<Part, 'id' | 'member' | 'name' | 'kind' | 'order'> & Partial<Omit<Part, 'type'>>,
): Part {
  const { settings, hold } = partKind(given.kind)
  return {
    ...{ type: 'part', tween: 'arc', hold, role: 'add', hidden: false, locked: false, ride: null },
    ...given,
    settings: { ...defaultsOf(settings), ...given.settings },
  }
}

/** A key of a painted part: its matte, and the oval that stands for it. */
export const makePaintedKey = (part: string, frame: number, raster: Raster, sure: number | null): Key => ({
  ...makeKey(part, frame, ovalOf(raster), '', sure),
  matte: packed(raster),
})
