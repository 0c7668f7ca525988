import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import type { Media, Shot } from '#core/model/records.ts'
import { api } from '../api.ts'
import { newId, useProject } from './project.ts'

export interface Upload {
  id: string
  project: string
  name: string
  bytes: number
  /** 0..1 */
  share: number
  /** Empty while it runs. */
  trouble: string
  cancel: () => void
}

/** Clips on their way to the server; they go on while other steps are visited. */
export const useUploads = defineStore('uploads', () => {
  const project = useProject()
  const all = ref<Upload[]>([])
  const here = computed(() => all.value.filter((upload) => upload.project === project.session?.project))

  const dismiss = (id: string) => {
    all.value = all.value.filter((upload) => upload.id !== id)
  }

  /** Sends a clip and makes a shot of the whole of it. */
  async function bringIn(file: File): Promise<void> {
    const target = project.session?.project
    if (!target) return
    const stop = new AbortController()
    const id = newId()
    all.value.push({
      id,
      project: target,
      name: file.name,
      bytes: file.size,
      share: 0,
      trouble: '',
      cancel: () => stop.abort(),
    })
    const entry = () => all.value.find((upload) => upload.id === id)
    try {
      const facts = await api.upload(file, (share) => entry() && (entry()!.share = share), stop.signal)
      dismiss(id)
      if (project.session?.project !== target) return
      const known = project.all('media').find((one) => one.hash === facts.hash)
      const {
        hash,
        codec,
        audio,
        width,
        height,
        rotation,
        frames,
        rate,
        variableRate,
        seconds,
        bytes,
        matrix,
        range,
        tagged,
      } = facts
      const media: Media = known ?? {
        ...{ type: 'media', id: newId(), name: file.name.slice(0, 260), hash, codec, audio, width, height, rotation },
        ...{ frames, rate, variableRate, seconds, bytes, matrix, range, tagged },
      }
      project.commit(`Bring in ${file.name}`, {
        put: [...(known ? [] : [media]), shotOf(media, file.name)],
        remove: [],
      })
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') dismiss(id)
      else if (entry()) entry()!.trouble = (error as Error).message
    }
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
      out: media.frames,
      join: 0,
    }
  }

  return { here, bringIn, dismiss, shotOf }
})
