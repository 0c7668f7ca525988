import { say } from '../say.ts'
import { effectKind } from '../effects/catalogue.ts'
import type { EffectKind } from '../effects/effect.ts'
import { makeEffect } from '../effects/make.ts'
import { everywhere } from '../records/make.ts'
import type { Records } from '../records/records.ts'
import type { Effect, Member, Shot } from '../records/types.ts'
import { retargeted } from './duplicate.ts'
import { namesakes } from './namesakes.ts'

/** Places for new cards: behind those of the shot, but before the next shot takes over. */
export function placesForNew(records: Records, shot: string, count: number): number[] {
  const cards = records.childrenOf('effect', shot)
  const end = cards.findIndex((one) => one.kind === 'takeOver')
  const before = (end < 0 ? cards.at(-1) : cards[end - 1])?.order
  const after = cards[end]?.order
  if (after === undefined) return Array.from({ length: count }, (_, i) => (before ?? 0) + i + 1)
  const from = before ?? after - 1
  return Array.from({ length: count }, (_, i) => from + ((after - from) * (i + 1)) / (count + 1))
}

/** Those of `members` that an effect of this kind can ride on. */
export const rideable = (records: Records, kind: string, members: readonly Member[]): Member[] =>
  members.filter((member) =>
    records.childrenOf('part', member.id).some((part) => effectKind(kind).rides?.includes(part.kind)),
  )

/**
 * A new card at the end of those of the shot. It rides on who is `chosen` (the id of a member), if it can and no card of its kind does yet,
 * else on somebody of `reachable` whom no card rides on. What a kind is usually about, the surroundings of a performer or the performer,
 * its card is about where the shot has one. Whom it meets is another one who can be met, props before others: mostly two props meet.
 */
export function newCard(
  records: Records,
  shot: string,
  kind: string,
  reachable: readonly Member[],
  chosen: string,
  newId: () => string,
): Effect {
  const { alone, region, usual, parameters }: EffectKind = effectKind(kind)
  const cards = records.childrenOf('effect', shot)
  const meeting = parameters.filter((one) => one.type === 'member')
  const riders = rideable(records, kind, reachable)
  const members = meeting.length
    ? riders.toSorted((a, b) => Number(b.kind === 'prop') - Number(a.kind === 'prop'))
    : riders
  const own = cards.some((one) => one.kind === kind && one.target === chosen) ? '' : chosen
  const free =
    members.find((member) => member.id === own) ??
    members.find((member) => !cards.some((one) => one.target === member.id))
  const [first] = records.childrenOf('member', shot)
  const source = reachable.find((member) => member.id === chosen) ?? first
  const performers = reachable.filter((member) => member.shot === shot && member.kind === 'performer')
  const performer = performers.find((member) => member.id === chosen) ?? performers[0]
  const target = alone ? '' : ((free ?? members[0])?.id ?? '')
  const met = members.find((member) => member.id !== target)?.id ?? ''
  return makeEffect({
    ...{ id: newId(), shot, kind, order: placesForNew(records, shot, 1)[0]! },
    target,
    settings: Object.fromEntries(meeting.map(({ name }) => [name, met])),
    // What comes from somebody comes from who is chosen, or from the first of the cast, until told otherwise.
    ...(usual && performer ? { region: { ...everywhere, of: [performer.id], side: usual } } : {}),
    ...(region === 'source' && source ? { region: { ...everywhere, of: [source.id] } } : {}),
  })
}

/** The card for another member: whom it is about is exchanged wherever the card names him. */
export function cardForMember(records: Records, card: Effect, member: Member, newId: () => string): Effect {
  const from = [card.target, card.region.of[0] ?? ''].find((id) => records.get('member', id))
  return {
    ...retargeted(card, (id) => (id === from ? member.id : id)),
    ...{ id: newId(), order: placesForNew(records, card.shot, 1)[0]! },
  }
}

/**
 * The card for another shot, with whom it names there by the same name, or else by the same kind. Where nobody is like them it goes on
 * naming who is not there, and does nothing until somebody is chosen: it never comes to be about the whole picture.
 */
export function cardForShot(records: Records, card: Effect, shot: Shot, newId: () => string): Effect {
  const there = namesakes(records, shot)
  const copy = retargeted(card, there)
  const known = card.region.of.map(there).filter(Boolean)
  return {
    ...copy,
    ...{ id: newId(), shot: shot.id, order: placesForNew(records, shot.id, 1)[0]! },
    target: copy.target || card.target,
    region: { ...copy.region, of: known.length ? known : card.region.of },
    behind: copy.behind.filter(Boolean),
  }
}

/** Whether a card names somebody to ride on, or to work on, and nobody of them is in the cast. */
export function isAboutNobody(records: Records, { target, region }: Effect, cast: readonly Member[]): boolean {
  const here = (id: string) => cast.some((one) => one.id === (records.get('part', id)?.member ?? id))
  return (target !== '' && !here(target)) || (region.of.length > 0 && !region.of.some(here))
}

/** The card in the group of the one above it, which gets one of its own where it has none; nothing at the top. */
export function groupedWithAbove(records: Records, card: Effect): Effect[] {
  const cards = records.childrenOf('effect', card.shot)
  const above = cards[cards.findIndex((one) => one.id === card.id) - 1]
  if (!above) return []
  const names = new Set(cards.map((one) => one.group))
  let { group } = above
  for (let n = 1; !group || (group !== above.group && names.has(group)); n++) group = say`Group ${n}`
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
