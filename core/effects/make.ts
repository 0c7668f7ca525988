import { defaultsOf } from '../parameters/values.ts'
import { everywhere } from '../records/make.ts'
import type { Effect } from '../records/types.ts'
import { effectKind } from './catalogue.ts'

/** An effect with everything that is not given as its kind wants it. `settings` go over the kind's defaults. */
export function makeEffect(
  given: Pick<Effect, 'id' | 'shot' | 'kind' | 'order'> & Partial<Omit<Effect, 'type'>>,
): Effect {
  const { parameters, blend } = effectKind(given.kind)
  return {
    ...{ type: 'effect', on: true, target: '', region: everywhere, behind: [], opacity: 1, range: null, group: '' },
    blend,
    ...given,
    settings: { ...defaultsOf(parameters), ...given.settings },
  }
}
