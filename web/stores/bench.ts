import { defineStore } from 'pinia'
import { computed, markRaw, ref, shallowRef, watch } from 'vue'
import { affectedFrames, trackOf } from '#core/render/scene.ts'
import type { Diff } from '#core/model/diff.ts'
import { shotLength, type Part } from '#core/model/records.ts'
import { cellAt, shapeAt, type Track } from '#core/shapes/track.ts'
import { api } from '../api.ts'
import { Pictures, type Reduce } from '../frames/pictures.ts'
import { useProject } from './project.ts'

export type Look = 'plate' | 'outlines' | 'overlay' | 'result'
export type Tool = 'choose' | 'rod' | 'oval' | 'hand'

/** What is on the bench: the shot, the playhead, what is chosen and how it is looked at. Stays across the steps. */
export const useBench = defineStore('bench', () => {
  const project = useProject()
  // Not for Vue to watch: it keeps its own count of what came in.
  const pictures = markRaw(new Pictures())

  const shotId = ref('')
  const shot = computed(() => project.get('shot', shotId.value))
  const media = computed(() => (shot.value ? project.get('media', shot.value.media) : null))
  const length = computed(() => (shot.value ? shotLength(shot.value) : 0))
  /** Seconds of the clip's frames. */
  const times = shallowRef<number[]>([])
  /** Why there is no picture, in a sentence; empty while all is well. */
  const trouble = ref('')

  const frame = ref(0)
  const stepSize = ref(1)
  const loop = ref(true)
  /** First and last frame that is played, inclusive. */
  const playIn = ref(0)
  const playOut = ref(0)
  const playing = ref(false)

  const look = ref<Look>('overlay')
  const peeking = ref(false)
  const overlay = ref(0.3)
  const onion = ref(true)
  const reduce = ref<Reduce>(1)
  const quiet = ref(false)
  const tool = ref<Tool>('rod')

  const partId = ref('')
  const effectId = ref('')
  /** Index of the chosen point of the part, or null for the whole shape. */
  const point = ref<number | null>(null)
  const part = computed(() => project.get('part', partId.value))

  /** Rises when a picture came in, so that what shows pictures looks again. */
  const arrived = ref(0)
  pictures.onPicture = () => void arrived.value++
  pictures.onError = (sentence) => {
    trouble.value = sentence
  }

  const members = computed(() => project.childrenOf('member', shotId.value))
  const parts = computed(() => members.value.flatMap((member) => project.childrenOf('part', member.id)))
  const effects = computed(() => project.childrenOf('effect', shotId.value))

  const track = (of: Part): Track => trackOf(project.records()!, of)
  const shape = (of: Part, at = frame.value) => shapeAt(track(of), at)
  const cell = (of: Part, at = frame.value) => cellAt(track(of), at)

  async function openShot(id: string): Promise<void> {
    const next = project.get('shot', id)
    const clip = next && project.get('media', next.media)
    if (!next || !clip) return
    stop()
    const changed = shotId.value !== id
    shotId.value = id
    trouble.value = ''
    if (changed) {
      frame.value = 0
      effectId.value = ''
      const first = parts.value[0]
      partId.value = first?.id ?? ''
      tool.value = first && first.kind !== 'rod' ? 'choose' : 'rod'
    }
    playIn.value = 0
    playOut.value = shotLength(next) - 1
    frame.value = Math.min(frame.value, playOut.value)
    try {
      times.value = await api.frameTimes(clip.hash)
    } catch (error) {
      trouble.value = (error as Error).message
      return
    }
    if (shotId.value === id) await pictures.open(next, clip, times.value, [...project.records()!.values()])
  }

  /** Before another project is opened. */
  function leave(): void {
    stop()
    shotId.value = ''
    partId.value = ''
    effectId.value = ''
  }

  project.follow((diff: Diff, inverse: Diff) => {
    if (!shotId.value) return
    const records = project.records()!
    pictures.change(diff, affectedFrames(records, shotId.value, diff, inverse))
    // The shot itself may have been cut anew or be gone.
    const cut = diff.put.find((record) => record.type === 'shot' && record.id === shotId.value)
    const before = inverse.put.find((record) => record.type === 'shot' && record.id === shotId.value)
    if (cut?.type === 'shot' && before?.type === 'shot' && (cut.in !== before.in || cut.out !== before.out))
      void openShot(shotId.value)
    if (!records.get('shot', shotId.value)) leave()
  })

  const clamp = (value: number) => Math.max(0, Math.min(length.value - 1, Math.round(value)))
  function go(to: number): void {
    frame.value = clamp(to)
  }
  const stepBy = (count: number) => {
    stop()
    go(frame.value + count)
  }

  /** Frames with a key of the chosen part, or of all parts where none is chosen. */
  function jumpToKey(direction: 1 | -1): void {
    stop()
    const records = project.records()
    const frames = (part.value ? [part.value] : parts.value).flatMap((one) =>
      (records?.childrenOf('key', one.id) ?? []).map((key) => key.frame),
    )
    const beyond = frames.filter((f) => (f - frame.value) * direction > 0)
    if (beyond.length) go(direction > 0 ? Math.min(...beyond) : Math.max(...beyond))
  }

  let ticking = 0
  function play(): void {
    if (length.value < 2 || playing.value) return
    playing.value = true
    if (frame.value < playIn.value || frame.value >= playOut.value) frame.value = playIn.value
    const start = shot.value!.in
    const at = (f: number) => times.value[start + f] ?? 0
    const end = () => at(playOut.value) + (at(playOut.value) - at(playOut.value - 1))
    let zero = performance.now() / 1000 - at(frame.value)
    const tick = () => {
      let now = performance.now() / 1000 - zero
      if (now >= end()) {
        if (!loop.value) {
          go(playOut.value)
          return stop()
        }
        const span = end() - at(playIn.value)
        const turns = Math.floor((now - at(playIn.value)) / span)
        zero += turns * span
        now -= turns * span
      }
      let f = Math.max(playIn.value, Math.min(frame.value, playOut.value))
      if (at(f) > now) f = playIn.value
      while (f < playOut.value && at(f + 1) <= now) f++
      frame.value = f
      ticking = requestAnimationFrame(tick)
    }
    ticking = requestAnimationFrame(tick)
  }
  function stop(): void {
    cancelAnimationFrame(ticking)
    playing.value = false
  }

  /** What the picture shows: the result where light is looked at, else the plate. */
  const layer = computed(() =>
    look.value === 'result' && !peeking.value && effects.value.some((effect) => effect.on) ? 'result' : 'plate',
  )
  watch(
    [frame, layer, reduce, playIn, playOut, shotId, playing],
    () => {
      if (!shotId.value) return
      pictures.want({
        frame: frame.value,
        layer: layer.value,
        reduce: reduce.value,
        from: playIn.value,
        to: playOut.value,
        playing: playing.value,
      })
      arrived.value++
    },
    { flush: 'sync' },
  )

  return {
    ...{ pictures, shotId, shot, media, length, times, trouble, frame, stepSize, loop, playIn, playOut, playing },
    ...{
      look,
      peeking,
      overlay,
      onion,
      reduce,
      quiet,
      tool,
      partId,
      effectId,
      point,
      part,
      arrived,
      members,
      parts,
      effects,
    },
    ...{ layer, track, shape, cell, openShot, leave, go, stepBy, jumpToKey, play, stop },
    togglePlay: () => (playing.value ? stop() : play()),
  }
})
