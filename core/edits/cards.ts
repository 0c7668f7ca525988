import { effectKind } from '../effects/catalogue.ts'
import { makeEffect } from '../effects/make.ts'
import { everywhere } from '../records/make.ts'
import type { Records } from '../records/records.ts'
import type { Effect, Member, Shot } from '../records/types.ts'
import { retargeted } from './duplicate.ts'
import { namesakes } from './namesakes.ts'

const orderAfter = (records: Records, shot: string) => (records.childrenOf('effect', shot).at(-1)?.order ?? 0) + 1

/** Those of `members` that an effect of this kind can ride on. */
export const rideable = (records: Records, kind: string, members: readonly Member[]): Member[] =>
  members.filter((member) =>
    records.childrenOf('part', member.id).some((part) => effectKind(kind).rides?.includes(part.kind)),
  )

/** A new card behind those of the shot. It rides on somebody of `reachable` whom no card rides on yet, if it can. */
export function newCard(
  records: Records,
  shot: string,
  kind: string,
  reachable: readonly Member[],
  newId: () => string,
): Effect {
  const { alone, region } = effectKind(kind)
  const cards = records.childrenOf('effect', shot)
  const members = rideable(records, kind, reachable)
  const free = members.find((member) => !cards.some((one) => one.target === member.id))
  const [first] = records.childrenOf('member', shot)
  return makeEffect({
    ...{ id: newId(), shot, kind, order: orderAfter(records, shot) },
    target: alone ? '' : ((free ?? members[0])?.id ?? ''),
    // What comes from somebody comes from the first of the cast until told otherwise.
    ...(region === 'source' && first ? { region: { ...everywhere, of: [first.id] } } : {}),
  })
}

/** The card for another member: whom it is about is exchanged wherever the card names him. */
export function cardForMember(records: Records, card: Effect, member: Member, newId: () => string): Effect {
  const from = [card.target, card.region.of[0] ?? ''].find((id) => records.get('member', id))
  return {
    ...retargeted(card, (id) => (id === from ? member.id : id)),
    ...{ id: newId(), order: orderAfter(records, card.shot) },
  }
}

/** The card for another shot, with whom it names there by the same name, or else by the same kind; left out else. */
export function cardForShot(records: Records, card: Effect, shot: Shot, newId: () => string): Effect {
  const copy = retargeted(card, namesakes(records, shot))
  return {
    ...copy,
    ...{ id: newId(), shot: shot.id, order: orderAfter(records, shot.id) },
    ...{ region: { ...copy.region, of: copy.region.of.filter(Boolean) }, behind: copy.behind.filter(Boolean) },
  }
}

/** The card in the group of the one above it, which gets one of its own where it has none; nothing at the top. */
export function groupedWithAbove(records: Records, card: Effect): Effect[] {
  const cards = records.childrenOf('effect', card.shot)
  const above = cards[cards.findIndex((one) => one.id === card.id) - 1]
  if (!above) return []
  const names = new Set(cards.map((one) => one.group))
  let { group } = above
  for (let n = 1; !group || (group !== above.group && names.has(group)); n++) group = `Group ${n}`
  return [
    { ...above, group },
    { ...card, group, groupOpacity: above.groupOpacity ?? 1 },
  ]
}

/** The shot's cards in a new order: those whose place changes. */
export function cardsReordered(records: Records, cards: readonly Effect[]): Effect[] {
  const orders = records.childrenOf('effect', cards[0]?.shot ?? '').map((one) => one.order)
  return cards.flatMap((one, i) => (one.order === orders[i] ? [] : [{ ...one, order: orders[i]! }]))
}
