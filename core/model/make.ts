import { partKinds } from '../shapes/registry.ts'
import { defaultsOf, type Settings } from './parameters.ts'
import { keyId, type Key, type Part, type PartKindName, type Tween } from './records.ts'

/** A key as it is kept: a thousandth of a pixel is enough. */
export const makeKey = (part: string, frame: number, points: readonly number[], tween: Tween | '' = ''): Key => ({
  ...{ type: 'key', id: keyId(part, frame), part, frame, tween },
  points: points.map((v) => Math.round(v * 1000) / 1000),
})

/** A part with everything that is not given as usual. `settings` go over the defaults of its kind. */
export function makePart(
  given: Pick<Part, 'id' | 'member' | 'name' | 'order'> & { kind: PartKindName } & Partial<Omit<Part, 'type'>>,
): Part {
  const { settings, hold } = partKinds[given.kind]
  return {
    ...{ type: 'part', tween: 'arc', hold, role: 'add', hidden: false, locked: false, ride: null },
    ...given,
    settings: { ...defaultsOf(settings), ...((given.settings ?? {}) as Settings) },
  }
}
