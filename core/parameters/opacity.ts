import { say } from '../say.ts'
import type { NumberParameter } from './parameters.ts'

/** How much of an effect is laid on: every card has it, whatever its kind. */
export const opacityParameter: NumberParameter = {
  ...{ type: 'number', name: 'opacity', label: say`Opacity`, unit: '%', min: 0, max: 1, step: 0.01, default: 1 },
  ...{ hint: say`How much of the effect is laid on.`, keyed: true },
}
