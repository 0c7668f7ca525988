import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { toast } from 'vue-sonner'
import { type WavForm, wavForms } from '#core/formats/wav.ts'
import { filmOf, type Stretch } from '#core/records/film.ts'
import { Records } from '#core/records/records.ts'
import { type AnyRecord, type Shot, shotLength } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { timesOf } from '../frames/clipOf.ts'
import type { Content } from '../frames/render.worker.ts'
import { api, type OutputFile } from '../project/api.ts'
import { withMattes } from '../project/mattes.ts'
import { newId, outbox, useProject } from '../project/project.ts'
import { saveFile } from '../ui/saveFile.ts'
import { attend, sentenceOf, tell } from '../ui/troubles.ts'
import { type Finished, FinishedFiles } from './finished.ts'
import { type FileKind, isPictureFile, isShapesFile, isSoundFile, renderFilm, renderSound } from './renderFilm.ts'

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
}

/** What somebody asks for. */
export interface OutputOrder {
  /** The shot, or null for the whole film. */
  shot: Shot | null
  /** Frames of the shot, both included; all of them where there is none. */
  frames: { from: number; to: number } | null
  kind: FileKind
  content: Content
  /** Name of the member whose matte it is, or who is cut out; '' for everybody together. */
  of: string
  form: WavForm
}

export const kindNames: Record<FileKind, string> = {
  mp4: 'MP4 video, H.264',
  webm: 'WebM video, VP9',
  png: 'PNG pictures in a zip',
  still: 'PNG picture of one frame',
  svg: 'SVG animation',
  svgs: 'SVG drawings in a zip',
  shapes: 'Shapes with their keys, JSON',
  wav: 'WAV, all sound together',
  lanes: 'WAV, every lane by itself',
}
const finishedFiles = new FinishedFiles()
const endings: Record<FileKind, string> = {
  ...{ mp4: 'mp4', webm: 'webm', png: 'zip', still: 'png', wav: 'wav', lanes: 'zip' },
  ...{ svg: 'svg', svgs: 'zip', shapes: 'json' },
}

/** Frames of a shot, as far as it has them, or every shot of the film. */
function stretchesOf(records: Records, shotId: string, frames: OutputOrder['frames']): Stretch[] {
  if (!shotId) return filmOf(records)
  const shot = records.get('shot', shotId)
  const media = shot && records.get('media', shot.media)
  if (!shot || !media) return []
  const last = shotLength(shot) - 1
  const from = Math.max(0, Math.min(last, frames?.from ?? 0))
  return [{ shot, media, from, to: Math.max(from, Math.min(last, frames?.to ?? last)) + 1 }]
}

/** What is in a file, in words: for its name, and for the line about it. */
function contentWords({ kind, content, of }: OutputOrder): [suffix: string, about: string] {
  if (isSoundFile(kind)) return [kind === 'lanes' ? 'lanes' : '', '']
  const whose = of || 'everybody'
  if (isShapesFile(kind)) return [`${of} shapes`.trim(), `shapes of ${whose}`]
  switch (content) {
    case 'over':
      return ['', 'plate with light']
    case 'light':
      return ['light', isPictureFile(kind) ? 'light alone, straight alpha' : 'light alone on black']
    case 'plate':
      return ['plate', 'plate without light']
    case 'matte':
      return [`${of} matte`.trim(), `matte of ${whose}, white on black`]
    case 'cutout':
      return [`${of} cut out`.trim(), `${whose} cut out, straight alpha`]
  }
}

/** The queue of files to render, one after the other, and what was made. It goes on while other steps are visited. */
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
      tell(error, 'list the rendered files')
    }
  }

  /** Finished files that a closed tab could not hand to the server. */
  async function takeOver(id: string): Promise<void> {
    for (const one of await finishedFiles.leftBehind(id, outbox.tab)) {
      if (unkept.has(one.id) || over.has(one.id)) continue
      unkept.set(one.id, one)
      const trouble = 'It was finished, but its tab was closed before the server had it.'
      const { name, about, shot } = one
      jobs.value.push({
        id: one.id,
        project: id,
        shot,
        name,
        about,
        frames: 1,
        done: 1,
        state: 'unkept',
        trouble,
        left: null,
      })
    }
  }

  /** Puts what is asked for into the queue. */
  function order(asked: OutputOrder): void {
    const { shot, kind, form } = asked
    const stretches = stretchesOf(project.records()!, shot?.id ?? '', asked.frames)
    const media = stretches[0]?.media
    if (!media) return
    const frames = stretches.reduce((sum, { from, to }) => sum + to - from, 0)
    const title = shot?.name ?? project.project?.name ?? 'Film'
    const [suffix, what] = contentWords(asked)
    // Which frames, where it is not all of them.
    const some =
      asked.frames &&
      (kind === 'still' ? `frame ${asked.frames.from}` : `frames ${asked.frames.from} to ${asked.frames.to}`)
    const job: RenderJob = {
      ...{
        id: newId(),
        project: project.session!.project,
        shot: shot?.id ?? '',
        frames,
        done: 0,
        state: 'waiting',
        trouble: '',
        left: null,
      },
      name: `${[title, suffix, some].filter(Boolean).join(' ')}.${endings[kind]}`,
      about: isSoundFile(kind)
        ? `${kindNames[kind]}, ${wavForms[form]}, 48 kHz, ${frames} frames`
        : `${kindNames[kind]}, ${media.width} × ${media.height}, ${frames} frames, ${what}`,
    }
    jobs.value.push(job)
    stops.set(job.id, new AbortController())
    orders.set(job.id, asked)
    attend(run(), 'render')
  }

  function cancel(id: string): void {
    stops.get(id)?.abort()
    if (jobs.value.find((job) => job.id === id)?.state !== 'rendering') drop(id)
  }
  function drop(id: string): void {
    const finished = unkept.get(id)
    if (finished) attend(finishedFiles.drop(finished), 'take the file off the disk of this browser')
    unkept.delete(id)
    over.add(id)
    jobs.value = jobs.value.filter((job) => job.id !== id)
    stops.delete(id)
    orders.delete(id)
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
          job.trouble = sentenceOf(error, unkept.has(id) ? 'keep it on the server' : 'render it')
        }
      }
    }
    running = false
  }

  async function render(job: RenderJob): Promise<void> {
    job.state = 'rendering'
    // A job takes the shot as it is when its turn comes; its project must still be the open one.
    const records = await withMattes<AnyRecord>(
      project.session?.project === job.project
        ? [...project.records()!.values()]
        : (await api.openProject(job.project)).records,
    )
    const asked = orders.get(job.id)!
    const stretches = stretchesOf(new Records(records), job.shot, asked.frames)
    const [first] = stretches
    if (!first) throw new Refusal(job.shot ? 'The shot was deleted meanwhile.' : 'All shots were deleted meanwhile.')
    const times = await Promise.all(stretches.map(({ media }) => timesOf(media)))
    const { kind, content, of, form } = asked
    const name = job.shot ? first.shot.name : (records.find((one) => one.type === 'project')?.name ?? 'Film')
    const started = performance.now()
    // What reads and writes shapes comes when it is needed: the first page stays light.
    const shapes = isShapesFile(kind) ? (await import('./renderShapes.ts')).renderShapes : null
    const make = shapes ?? (isSoundFile(kind) ? renderSound : renderFilm)
    const { place, troubles } = await make(
      { stretches, times, records, kind, content, of, form, name },
      (done, of) => {
        job.done = done
        job.frames = of
        if (done >= 4) job.left = (((performance.now() - started) / done) * (job.frames - done)) / 1000
      },
      stops.get(job.id)!.signal,
    )
    for (const sentence of troubles) toast.warning(sentence)
    const finished: Finished = {
      ...{ id: job.id, project: job.project, shot: first.shot.id, name: job.name, about: job.about },
      ...{ tab: outbox.tab, place },
    }
    unkept.set(job.id, finished)
    // A browser that keeps no list loses the file with its tab; the server gets it all the same.
    await finishedFiles.keep(finished).catch((error: unknown) => tell(error, 'note the finished file in this browser'))
    await handOver(job, finished)
  }

  /** Gives a finished file to the server. It stays in this browser until the server has it, whatever happens. */
  async function handOver(job: RenderJob, finished: Finished): Promise<void> {
    job.state = 'keeping'
    const file = await finishedFiles.file(finished)
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
      job.trouble = sentenceOf(error, 'keep it on the server')
    }
  }

  /** Saves a finished file from this browser, as a download. */
  async function save(id: string): Promise<void> {
    const finished = unkept.get(id)
    if (!finished) return
    saveFile(await finishedFiles.file(finished), finished.name)
  }

  async function remove(file: OutputFile): Promise<void> {
    try {
      await api.deleteOutput(project.session!.project, file.id)
    } catch (error) {
      tell(error, 'delete the file')
    }
    await load()
  }

  return { jobs, made, busy, load, order, cancel, drop, remove, keepAgain, save }
})
