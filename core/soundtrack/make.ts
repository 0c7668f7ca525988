import { defaultsOf } from '../parameters/values.ts'
import type { Records } from '../records/records.ts'
import type { Shot, Sound } from '../records/types.ts'
import { soundKind } from '../sound/catalogue.ts'

/** A sound with everything that is not given as its kind wants it. `settings` go over the kind's defaults. */
export function makeSound(given: Pick<Sound, 'id' | 'shot' | 'kind' | 'order'> & Partial<Omit<Sound, 'type'>>): Sound {
  const { ways, moments, parameters } = soundKind(given.kind)
  return {
    ...{ type: 'sound', on: true, target: '', with: '', beads: [], range: null, takes: [] },
    ...{ way: ways[0]!, source: moments },
    ...given,
    settings: { ...defaultsOf(parameters), ...given.settings },
  }
}

/**
 * The sounds of a shot in their order, that of its own clip at the end: it is there before anybody has touched it, wherever
 * the clip has one.
 */
export function soundsOf(records: Records, shot: Shot): Sound[] {
  const sounds = [...records.childrenOf('sound', shot.id)]
  const media = records.get('media', shot.media)
  if (!media?.audio || sounds.some((sound) => sound.kind === 'own')) return sounds
  return [...sounds, makeSound({ id: ownId(shot.id), shot: shot.id, kind: 'own', order: 1e6 })]
}

/** Id of the sound of a shot's clip, whoever first keeps it. */
const ownId = (shot: string): string => `own-${shot}`.slice(0, 80)
