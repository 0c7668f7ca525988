import { defineStore } from 'pinia'
import { ref } from 'vue'
import { toast } from 'vue-sonner'
import type { MediaFacts } from '#core/records/exchange.ts'
import { isPictures, isSound, isStill, type Media, type Shot } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { api } from '../project/api.ts'
import { newId, useProject } from '../project/project.ts'

/** Seconds that a shot of a still lasts until somebody says otherwise. */
const stillSeconds = 5

/** Clips of the open project, and shots of them. */
export const useFootage = defineStore('footage', () => {
  const project = useProject()

  /** Hashes of clips of the project whose files are not on this machine. */
  const missing = ref<ReadonlySet<string>>(new Set())

  /** Looks which clips are here. */
  async function look(): Promise<void> {
    const id = project.session?.project
    const clips = id ? await api.clips(id) : []
    if (project.session?.project === id) missing.value = new Set(clips.flatMap((one) => (one.here ? [] : [one.hash])))
  }

  /**
   * Puts a clip that came in where it was missing: by its content, or, as a clip that was converted on another machine is never
   * the same to the byte, by its name, size and length. Returns whether it was.
   */
  function fill(facts: MediaFacts, fileName: string): boolean {
    const { hash, width, height, frames } = facts
    const lost = project.media.filter((one) => missing.value.has(one.hash))
    const same = lost.find((one) => one.hash === hash)
    const alike = lost.find(
      (one) => one.name === fileName && one.width === width && one.height === height && frames >= one.frames,
    )
    const place = same ?? alike
    if (!place) return false
    if (!same) {
      const { id, name, rate } = place
      // The rate of a sequence is its owner's choice.
      const kept = isPictures(place) ? { rate, seconds: frames / rate } : {}
      project.commit(say`Bring ${name} back`, {
        put: [{ ...facts, ...kept, type: 'media', id, name }],
        remove: [],
      })
    }
    missing.value = new Set([...missing.value].filter((one) => one !== place.hash))
    toast(say`${place.name} is here again, with all that is traced in it.`)
    return true
  }

  /**
   * A clip that is on the server, and a shot of the whole of it; of a still or a sound none: those are laid into shots. `id`: names of the
   * records are made from it, so that who brings it in twice brings it in once.
   */
  function add(facts: MediaFacts, fileName: string, id = newId()): void {
    if (fill(facts, fileName)) return
    const known = project.media.find((one) => one.hash === facts.hash)
    const media: Media = known ?? { ...facts, type: 'media', id: `m${id}`, name: fileName.slice(0, 260) }
    const shot = isStill(media) || isSound(media) ? [] : [{ ...shotOf(media, fileName), id: `s${id}` }]
    project.commit(say`Bring in ${fileName}`, { put: [...(known ? [] : [media]), ...shot], remove: [] })
  }

  function shotOf(media: Media, fileName: string): Shot {
    const base =
      fileName
        .replace(/\.[^.]*$/, '')
        .replace(/[-_]+/g, ' ')
        .trim()
        .slice(0, 70) || say`Shot`
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

  return { add, shotOf, missing, look }
})
