import { presence } from '../../records/presence.ts'
import type { Effect } from '../../records/types.ts'
import type { EffectKind } from '../effect.ts'

/**
 * Ids of those behind whom an effect works: it changes what is behind them, and they stay as they are, cut out by their
 * mattes. Light that is laid on with Add or Screen needs nobody taken out of the picture before: its mask says all. With a
 * frame, those who cover it there; who covers it on some frames only does so as a whole there, whatever fades.
 */
export function worksBehind(
  kind: Pick<EffectKind, 'makes' | 'region'>,
  { region, behind, behindRange, blend }: Pick<Effect, 'region' | 'behind' | 'behindRange' | 'blend'>,
  frame?: number,
): string[] {
  if (kind.makes !== 'picture' && (kind.makes === 'own' || blend === 'add' || blend === 'screen')) return []
  const outside = kind.region === 'bounds' && region.side === 'outside' && !region.filmed ? region.of : []
  const covers = frame === undefined || presence(behindRange, frame) > 0 ? behind : []
  return [...new Set([...outside, ...covers])]
}
