import * as Comlink from 'comlink'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { glanceBytes } from '#core/records/exchange.ts'
import { sequencesOf } from '#core/formats/sequence.ts'
import { say } from '#core/say.ts'
import { isAnimatedWebp } from '../frames/animation.ts'
import { startEncoder } from '../frames/start.ts'
import { api } from '../project/api.ts'
import { newId, useProject } from '../project/project.ts'
import { attend, sentenceOf } from '../ui/troubles.ts'
import { useConversions } from './conversions.ts'
import { useFootage } from './footage.ts'

/** What is packed, and pictures a second where these say so themselves. */
interface Packed {
  file: File
  rate: number | null
}

/**
 * Pictures, or the frames of an animated one, as one zip, packed by a worker onto the browser's disk; null where a file goes as it
 * is.
 */
async function zipped(files: File[]): Promise<{ packed: Promise<Packed>; discard: () => void } | null> {
  const animated = files.length === 1 && (await isAnimatedWebp(files[0]!))
  if (files.length === 1 && !animated) return null
  const { remote, stop } = startEncoder()
  const pack = async (): Promise<Packed> => {
    await remote.beginZip(crypto.randomUUID())
    if (animated) {
      const rate = await remote.addAnimation(files[0]!)
      return { file: await remote.finish(), rate }
    }
    for (const file of files) {
      const bytes = new Uint8Array(await file.arrayBuffer())
      await remote.addPart(file.name, Comlink.transfer(bytes, [bytes.buffer]))
    }
    return { file: await remote.finish(), rate: null }
  }
  return { packed: pack(), discard: () => attend(remote.discard().finally(stop), say`tidy up after the pictures`) }
}

export interface Upload {
  id: string
  project: string
  name: string
  bytes: number
  /** 0..1 */
  share: number
  /** How it is coded where it will be converted, in words. */
  becomes: string
  /** Empty while it runs. */
  trouble: string
  cancel: () => void
}

/** Clips on their way to the server; they go on while other steps are visited. */
export const useUploads = defineStore('uploads', () => {
  const project = useProject()
  const footage = useFootage()
  const conversions = useConversions()
  const all = ref<Upload[]>([])
  const here = computed(() => all.value.filter((upload) => upload.project === project.session?.project))

  const dismiss = (id: string) => {
    all.value = all.value.filter((upload) => upload.id !== id)
  }

  /** Takes chosen files in; numbered pictures come as one sequence each. */
  function take(files: readonly File[]): void {
    for (const { name, files: places } of sequencesOf(files.map((file) => file.name))) {
      const own = places.map((i) => files[i]!)
      attend(bringIn(name, own), say`bring the clip in`)
    }
  }

  /** Sends a clip, a still or the pictures of a sequence; what the browser does not decode is converted first. */
  async function bringIn(name: string, files: File[]): Promise<void> {
    const target = project.session?.project
    if (!target) return
    const stop = new AbortController()
    const id = newId()
    all.value.push({
      id,
      project: target,
      name,
      bytes: files.reduce((sum, file) => sum + file.size, 0),
      share: 0,
      becomes: '',
      trouble: '',
      cancel: () => stop.abort(),
    })
    const entry = () => all.value.find((upload) => upload.id === id)
    let zip: Awaited<ReturnType<typeof zipped>> = null
    try {
      zip = await zipped(files)
      const { file, rate } = zip ? await zip.packed : { file: files[0]!, rate: null }
      stop.signal.throwIfAborted()
      await api.askForRoom(file.size)
      if (file.size > 2 * glanceBytes) {
        const seen = await api.glanceAt(file)
        if (entry()) entry()!.becomes = seen?.becomes ?? ''
        stop.signal.throwIfAborted()
      }
      const told = (share: number) => entry() && (entry()!.share = share)
      const taken = await api.upload(file, { project: target, name }, told, stop.signal)
      dismiss(id)
      if ('conversion' in taken) conversions.follow(target)
      else if (project.session?.project === target)
        footage.add(rate ? { ...taken, rate, seconds: taken.frames / rate } : taken, name)
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') dismiss(id)
      else if (entry()) entry()!.trouble = sentenceOf(error, say`bring the clip in`)
    } finally {
      zip?.discard()
    }
  }

  return { here, take, dismiss }
})
