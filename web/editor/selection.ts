import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { EditScope } from '#core/edits/overTime.ts'
import type { SideDoes } from '#core/geometry/selectionFrame.ts'
import type { Part } from '#core/records/types.ts'
import type { PartKindName } from '#core/shapes/registry.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { useProject } from '../project/project.ts'
import { useOpenShot } from './openShot.ts'
import { usePlayback } from './playback.ts'

export type Tool = 'choose' | PartKindName | 'hand'
/** Frames that were chosen on the sheet, and on which lanes. */
export interface SheetRange {
  from: number
  to: number
  /** Ids of parts, from the first lane to the last. */
  parts: string[]
}

/** What is chosen in the open shot, with which tool in hand, and over what an edit of it counts. */
export const useSelection = defineStore('selection', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()

  const tool = ref<Tool>('rod')
  const partId = ref('')
  const part = computed(() => project.get('part', partId.value))
  const effectId = ref('')
  /** Ids of cards that are chosen together with that one: what all cards have is set on all of them. */
  const moreEffects = shallowRef<readonly string[]>([])
  /** Whether the time of the shot is chosen, in place of a card. */
  const timing = ref(false)
  watch(effectId, () => (moreEffects.value = []), { flush: 'sync' })
  /** Chooses a card together with the one that is chosen, or no more. */
  function chooseMore(id: string): void {
    if (id === effectId.value) return
    const others = moreEffects.value.filter((one) => one !== id)
    moreEffects.value = others.length < moreEffects.value.length ? others : [...others, id]
  }
  /** Indices of the chosen points of the part; none stands for the whole shape. */
  const points = shallowRef<readonly number[]>([])
  /** Whether a frame stands around what is chosen, what its sides do, and where its pivot was put. */
  const framing = ref(false)
  const sides = ref<SideDoes>('stretch')
  const pivot = shallowRef<{ x: number; y: number } | null>(null)
  /** While held, points go to strong edges of the picture. */
  const snapping = ref(false)
  /** Over which frames an edit counts. */
  const over = ref<EditScope['over']>('frame')
  const fadeFrames = ref(6)
  const range = shallowRef<SheetRange | null>(null)
  const scope = computed<EditScope>(() => {
    if (over.value === 'fade') return { over: 'fade', frames: fadeFrames.value }
    if (over.value !== 'range') return { over: over.value }
    return range.value ? { over: 'range', from: range.value.from, to: range.value.to } : { over: 'frame' }
  })

  watch(
    () => opened.shotId,
    () => {
      effectId.value = ''
      // One part is worked on; of several somebody chooses, and sees the whole picture until then.
      const [first, second] = opened.parts
      partId.value = first && !second ? first.id : ''
      tool.value = second || (first && first.kind !== 'rod') ? 'choose' : 'rod'
      points.value = []
      range.value = pivot.value = null
    },
    { flush: 'sync', immediate: true },
  )

  function choosePart(next: Part): void {
    if (partId.value !== next.id) {
      partId.value = next.id
      points.value = []
      pivot.value = null
    }
    if (tool.value === 'hand') return
    // What was never placed is placed next; what is there is corrected. A rod is placed on every frame.
    const placedAnew = next.kind === 'rod' || next.kind === 'painted'
    const never = project.childrenOf('key', next.id).length === 0
    tool.value = placedAnew || never ? (next.kind as PartKindName) : 'choose'
  }

  /** Goes to the next frame with a hand key of the chosen part, or of all parts where none is chosen. */
  function jumpToKey(direction: 1 | -1): void {
    playback.stop()
    const frames = (part.value ? [part.value] : opened.parts).flatMap((one) =>
      project
        .childrenOf('key', one.id)
        .filter(isHandKey)
        .map((key) => key.frame),
    )
    const beyond = frames.filter((f) => (f - playback.frame) * direction > 0)
    if (beyond.length) playback.go(direction > 0 ? Math.min(...beyond) : Math.max(...beyond))
  }

  return {
    ...{
      tool,
      partId,
      part,
      effectId,
      timing,
      moreEffects,
      points,
      framing,
      sides,
      pivot,
      snapping,
      over,
      fadeFrames,
      range,
      scope,
    },
    ...{ choosePart, chooseMore, jumpToKey },
  }
})
