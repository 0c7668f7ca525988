import * as Comlink from 'comlink'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { toast } from 'vue-sonner'
import type { Diff } from '#core/records/diff.ts'
import { motionOf } from '#core/records/plate.ts'
import { clipFrame, clipRange } from '#core/records/timing.ts'
import type { AnyRecord, Media, Plate, Shot } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { type Started, started, WorkerEnded } from '../frames/worker.ts'
import { api } from '../project/api.ts'
import { newId, useProject } from '../project/project.ts'
import { attend, tell } from '../ui/troubles.ts'
import type { MadePlate, PlateWorker } from './plate.worker.ts'

const startPlateMaker = () =>
  started<PlateWorker>(
    new Worker(new URL('./plate.worker.ts', import.meta.url), { type: 'module' }),
    say`make the clean plate`,
  )

/** Clean plates: made in a worker from all frames of a shot, kept as a still, painted into, and let go. */
export const usePlates = defineStore('plates', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()

  const plate = computed<Plate | null>(() => project.childrenOf('plate', opened.shotId)[0] ?? null)
  const still = computed(() => (plate.value ? project.get('media', plate.value.media) : null))
  /** What is under way for the open shot, and how much of it is done. */
  const run = shallowRef<{ share: number; stopping: boolean } | null>(null)
  /** Whether a stroke is being brought in. */
  const bringing = ref(false)
  /** Frame of the shot whose picture strokes bring. */
  const source = ref(0)

  let worker: Started<PlateWorker> | null = null
  function end(): void {
    worker?.stop()
    worker = null
    run.value = null
    bringing.value = false
  }
  // Its frames come from the clip of the open shot.
  watch(
    () => opened.shotId,
    () => {
      end()
      source.value = 0
    },
    { flush: 'sync' },
  )

  /** Frames of the clip from `first` on, for a worker. */
  const frames = (first: number) => {
    const { pictures } = opened
    return Comlink.proxy((frame: number) => pictures.decodedAt({ frame: first + frame, between: 'repeated' }))
  }

  /** Makes the clean plate of the open shot, or makes it anew. */
  async function make(): Promise<void> {
    const { shot, media } = opened
    if (!shot || !media || run.value || bringing.value) return
    if (!opened.parts.length)
      return void toast.error(say`Nobody is traced in this shot: there is nobody to take out of it.`, { id: 'plate' })
    const records = project.records()!
    const own = [...records.withDescendants([{ type: 'shot', id: shot.id }])].flatMap(({ type, id }): AnyRecord[] =>
      [records.get(type, id) ?? []].flat(),
    )
    const { from, to } = clipRange(shot)
    run.value = { share: 0, stopping: false }
    const mine = (worker ??= startPlateMaker())
    try {
      const made = await mine.remote.make(
        { records: [media, ...own], shot: shot.id, media, from, to },
        frames(from),
        Comlink.proxy((share: number) => {
          if (run.value) run.value = { ...run.value, share: 0.95 * share }
        }),
      )
      if (worker !== mine) return
      const facts = made && !run.value?.stopping ? await keep(shot, made.file) : null
      if (worker !== mine) return
      if (!made || !facts || run.value?.stopping) return void toast(stopped(), { id: 'plate' })
      commit(say`Make the clean plate of ${shot.name}`, shot, facts, { ...made, from })
      tellOf(made, to - from)
    } catch (error) {
      if (!(error instanceof WorkerEnded)) tell(error, say`make the clean plate`, 'plate')
    } finally {
      // Who went to another shot and came back may have begun anew.
      if (worker === mine) end()
    }
  }

  const stopped = () =>
    plate.value
      ? say`Stopped: the clean plate is the one that was there.`
      : say`Stopped: there is no clean plate, and the hole is filled from its edge.`
  const percent = (share: number) => `${Math.max(1, Math.round(100 * share))} %`
  function tellOf({ filled, lost }: MadePlate, length: number): void {
    if (lost)
      toast.warning(
        say`The clean plate is there. On ${lost} of ${length} frames its place could not be found: those are filled from the edge of the hole.`,
        { id: 'plate', duration: 8000 },
      )
    else if (filled > 0.005)
      toast(
        say`The clean plate is there. No frame shows ${percent(filled)} of it without the cast: that was filled from its edge; bring another frame in with a stroke where one shows it.`,
        { id: 'plate', duration: 8000 },
      )
    else toast.success(say`The clean plate is there.`, { id: 'plate' })
  }

  /** Has a still kept by the server. */
  async function keep(shot: Shot, file: Uint8Array<ArrayBuffer>): Promise<Omit<Media, 'type' | 'id' | 'name'> | null> {
    const target = project.session?.project
    if (!target) return null
    const named = new File([file], nameOf(shot), { type: 'image/png' })
    await api.askForRoom(named.size)
    const taken = await api.upload(named, { project: target, name: named.name }, () => {}, new AbortController().signal)
    if ('conversion' in taken) throw new Refusal(say`The still of the clean plate could not be kept as a picture.`)
    return taken
  }
  const nameOf = (shot: Shot) => say`Clean plate of ${shot.name}`.slice(0, 200) + '.png'

  /** One change: the still, the plate, and the still of before where nothing else shows it. */
  function commit(
    label: string,
    shot: Shot,
    facts: Omit<Media, 'type' | 'id' | 'name'>,
    { x, y, from, motions }: Pick<Plate, 'x' | 'y' | 'from' | 'motions'>,
  ): void {
    const known = project.media.find((one) => one.hash === facts.hash)
    const media: Media = known ?? { ...facts, type: 'media', id: `m${newId()}`, name: nameOf(shot) }
    const before = plate.value
    const kept: Plate = {
      type: 'plate',
      id: before?.id ?? newId(),
      shot: shot.id,
      media: media.id,
      x,
      y,
      from,
      motions,
    }
    const put: Diff['put'] = [...(known ? [] : [media]), kept]
    project.commit(label, { put, remove: before && before.media !== media.id ? stillsAlone(before) : [] })
  }

  /** The still of a plate where nothing else names it. */
  function stillsAlone({ id, media }: Plate): Diff['remove'] {
    const named = [...project.records()!.values()].some(
      (one) => one.type !== 'media' && one.id !== id && JSON.stringify(one).includes(`"${media}"`),
    )
    return named ? [] : [{ type: 'media', id: media }]
  }

  /** Lets the clean plate go: holes are filled from their edge again. */
  function remove(): void {
    const one = plate.value
    if (one)
      project.commit(say`Take the clean plate out`, {
        put: [],
        remove: [{ type: 'plate', id: one.id }, ...stillsAlone(one)],
      })
  }

  function stop(): boolean {
    if (!run.value) return false
    run.value = { ...run.value, stopping: true }
    if (worker) attend(worker.remote.stop(), say`stop`)
    return true
  }

  /** Brings what another frame shows into the plate, under a stroke of that width over the picture, in plate pixels. */
  async function stroke(points: readonly number[], size: number): Promise<void> {
    const { shot } = opened
    const [one, picture] = [plate.value, still.value]
    if (!shot || bringing.value || run.value) return
    if (!one || !picture)
      return void toast.error(say`There is no clean plate to bring another frame into: make it first.`, { id: 'plate' })
    const at = { frame: clipFrame(shot, playback.frame), source: clipFrame(shot, source.value) }
    if (at.frame === at.source)
      return void toast.error(say`Strokes bring this very frame: choose another one to bring in.`, { id: 'plate' })
    if (!motionOf(one, at.frame) || !motionOf(one, at.source))
      return void toast.error(
        say`The place of one of these frames in the clean plate is not known: choose another one.`,
        {
          id: 'plate',
        },
      )
    bringing.value = true
    worker ??= startPlateMaker()
    try {
      const bytes = new Uint8Array(await (await fetch(api.footageAddress(picture.hash))).arrayBuffer())
      const order = { ...at, points: [...points], size }
      const file = await worker.remote.bring({ ...one, motions: [...one.motions] }, bytes, order, frames(0))
      const facts = await keep(shot, file)
      if (facts && opened.shotId === shot.id && plate.value?.id === one.id)
        commit(say`Bring frame ${source.value} into the clean plate`, shot, facts, one)
    } catch (error) {
      if (!(error instanceof WorkerEnded)) tell(error, say`bring the frame in`, 'plate')
    } finally {
      bringing.value = false
    }
  }

  return { plate, still, run, bringing, source, make, remove, stop, stroke }
})
