import { say } from '../say.ts'
import { effectKind } from '../effects/catalogue.ts'
import type { Records } from '../records/records.ts'
import type { Effect, Region } from '../records/types.ts'

/** Whose matte it is, or who is cut out: ids of members and parts together, where an effect works, or a matte for each of red, green and blue. */
export type Whose = readonly string[] | Region | Channels
/** Ids for each channel, three at the most. */
export interface Channels {
  channels: readonly (readonly string[])[]
}
/** Stands between the names of mattes that go into the channels of one picture. */
export const beside = ' + '

/** What of a shot a matte can be of, by a name that stays the same from shot to shot; `id` of the member, part or effect. */
export interface Nameable {
  name: string
  what: 'member' | 'part' | 'region'
  id: string
}

/** Members, then their parts where they have several, then where effects work that do not work everywhere. */
export function nameables(records: Records, shot: string): Nameable[] {
  const members = records.childrenOf('member', shot)
  const parts = members.flatMap((member) => {
    const own = records.childrenOf('part', member.id)
    return own.length > 1
      ? own.map(({ id, name }) => ({ name: `${member.name}, ${name}`, what: 'part' as const, id }))
      : []
  })
  const seen = new Map<string, number>()
  const regions = records
    .childrenOf('effect', shot)
    .filter(({ region }) => region.of.length)
    .map((effect) => {
      const title = say`where ${effectKind(effect.kind).title} works`
      const count = (seen.get(title) ?? 0) + 1
      seen.set(title, count)
      return { name: count > 1 ? `${title}, ${count}` : title, what: 'region' as const, id: effect.id }
    })
  return [...members.map(({ id, name }) => ({ name, what: 'member' as const, id })), ...parts, ...regions]
}

/** What a name means in a shot; everybody for ''; an empty list where nothing there is called so. */
export function whoseOf(records: Records, shot: string, name: string): Whose {
  if (!name) return records.childrenOf('member', shot).map(({ id }) => id)
  const named = nameables(records, shot).filter((one) => one.name === name)
  if (!named.length && name.includes(beside)) {
    const each = name.split(beside).slice(0, 3)
    const channels = each.map((one) => whoseOf(records, shot, one)).map((ids) => ('length' in ids ? ids : []))
    return channels.some((ids) => ids.length) ? { channels } : []
  }
  const effect = named.find((one) => one.what === 'region')
  return effect ? (records.get('effect', effect.id) as Effect).region : named.map(({ id }) => id)
}

export const isNobody = (whose: Whose): boolean => 'length' in whose && whose.length === 0
