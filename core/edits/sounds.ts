import type { Records } from '../records/records.ts'
import type { Media, Sound } from '../records/types.ts'
import { soundKind } from '../sound/catalogue.ts'
import { makeSound } from '../soundtrack/make.ts'

/**
 * A new sound behind those of the shot, about the first of the cast that it can be about; contacts are with the second one. A
 * file is read from `takes`.
 */
export function newSound(
  records: Records,
  shot: string,
  kind: string,
  newId: () => string,
  takes: readonly Media[] = [],
  frame = 0,
): Sound {
  const { moments } = soundKind(kind)
  const members = records.childrenOf('member', shot)
  // What swings and meets are props, what lands are performers.
  const fit = (kinds: string[]) => members.filter((member) => kinds.includes(member.kind))
  const order = moments === 'landings' ? ['performer', 'other', 'prop', 'hand'] : ['prop', 'hand', 'performer', 'other']
  const [first, second] = fit(order).sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind))
  const made = makeSound({
    ...{ id: newId(), shot, kind, order: nextOrder(records, shot) },
    ...{ target: kind === 'file' ? '' : (first?.id ?? ''), takes: takes.map((media) => media.id) },
  })
  if (made.way === 'through') return { ...made, settings: { ...made.settings, level: -12 } }
  if (made.source === 'contacts' && first && second) return { ...made, with: second.id }
  if (first && made.source !== 'frames' && made.source !== 'contacts') return made
  // With nobody to ride on it is where the playhead stands.
  return { ...made, source: 'frames', beads: [{ at: null, frame, muted: false, gain: 0 }] }
}

function nextOrder(records: Records, shot: string): number {
  return (
    Math.max(0, ...records.childrenOf('sound', shot).flatMap(({ kind, order }) => (kind === 'own' ? [] : order))) + 1
  )
}
