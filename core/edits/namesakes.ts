import type { Records } from '../records/records.ts'
import type { Shot } from '../records/types.ts'

/**
 * Whom something is about in another shot: a member's or part's id there, found by the same name, or else by the same kind of
 * member; '' where nobody is like it.
 */
export function namesakes(records: Records, shot: Shot): (id: string) => string {
  const there = records.childrenOf('member', shot.id)
  return (id) => {
    const part = records.get('part', id)
    const owner = records.get('member', part ? part.member : id)
    const other = there.find((one) => one.name === owner?.name) ?? there.find((one) => one.kind === owner?.kind)
    if (!other || !part) return other?.id ?? ''
    return records.childrenOf('part', other.id).find((one) => one.name === part.name)?.id ?? other.id
  }
}
