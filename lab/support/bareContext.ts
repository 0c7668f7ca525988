import type { EffectContext, EffectKind } from '#core/effects/effect.ts'
import { contactsOf } from '#core/motion/contacts.ts'
import type { ParameterTable, SettingsOf } from '#core/parameters/builders.ts'
import type { Settings } from '#core/parameters/parameters.ts'
import { settingsAt } from '#core/parameters/values.ts'
import { span } from '#core/pixels/kernels/interface.ts'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { linearColour } from '#core/pixels/colour/transfer.ts'

/**
 * What an effect gets to know where no shot is around it: for tests and benchmarks of one kind alone. The region is
 * the whole picture unless given; `settings` may hold curves and go over the defaults of the kind.
 */
export function bareContext<T extends ParameterTable>(
  kind: EffectKind<T>,
  { settings = {}, ...given }: Partial<EffectContext> & { settings?: Settings } = {},
): EffectContext<SettingsOf<T>> {
  const context: EffectContext<SettingsOf<T>> = {
    settings: settingsAt(kind.parameters, settings, given.frame ?? 0) as SettingsOf<T>,
    blend: kind.blend,
    opacity: 1,
    target: 'target',
    parts: [],
    frame: 0,
    since: given.frame ?? 0,
    scale: 1,
    size: { width: 320, height: 180 },
    colour: linearColour,
    light: 'linear',
    region: (rect, slot) => context.scratch.floats(slot, rect.width * rect.height).fill(1),
    everywhere: given.region === undefined,
    regionBounds: () => ({ x: 0, y: 0, ...context.size }),
    member: () => context.parts,
    contacts: (one, other) => contactsOf(context.member(one), context.member(other), 100),
    cardsThere: () => [],
    rateOf: () => 1,
    joined: false,
    picture: () => null,
    eachRow: (need, region, show) => {
      const picture = context.picture(need)
      for (let y = 0; picture && y < region.height; y++)
        show(span(picture.data, 4 * ((region.y + y) * picture.width + region.x)), y)
      return picture !== null
    },
    sizeOf: (need) => context.picture(need),
    scratch: new Scratch(),
    ...given,
  }
  return context
}
