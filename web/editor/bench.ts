import { defineStore } from 'pinia'
import { computed, markRaw, reactive, ref, shallowRef, watch } from 'vue'
import type { EditReach } from '#core/edits/overTime.ts'
import type { SideDoes } from '#core/geometry/selectionFrame.ts'
import { bestSimilarity, identity, type Similarity } from '#core/geometry/similarity.ts'
import type { Diff } from '#core/records/diff.ts'
import { joinedShot } from '#core/records/film.ts'
import { isPictures, type Part, shotLength } from '#core/records/types.ts'
import { affectedFrames } from '#core/render/scene.ts'
import type { PartKindName } from '#core/shapes/registry.ts'
import { shapeOf, trackOf } from '#core/shapes/riding.ts'
import { cellAt, isHandKey, type Track } from '#core/shapes/track.ts'
import { timesOf } from '../frames/clipOf.ts'
import { Pictures, type Reduce } from '../frames/pictures.ts'
import type { Layer, Seeing } from '../frames/render.worker.ts'
import { useProject } from '../project/project.ts'

export type Look = 'plate' | 'outlines' | 'overlay' | 'matte' | 'cutout' | 'result' | 'difference'
export type Tool = 'choose' | PartKindName | 'hand'
/** Frames that were chosen on the sheet, and on which lanes. */
export interface SheetRange {
  from: number
  to: number
  /** Ids of parts, from the first lane to the last. */
  parts: string[]
}

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
  /** Frames that the playhead goes on after a key; 0 for the next frame of the key plan. */
  const stepSize = ref(1)
  const loop = ref(true)
  /** First and last frame that is played, inclusive. */
  const playIn = ref(0)
  const playOut = ref(0)
  const playing = ref(false)

  const look = ref<Look>('overlay')
  const peeking = ref(false)
  const overlay = ref(0.3)
  /** How much of the result lies over the plate, 0 to 1. */
  const through = ref(1)
  const onion = ref(true)
  /** Which neighbours are shown around the shape, how many on either side, and how strongly. */
  const onions = reactive({ by: 'keys' as 'keys' | 'frames', count: 1, strength: 0.5 })
  /** Of the view alone, 1 as it is: what is made from the picture does not change. */
  const brightness = ref(1)
  const contrast = ref(1)
  const loupe = ref(false)
  /** While held, the frame before stands in for this one. */
  const flipped = ref(false)
  /** While held, points go to strong edges of the picture. */
  const snapping = ref(false)
  /** The part that stands still while the picture moves, and the frame on which it stood so. */
  const steady = shallowRef<{ part: string; frame: number } | null>(null)
  const reduce = ref<Reduce>(1)
  const quiet = ref(false)
  const tool = ref<Tool>('rod')

  const partId = ref('')
  const effectId = ref('')
  /** Indices of the chosen points of the part; none stands for the whole shape. */
  const points = shallowRef<readonly number[]>([])
  /** Whether a frame stands around what is chosen, what its sides do, and where its pivot was put. */
  const framing = ref(false)
  const sides = ref<SideDoes>('stretch')
  const pivot = shallowRef<{ x: number; y: number } | null>(null)
  /** Over which frames an edit counts. */
  const reach = ref<EditReach['over']>('frame')
  const fadeFrames = ref(6)
  const range = shallowRef<SheetRange | null>(null)
  /** The part or member that alone is shown, or ''. */
  const solo = ref('')
  const part = computed(() => project.get('part', partId.value))

  /** Rises when a picture came in, so that what shows pictures looks again. */
  const arrived = ref(0)
  /** Rises when something was read that drives ask for. */
  const readings = ref(0)
  /** Why inserted clips can not be seen, by the id of the clip. */
  const clipTroubles = shallowRef<ReadonlyMap<string, string>>(new Map())
  pictures.onClipTrouble = (id, sentence) => {
    if (clipTroubles.value.get(id) !== sentence) clipTroubles.value = new Map([...clipTroubles.value, [id, sentence]])
  }
  pictures.onReading = () => void readings.value++
  pictures.mediaOf = (id) => project.get('media', id)
  pictures.onPicture = () => void arrived.value++
  pictures.onError = (sentence) => {
    trouble.value = sentence
  }

  const members = computed(() => project.childrenOf('member', shotId.value))
  /** Who can be named by effects: the cast, and where the shot is joined to the next one, that one's cast, too. */
  const reachable = computed(() => {
    const next = shot.value && joinedShot(project.records()!, shot.value)?.shot
    return next ? [...members.value, ...project.childrenOf('member', next.id)] : members.value
  })
  const parts = computed(() => members.value.flatMap((member) => project.childrenOf('part', member.id)))
  const effects = computed(() => project.childrenOf('effect', shotId.value))

  const track = (of: Part): Track => trackOf(project.records()!, of)
  /** The part's shape in the picture, wherever it rides. */
  const shape = (of: Part, at = frame.value) => shapeOf(project.records()!, of, at)
  /** Parts that are drawn on the bench and can be reached there. */
  const visible = computed(() =>
    parts.value.filter((one) => !one.hidden && (!solo.value || one.id === solo.value || one.member === solo.value)),
  )
  /** The frame that is seen: the one at the playhead, or the one before it while that stands in. */
  const seen = computed(() => Math.max(0, frame.value - (flipped.value ? 1 : 0)))
  /** How the picture is moved so that the steady part stands still; the identity without one. */
  const steadying = computed<Similarity>(() => {
    const one = steady.value && project.get('part', steady.value.part)
    const [now, then] = one ? [shape(one, seen.value), shape(one, steady.value!.frame)] : []
    if (!now || !then) return identity
    const { ar, ai } = bestSimilarity(now, then)
    // Turned and shifted, but never grown: a rod that points at the camera would blow the picture up.
    const size = Math.hypot(ar, ai) || 1
    const [tr, ti] = [ar / size, ai / size]
    const [cx, cy, dx, dy] = [...middleOf(now), ...middleOf(then)] as [number, number, number, number]
    return { ar: tr, ai: ti, br: dx - (tr * cx - ti * cy), bi: dy - (ti * cx + tr * cy) }
  })
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
      points.value = []
      steady.value = range.value = pivot.value = null
      solo.value = ''
    }
    playIn.value = 0
    playOut.value = shotLength(next) - 1
    frame.value = Math.min(frame.value, playOut.value)
    try {
      times.value = await timesOf(clip)
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
    const paced = diff.put.find((record) => record.type === 'media' && record.id === shot.value?.media)
    if (paced?.type === 'media' && isPictures(paced)) void timesOf(paced).then((own) => (times.value = own))
    if (!records.get('shot', shotId.value)) leave()
  })

  /** Holds the chosen part where it is now while the picture moves, or lets it go. */
  function holdSteady(): void {
    const one = part.value
    steady.value = steady.value || !one || !shape(one) ? null : { part: one.id, frame: frame.value }
  }

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
      (records?.childrenOf('key', one.id) ?? []).filter(isHandKey).map((key) => key.frame),
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

  /** What the picture shows: what is looked at as a picture of its own, else the plate. */
  const layer = computed<Layer>(() => {
    if (peeking.value) return 'plate'
    if (look.value === 'result') return effects.value.some((effect) => effect.on) ? 'result' : 'plate'
    return look.value === 'matte' || look.value === 'cutout' || look.value === 'difference' ? look.value : 'plate'
  })
  /** How the result is looked at on the effects step; each is off unless turned on. */
  const onlyChosen = ref(false)
  const tintRegion = ref(false)
  const clipped = ref(false)
  const histogram = ref(false)
  /** Where the wipe between before and after stands, 0 to 1 across the picture; null without one. */
  const wipe = ref<number | null>(null)
  const seeing = computed<Seeing>(() => ({
    only: onlyChosen.value ? effectId.value : '',
    tinted: tintRegion.value ? effectId.value : '',
    clipped: clipped.value,
    plate: wipe.value !== null,
  }))
  /** Whose matte is looked at. */
  const matteOf = computed(() => part.value?.member ?? '')
  watch(
    [seen, matteOf, through, seeing, layer, reduce, playIn, playOut, shotId, playing],
    () => {
      if (!shotId.value) return
      pictures.want({
        frame: seen.value,
        layer: layer.value,
        member: matteOf.value,
        strength: through.value,
        seeing: seeing.value,
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
      through,
      onion,
      reduce,
      quiet,
      tool,
      partId,
      effectId,
      points,
      part,
      arrived,
      readings,
      clipTroubles,
      members,
      reachable,
      parts,
      effects,
    },
    ...{ onions, brightness, contrast, loupe, flipped, snapping, steady, steadying, seen, framing, sides, pivot },
    ...{ onlyChosen, tintRegion, clipped, histogram, wipe, reach, fadeFrames, range, solo, visible },
    ...{ layer, track, shape, cell, openShot, leave, go, holdSteady, stepBy, jumpToKey, play, stop },
    togglePlay: () => (playing.value ? stop() : play()),
  }
})

/** Mean of the points of a shape. */
function middleOf(points: readonly number[]): [number, number] {
  let [x, y] = [0, 0]
  for (let i = 0; i < points.length; i += 2) {
    x += points[i]!
    y += points[i + 1]!
  }
  return [(2 * x) / points.length, (2 * y) / points.length]
}
