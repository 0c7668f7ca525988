import { defineStore } from 'pinia'
import type { EffectKind } from '#core/effects/kind.ts'
import { effectKinds } from '#core/effects/registry.ts'
import { everywhere, makeEffect } from '#core/model/make.ts'
import { withCurveKey, type Curve, type CurveKey, type Setting } from '#core/model/parameters.ts'
import type { Effect, EffectKindName, Member } from '#core/model/records.ts'
import { useBench } from './bench.ts'
import { newId, useProject } from './project.ts'

/** What is done to effects, each one commit. */
export const useEffects = defineStore('effects', () => {
  const project = useProject()
  const bench = useBench()

  /** Members that an effect of this kind can ride on. */
  const rideable = (kind: EffectKindName): Member[] =>
    bench.members.filter((member) =>
      project.childrenOf('part', member.id).some((part) => effectKinds[kind].rides?.includes(part.kind)),
    )

  function add(kind: EffectKindName): void {
    const { effects } = bench
    const { alone, region } = effectKinds[kind] as EffectKind
    const members = rideable(kind)
    const free = members.find((member) => !effects.some((effect) => effect.target === member.id))
    const effect = makeEffect({
      ...{ id: newId(), shot: bench.shotId, kind, order: (effects.at(-1)?.order ?? 0) + 1 },
      target: alone ? '' : ((free ?? members[0])?.id ?? ''),
      // What comes from somebody comes from the first of the cast until told otherwise.
      ...(region === 'source' && bench.members[0] ? { region: { ...everywhere, of: [bench.members[0].id] } } : {}),
    })
    if (project.commit(`Add ${effectKinds[kind].title.toLowerCase()}`, { put: [effect], remove: [] }))
      bench.effectId = effect.id
  }

  function change(effect: Effect, fields: Partial<Effect>, label: string, group = ''): void {
    // The latest state, not the one a control was drawn with: two quick changes must not undo each other.
    const now = project.get('effect', effect.id)
    if (now) project.commit(label, { put: [{ ...now, ...fields }], remove: [] }, group)
  }
  function setSetting(effect: Effect, name: string, value: Setting): void {
    const now = project.get('effect', effect.id)
    const label = effectKinds[effect.kind].parameters.find((p) => p.name === name)?.label ?? name
    if (now)
      change(
        now,
        { settings: { ...now.settings, [name]: value } },
        `Set ${label.toLowerCase()}`,
        `effect ${effect.id} ${name}`,
      )
  }
  function remove(effect: Effect): void {
    project.commit(`Delete ${effectKinds[effect.kind].title.toLowerCase()}`, {
      put: [],
      remove: [{ type: 'effect', id: effect.id }],
    })
  }
  function duplicate(effect: Effect): void {
    const copy: Effect = { ...effect, id: newId(), order: (bench.effects.at(-1)?.order ?? 0) + 1 }
    if (project.commit(`Duplicate ${effectKinds[effect.kind].title.toLowerCase()}`, { put: [copy], remove: [] }))
      bench.effectId = copy.id
  }
  /** Exchanges the effect with its neighbour in the order of working. */
  function move(effect: Effect, way: 1 | -1): void {
    const list = bench.effects
    const other = list[list.findIndex((one) => one.id === effect.id) + way]
    if (other)
      project.commit('Change the order of effects', {
        put: [
          { ...effect, order: other.order },
          { ...other, order: effect.order },
        ],
        remove: [],
      })
  }
  /** The curve with the key at `from` moved to where `key` lies; a key that was there gives way. */
  const movedKey = (curve: Curve, from: number, key: CurveKey): Curve =>
    withCurveKey({ keys: curve.keys.filter((one) => one.frame !== from) }, key)

  return { rideable, add, change, setSetting, remove, duplicate, move, movedKey }
})
