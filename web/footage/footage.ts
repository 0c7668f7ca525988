import { defineStore } from 'pinia'
import type { MediaFacts } from '#core/records/exchange.ts'
import { isSound, isStill, type Media, type Shot } from '#core/records/types.ts'
import { newId, useProject } from '../project/project.ts'

/** Seconds that a shot of a still lasts until somebody says otherwise. */
const stillSeconds = 5

/** Clips of the open project, and shots of them. */
export const useFootage = defineStore('footage', () => {
  const project = useProject()

  /**
   * A clip that is on the server, and a shot of the whole of it; of a still or a sound none: those are laid into shots. `id`: names of the
   * records are made from it, so that who brings it in twice brings it in once.
   */
  function add(facts: MediaFacts, fileName: string, id = newId()): void {
    const known = project.media.find((one) => one.hash === facts.hash)
    const media: Media = known ?? { ...facts, type: 'media', id: `m${id}`, name: fileName.slice(0, 260) }
    const shot = isStill(media) || isSound(media) ? [] : [{ ...shotOf(media, fileName), id: `s${id}` }]
    project.commit(`Bring in ${fileName}`, { put: [...(known ? [] : [media]), ...shot], remove: [] })
  }

  function shotOf(media: Media, fileName: string): Shot {
    const base =
      fileName
        .replace(/\.[^.]*$/, '')
        .replace(/[-_]+/g, ' ')
        .trim()
        .slice(0, 70) || 'Shot'
    const taken = new Set(project.shots.map((shot) => shot.name))
    let name = base
    for (let i = 2; taken.has(name); i++) name = `${base} ${i}`
    return {
      type: 'shot',
      id: newId(),
      media: media.id,
      name,
      order: (project.shots.at(-1)?.order ?? 0) + 1,
      in: 0,
      out: isStill(media) ? Math.round(stillSeconds * media.rate) : media.frames,
      join: 0,
    }
  }

  return { add, shotOf }
})
