import { until } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { toast } from 'vue-sonner'
import { say } from '#core/say.ts'
import { api, type OutputFile } from '../project/api.ts'
import { newId, outbox, useProject } from '../project/project.ts'
import { saveFile } from '../ui/saveFile.ts'
import { attend, sentenceOf, tell } from '../ui/troubles.ts'
import { wayOf } from '#core/outgoing/forms.ts'
import { type Finished, KeptJobs, newPlace } from './keptJobs.ts'
import { type OutputOrder, stretchesOf, titlesOf } from '#core/outgoing/orders.ts'
import { contentOf, makerOf, prepared } from './prepare.ts'
import type { OnFrame, Slowest } from './renderFilm.ts'

export interface RenderJob {
  id: string
  project: string
  /** The shot, or '' for the whole film. */
  shot: string
  name: string
  about: string
  frames: number
  done: number
  /** 'unkept': finished, and still in this browser because the server could not keep it. */
  state: 'waiting' | 'rendering' | 'keeping' | 'failed' | 'unkept'
  trouble: string
  /** Seconds left, or null while nobody can know. */
  left: number | null
  /** What the rest waits for, where that is one thing. */
  slowest: Slowest | null
}
const fresh = { done: 0, state: 'waiting', trouble: '', left: null, slowest: null } as const

const kept = new KeptJobs()

/** The queue of files to render, one after the other, and what was made. It goes on while other steps are visited, and after a reload. */
export const useOutputs = defineStore('outputs', () => {
  const project = useProject()
  const jobs = ref<RenderJob[]>([])
  const made = ref<OutputFile[]>([])
  const stops = new Map<string, AbortController>()
  const orders = new Map<string, OutputOrder>()
  const busy = computed(() => jobs.value.some((job) => job.state !== 'failed' && job.state !== 'unkept'))
  const unkept = new Map<string, Finished>()
  /** Jobs that are over for this tab: what a list that was read just before still says of them is old. */
  const over = new Set<string>()
  let running = false

  async function load(): Promise<void> {
    const id = project.session?.project
    if (!id) return
    try {
      made.value = await api.outputs(id)
      await takeOver(id)
    } catch (error) {
      tell(error, say`list the rendered files`)
    }
  }

  /** What closed tabs left behind: finished files that the server does not have yet, and jobs that waited or were under way. */
  async function takeOver(id: string): Promise<void> {
    for (const one of await kept.finishedBy(id)) {
      if (unkept.has(one.id) || over.has(one.id)) continue
      unkept.set(one.id, one)
      const trouble = say`It was finished, but its tab was closed before the server had it.`
      const { name, about, shot } = one
      jobs.value.push({
        ...{ ...fresh, id: one.id, project: id, shot, name, about, frames: 1, done: 1, state: 'unkept', trouble },
      })
    }
    const left = await kept.waitedFor(id)
    await kept.sweep()
    for (const one of left) {
      if (orders.has(one.id) || over.has(one.id) || unkept.has(one.id)) continue
      const { name, about, shot, frames } = one
      enqueue({ ...fresh, id: one.id, project: id, shot, name, about, frames }, one.order)
    }
  }

  /** Puts what is asked for into the queue. */
  function order(asked: OutputOrder): void {
    const records = project.records()!
    const stretches = stretchesOf(records, asked.shot, asked.frames)
    if (!stretches.length) return
    const frames = stretches.reduce((sum, { from, to }) => sum + to - from, 0)
    const titles = titlesOf(records, asked, stretches, project.project?.name ?? say`Film`, new Date())
    enqueue({ ...fresh, id: newId(), project: project.session!.project, shot: asked.shot, frames, ...titles }, asked)
  }

  function enqueue(job: RenderJob, asked: OutputOrder): void {
    jobs.value.push(job)
    stops.set(job.id, new AbortController())
    orders.set(job.id, asked)
    attend(remember(), say`keep the queue over a reload`)
    attend(run(), say`render it`)
  }

  /** Notes in this browser what waits, in its order. */
  async function remember(): Promise<void> {
    for (const [place, { id, project: of, shot, name, about, frames, state }] of jobs.value.entries()) {
      const asked = orders.get(id)
      if (asked && (state === 'waiting' || state === 'rendering'))
        await kept.enqueue({ id, project: of, shot, name, about, frames, place, order: asked, tab: outbox.tab })
    }
  }

  /** Puts the jobs of the open project into another order; the one that is being rendered goes on. */
  function arrange(list: readonly RenderJob[]): void {
    const ids = new Set(list.map((job) => job.id))
    jobs.value = [...jobs.value.filter((job) => !ids.has(job.id)), ...list]
    attend(remember(), say`keep the order of the queue`)
  }

  function cancel(id: string): void {
    stops.get(id)?.abort()
    if (jobs.value.find((job) => job.id === id)?.state !== 'rendering') drop(id)
  }
  function drop(id: string): void {
    const finished = unkept.get(id)
    if (finished) attend(kept.drop(finished), say`take the file off the disk of this browser`)
    unkept.delete(id)
    over.add(id)
    jobs.value = jobs.value.filter((job) => job.id !== id)
    stops.delete(id)
    orders.delete(id)
    attend(
      kept.done(id).catch(() => {}),
      say`forget the job`,
    )
  }

  async function run(): Promise<void> {
    if (running) return
    running = true
    for (
      let job = jobs.value.find((one) => one.state === 'waiting');
      job;
      job = jobs.value.find((one) => one.state === 'waiting')
    ) {
      const { id } = job
      try {
        await render(job)
        drop(id)
        await load()
      } catch (error) {
        if (stops.get(id)?.signal.aborted) drop(id)
        else {
          job.state = unkept.has(id) ? 'unkept' : 'failed'
          job.trouble = sentenceOf(error, unkept.has(id) ? say`keep it on the server` : say`render it`)
          // It does not begin again by itself: it would fail again.
          await kept.done(id).catch(() => {})
        }
      }
    }
    running = false
  }

  async function render(job: RenderJob): Promise<void> {
    job.state = 'rendering'
    const asked = orders.get(job.id)!
    const onFrame: OnFrame = (done, of, slowest = null) => {
      job.done = done
      job.frames = of
      if (done < 4) return
      job.left = (((performance.now() - started) / done) * (of - done)) / 1000
      job.slowest = slowest
    }
    const { signal } = stops.get(job.id)!
    const { kind, of, reduce, frames, shot } = asked
    const started = performance.now()
    if (wayOf(kind).way === 'prores') {
      // The server works with what it has: what is on its way there comes first.
      if (project.session?.project === job.project)
        await until(() => project.keeping.state === 'kept').toBe(true, { timeout: 20_000 })
      const { name, about } = job
      const order = { shot, frames, kind, of, reduce, crop: asked.crop, out: contentOf(asked), name, about }
      const made = await api.render(job.project, order, onFrame, signal)
      for (const sentence of made.troubles) toast.warning(sentence)
      return
    }
    // A job takes the shot as it is when its turn comes.
    const order = await prepared(job.project, asked, newPlace())
    const { place, troubles, about } = await (await makerOf(kind))(order, onFrame, signal)
    for (const sentence of troubles) toast.warning(sentence)
    if (about) job.about = `${job.about}, ${about}`
    const finished: Finished = {
      ...{ id: job.id, project: job.project, shot: order.stretches[0]!.shot.id, name: job.name, about: job.about },
      ...{ tab: outbox.tab, place },
    }
    unkept.set(job.id, finished)
    // A browser that keeps no list loses the file with its tab; the server gets it all the same.
    await kept.keep(finished).catch((error: unknown) => tell(error, say`note the finished file in this browser`))
    await kept.done(job.id).catch(() => {})
    await handOver(job, finished)
  }

  /** Gives a finished file to the server. It stays in this browser until the server has it, whatever happens. */
  async function handOver(job: RenderJob, finished: Finished): Promise<void> {
    job.state = 'keeping'
    const file = await kept.file(finished)
    await api.askForRoom(file.size)
    await api.keepOutput(finished.project, finished.shot, finished.name, finished.about, file)
  }

  /** Tries once more to give a finished file to the server. */
  async function keepAgain(id: string): Promise<void> {
    const job = jobs.value.find((one) => one.id === id)
    const finished = unkept.get(id)
    if (!job || !finished) return
    try {
      await handOver(job, finished)
      drop(id)
      await load()
    } catch (error) {
      job.state = 'unkept'
      job.trouble = sentenceOf(error, say`keep it on the server`)
    }
  }

  /** Saves a finished file from this browser, as a download. */
  async function save(id: string): Promise<void> {
    const finished = unkept.get(id)
    if (!finished) return
    saveFile(await kept.file(finished), finished.name)
  }

  async function remove(file: OutputFile): Promise<void> {
    try {
      await api.deleteOutput(project.session!.project, file.id)
    } catch (error) {
      tell(error, say`delete the file`)
    }
    await load()
  }

  return { jobs, made, busy, load, order, arrange, cancel, drop, remove, keepAgain, save }
})
