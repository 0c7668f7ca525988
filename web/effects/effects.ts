import { defineStore } from 'pinia'
import {
  cardForMember,
  cardForShot,
  cardsReordered,
  groupedWithAbove,
  isAboutNobody,
  newCard,
  placesForNew,
  rideable,
} from '#core/edits/cards.ts'
import { takeOverIn } from '#core/edits/joins.ts'
import { effectKind } from '#core/effects/catalogue.ts'
import { worksBehind } from '#core/effects/shared/behind.ts'
import { cardOf, cardsFor, type Look } from '#core/looks/looks.ts'
import { opacityParameter } from '#core/parameters/opacity.ts'
import type { Setting } from '#core/parameters/parameters.ts'
import type { Effect, KeptLook, Member, Shot } from '#core/records/types.ts'
import { amid, say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useSelection } from '../editor/selection.ts'
import { newId, useProject } from '../project/project.ts'

/** What is done to effects, each one commit. */
/** What every card has, whatever its kind: it is set on all that are chosen together. */
const shared: ReadonlySet<string> = new Set<keyof Effect>([
  'on',
  'region',
  'range',
  'opacity',
  'behind',
  'behindRange',
  'blend',
])

export const useEffects = defineStore('effects', () => {
  const project = useProject()
  const opened = useOpenShot()
  const selected = useSelection()

  const records = () => project.records()!
  /** Members that an effect of this kind can ride on. */
  const whoCarries = (kind: string): Member[] => rideable(records(), kind, opened.reachable)

  /** Whether a card names nobody of this shot. */
  const aboutNobody = (effect: Effect): boolean => isAboutNobody(records(), effect, opened.reachable)

  /** Whether a card works on what is behind somebody. */
  const isBehind = (effect: Effect): boolean => worksBehind(effectKind(effect.kind), effect).length > 0

  function add(kind: string): void {
    if (kind === 'takeOver') return joinOn()
    const effect = newCard(records(), opened.shotId, kind, opened.reachable, selected.part?.member ?? '', newId)
    if (project.commit(say`Add ${amid(effectKind(kind).title)}`, { put: [effect], remove: [] }))
      selected.effectId = effect.id
  }

  /** Lets the next shot take over; where the shot is cut it is joined. */
  function joinOn(): void {
    const diff = takeOverIn(project.records()!, opened.shot!, newId)
    if (project.commit(say`Let the next shot take over`, diff)) selected.effectId = diff.put.at(-1)!.id
  }

  /** Puts a look on a member, or on the picture (''), its cards after those that are there. */
  function putLook(look: Pick<Look, 'name' | 'cards'>, member: string): void {
    const cards = cardsFor(look, member)
    const places = placesForNew(records(), opened.shotId, cards.length)
    const put = cards.map((card, i): Effect => ({
      ...{ type: 'effect', id: newId(), shot: opened.shotId, order: places[i]! },
      ...card,
    }))
    if (project.commit(say`Put on ${look.name}`, { put, remove: [] })) selected.effectId = put[0]!.id
  }
  /** The shot's cards that are about a member, or about nobody (''), as a look. */
  function lookOf(name: string, member: string, preview: string): KeptLook {
    const about = opened.effects.filter((one) => isAbout(one, member))
    const cards = about.map((one) => cardOf(one, member))
    const needs = [...new Set(about.flatMap((one) => (one.target ? (effectKind(one.kind).rides ?? []) : [])))]
    return {
      ...{ type: 'look', id: newId(), name, about: `${cards.length} ${cards.length === 1 ? say`card` : say`cards`}` },
      ...{ needs, cards, preview },
    }
  }
  /** Whether a card is about a member; for '' whether it is about the whole picture. */
  const isAbout = ({ target, region }: Effect, member: string): boolean =>
    member ? target === member || region.of.includes(member) : !target && !region.of.length
  function removeLook(look: KeptLook): void {
    project.remove(say`Delete the look ${look.name}`, look.name, [{ type: 'look', id: look.id }])
  }

  function change(effect: Effect, fields: Partial<Effect>, label: string, group = ''): void {
    // The latest state, not the one a control was drawn with: two quick changes must not undo each other.
    const now = project.get('effect', effect.id)
    const also = Object.keys(fields).every((name) => shared.has(name)) ? togetherWith(effect) : []
    const others = also.filter((one) => !fields.region || effectKind(one.kind).region !== 'none')
    const put = [...(now ? [now] : []), ...others].map((one) => ({ ...one, ...fields }))
    if (now) project.commit(others.length ? say`${label} on ${put.length} cards` : label, { put, remove: [] }, group)
  }
  /** The other cards that are chosen together with one. */
  function togetherWith(effect: Effect): Effect[] {
    const ids = [selected.effectId, ...selected.moreEffects]
    if (!selected.moreEffects.length || !ids.includes(effect.id)) return []
    return ids.flatMap((id) => (id === effect.id ? [] : (project.get('effect', id) ?? [])))
  }
  function setSetting(effect: Effect, name: string, value: Setting): void {
    const now = project.get('effect', effect.id)
    const label = effectKind(effect.kind).parameters.find((p) => p.name === name)?.label ?? name
    if (now)
      change(
        now,
        { settings: { ...now.settings, [name]: value } },
        say`Set ${amid(label)}`,
        `effect ${effect.id} ${name}`,
      )
  }
  function changeAll(list: readonly Effect[], fields: Partial<Effect>, label: string): void {
    project.commit(label, { put: list.map((one) => ({ ...one, ...fields })), remove: [] })
  }
  /** The shot's cards in a new order. */
  function reorder(list: readonly Effect[]): void {
    const put = cardsReordered(records(), list)
    if (put.length) project.commit(say`Change the order of effects`, { put, remove: [] })
  }
  /** Puts the card into the group of the one above it, which gets one where it has none; or takes it out. */
  function groupWithAbove(effect: Effect): void {
    const put = groupedWithAbove(records(), effect)
    if (put.length) project.commit(say`Group cards`, { put, remove: [] })
  }
  /** The same card for another member of this shot, or for a shot with what it names there by the same names. */
  function copyFor(effect: Effect, member: Member): void {
    const copy = cardForMember(records(), effect, member, newId)
    if (project.commit(say`Copy an effect for ${member.name}`, { put: [copy], remove: [] })) selected.effectId = copy.id
  }
  function copyToShot(effect: Effect, shot: Shot): void {
    const put = [cardForShot(records(), effect, shot, newId)]
    project.commit(say`Copy an effect to ${shot.name}`, { put, remove: [] })
  }
  function remove(effect: Effect): void {
    const all = [effect, ...togetherWith(effect)]
    const what = all.length > 1 ? say`${all.length} cards` : amid(effectKind(effect.kind).title)
    const name = all.length > 1 ? say`All of ${what}` : effectKind(effect.kind).title
    project.remove(
      say`Delete ${what}`,
      name,
      all.map(({ id }) => ({ type: 'effect', id })),
    )
  }
  function duplicate(effect: Effect): void {
    const copy: Effect = { ...effect, id: newId(), order: placesForNew(records(), opened.shotId, 1)[0]! }
    if (project.commit(say`Duplicate ${amid(effectKind(effect.kind).title)}`, { put: [copy], remove: [] }))
      selected.effectId = copy.id
  }
  /** Exchanges the effect with its neighbour in the order of working. */
  function move(effect: Effect, way: 1 | -1): void {
    const list = opened.effects
    const other = list[list.findIndex((one) => one.id === effect.id) + way]
    if (other)
      project.commit(say`Change the order of effects`, {
        put: [
          { ...effect, order: other.order },
          { ...other, order: effect.order },
        ],
        remove: [],
      })
  }
  /** A setting of an effect; its opacity is one of them. */
  const settingOf = (effect: Effect, p: { name: string; default: Setting }): Setting =>
    p.name === opacityParameter.name ? effect.opacity : (effect.settings[p.name] ?? p.default)
  /** Sets a number or colour, still or moving. */
  function setMoving(effect: Effect, p: { name: string }, value: Setting): void {
    if (p.name === opacityParameter.name)
      change(effect, { opacity: value as Effect['opacity'] }, say`Set opacity`, `opacity ${effect.id}`)
    else setSetting(effect, p.name, value)
  }

  return {
    ...{ changeAll, reorder, groupWithAbove, copyFor, copyToShot, settingOf, setMoving },
    rideable: whoCarries,
    aboutNobody,
    isBehind,
    togetherWith,
    putLook,
    lookOf,
    isAbout,
    removeLook,
    add,
    change,
    setSetting,
    remove,
    duplicate,
    move,
  }
})
