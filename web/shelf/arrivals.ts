import { ref } from 'vue'
import { toast } from 'vue-sonner'
import { projectFileEnding } from '#core/records/projectFile.ts'
import { say } from '#core/say.ts'
import { api } from '../project/api.ts'
import { sentenceOf } from '../ui/troubles.ts'

/** A project file on its way onto the shelf. */
export interface Arrival {
  id: string
  name: string
  /** How much of it was sent, 0 to 1: then the server reads it. */
  share: number
  /** Empty while it goes on. */
  trouble: string
  stop: () => void
}

/** Project files that come onto the shelf; `arrived` is called when one stands there, `others` with what may be clips. */
export function useArrivals(arrived: () => void, others: (files: readonly File[]) => void) {
  const all = ref<Arrival[]>([])
  const dismiss = (id: string) => void (all.value = all.value.filter((one) => one.id !== id))

  async function bringIn(file: File): Promise<void> {
    const stop = new AbortController()
    const id = crypto.randomUUID()
    all.value.push({ id, name: file.name, share: 0, trouble: '', stop: () => stop.abort() })
    const entry = () => all.value.find((one) => one.id === id)
    try {
      await api.askForRoom(file.size)
      const { name, copied, missing } = await api.bringIn(
        file,
        (share) => entry() && (entry()!.share = share),
        stop.signal,
      )
      dismiss(id)
      arrived()
      toast(
        copied
          ? say`"${name}" was here before: what came in stands on the shelf as a copy.`
          : say`"${name}" stands on the shelf.`,
      )
      if (missing.length)
        toast.warning(say`Without ${listed(missing)}. Open it and drop them at the step Footage.`, { duration: 15_000 })
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') dismiss(id)
      else if (entry()) entry()!.trouble = sentenceOf(error, say`bring the project in`)
    }
  }

  async function take(files: readonly File[]): Promise<void> {
    const isOurs = (file: File) => file.name.endsWith(`.${projectFileEnding}`)
    const clips = files.filter((file) => !isOurs(file))
    for (const file of files.filter(isOurs)) await bringIn(file)
    if (clips.length) others(clips)
  }

  return { all, take, dismiss }
}

/** Names in a sentence, three at most. */
function listed(names: readonly string[]): string {
  const more = names.length - 3
  const some = more > 0 ? [...names.slice(0, 3), say`${more} more`] : names
  return some.length > 1 ? say`${some.slice(0, -1).join(', ')} and ${some.at(-1)!}` : some[0]!
}
