import { defineStore } from 'pinia'
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { bestSimilarity, identity, type Similarity } from '#core/geometry/similarity.ts'
import type { Reduce } from '#core/render/painter.ts'
import type { Wanted } from '../frames/pictures.ts'
import type { ResultView, ViewLayer } from '../frames/render.worker.ts'
import { useProject } from '../project/project.ts'
import { stableList } from '../project/stable.ts'
import { useOpenShot } from './openShot.ts'
import { usePlayback } from './playback.ts'
import { useSelection } from './selection.ts'

/** A size, or 'hand': coarse while something moves, full once the hand rests. */
export type Quality = Reduce | 'hand'
export type ViewMode = 'plate' | 'outlines' | 'overlay' | 'matte' | 'cutout' | 'clean' | 'result' | 'difference'

/** How the open shot is looked at. It says which pictures are wanted. */
export const useViewing = defineStore('viewing', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()
  const selected = useSelection()

  const mode = ref<ViewMode>('overlay')
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
  /** At which size pictures are made: one that was chosen, or as the hand has time for it. */
  const quality = ref<Quality>('hand')
  /** Pixels of the plate along a side of one of the screen, on the largest screen that shows them. */
  const screenPixel = ref(1)
  /** Whether pixels are looked at closely while working, and not how it all moves. */
  const closely = ref(true)
  const quiet = ref(false)
  /** Whether the neighbouring frames stand below the picture. */
  const strip = ref(false)
  /** Whose matte is looked at: a member's id, '' for everybody's; null for that of whom is chosen. */
  const whose = ref<string | null>(null)
  /** The part or member that alone is shown, or ''. */
  const solo = ref('')
  /** While held, the frame before stands in for this one, or the one that was named for it. */
  const flipped = ref(false)
  const flipFrame = ref<number | null>(null)
  /** Names the frame at the playhead for flipping; once more on it, and the frame before stands in again. */
  function nameFlip(): void {
    flipFrame.value = flipFrame.value === playback.frame ? null : playback.frame
  }
  /** The part that stands still while the picture moves, and the frame on which it stood so. */
  const steady = shallowRef<{ part: string; frame: number } | null>(null)

  watch(
    () => opened.shotId,
    () => {
      steady.value = null
      solo.value = ''
      flipFrame.value = null
    },
    { flush: 'sync' },
  )

  /** Parts that are drawn over the picture and can be reached there. */
  const visible = stableList(() =>
    opened.parts.filter((one) => !one.hidden && (!solo.value || one.id === solo.value || one.member === solo.value)),
  )
  /** Chooses the part after or before the chosen one, in the order of the cast. */
  function chooseNext(way: 1 | -1): void {
    const list = visible.value
    const at = list.findIndex((one) => one.id === selected.partId)
    const next = list[(at + way + list.length) % list.length]
    if (next) selected.choosePart(next)
  }

  /** The frame that is seen: the one at the playhead, or what stands in for it. */
  const seen = computed(() => (flipped.value ? (flipFrame.value ?? Math.max(0, playback.frame - 1)) : playback.frame))
  /** How the picture is moved so that the steady part stands still; the identity without one. */
  const steadying = computed<Similarity>(() => {
    const one = steady.value && project.get('part', steady.value.part)
    const [now, then] = one ? [opened.shape(one, seen.value), opened.shape(one, steady.value!.frame)] : []
    return now && then ? heldStill(now, then) : identity
  })
  /** Holds the chosen part where it is now while the picture moves, or lets it go. */
  function holdSteady(): void {
    const one = selected.part
    const { frame } = playback
    steady.value = steady.value || !one || !opened.shape(one, frame) ? null : { part: one.id, frame }
  }

  /** What the picture shows: what is looked at as a picture of its own, else the plate. */
  const layer = computed<ViewLayer>(() => {
    if (peeking.value) return 'plate'
    if (mode.value === 'result') return opened.effects.some((effect) => effect.on) ? 'result' : 'plate'
    const { value } = mode
    return value === 'outlines' || value === 'overlay' ? 'plate' : value
  })
  /** How the result is looked at on the effects step; each is off unless turned on. */
  const onlyChosen = ref(false)
  const tintRegion = ref(false)
  const clipped = ref(false)
  const histogram = ref(false)
  /** Where the wipe between before and after stands, 0 to 1 across the picture; null without one. */
  const wipe = ref<number | null>(null)
  const result = computed<ResultView>(() => ({
    only: onlyChosen.value ? selected.effectId : '',
    tinted: tintRegion.value ? selected.effectId : '',
    clipped: clipped.value,
    plate: wipe.value !== null,
  }))
  /** Whose matte is looked at. */
  const matteOf = computed(() => whose.value ?? selected.part?.member ?? '')
  watch(
    () => ({
      frame: seen.value,
      layer: layer.value,
      member: matteOf.value,
      strength: through.value,
      result: result.value,
      ...sizesAt(quality.value, closely.value, opened.media, loupe.value ? 1 : screenPixel.value),
      from: playback.playIn,
      to: playback.playOut,
      around: strip.value && !quiet.value ? 5 : 0,
      playing: playback.playing,
      shot: opened.shotId,
    }),
    ({ shot, ...wanted }) => {
      if (!shot) return
      opened.pictures.want(wanted)
      opened.arrived++
    },
    { flush: 'sync', immediate: true },
  )

  return {
    ...{
      mode,
      peeking,
      overlay,
      through,
      onion,
      onions,
      brightness,
      contrast,
      loupe,
      quality,
      closely,
      screenPixel,
      quiet,
      strip,
      solo,
      flipped,
      flipFrame,
      nameFlip,
    },
    whose,
    ...{ steady, steadying, holdSteady, seen, visible, chooseNext, layer },
    ...{ onlyChosen, tintRegion, clipped, histogram, wipe },
  }
})

/** Pixels of a picture while something moves: where they are looked at closely, and where it is watched. */
const moving = { closely: 1920 * 1080, watched: 960 * 540 }

/**
 * What a frame is made at once the hand rests, and until then. `screenPixel`: pixels of the plate along a side of
 * one of the screen: what is finer than that is not seen.
 */
function sizesAt(
  quality: Quality,
  closely: boolean,
  plate: { width: number; height: number } | null,
  screenPixel: number,
): Pick<Wanted, 'reduce' | 'ahead' | 'exactly'> {
  if (quality !== 'hand') return { reduce: quality, ahead: quality, exactly: true }
  const pixels = plate ? plate.width * plate.height : 0
  const fitting = (most: number) => ([1, 2] as const).find((size) => pixels <= most * size * size) ?? 4
  const ahead = closely ? fitting(moving.closely) : fitting(moving.watched)
  const shown = ([4, 2] as const).find((size) => size <= screenPixel) ?? 1
  return { reduce: Math.min(shown, ahead) as Reduce, ahead, exactly: false }
}

/**
 * The motion of the plane under which a shape looks as it did: turned and shifted, but never grown, or a rod that points at
 * the camera would blow the picture up.
 */
function heldStill(now: readonly number[], then: readonly number[]): Similarity {
  const { ar, ai } = bestSimilarity(now, then)
  const size = Math.hypot(ar, ai) || 1
  const [tr, ti] = [ar / size, ai / size]
  const [cx, cy] = middleOf(now)
  const [dx, dy] = middleOf(then)
  return { ar: tr, ai: ti, br: dx - (tr * cx - ti * cy), bi: dy - (ti * cx + tr * cy) }
}

/** Mean of the points of a shape. */
function middleOf(points: readonly number[]): [number, number] {
  let [x, y] = [0, 0]
  for (let i = 0; i < points.length; i += 2) {
    x += points[i]!
    y += points[i + 1]!
  }
  return [(2 * x) / points.length, (2 * y) / points.length]
}
