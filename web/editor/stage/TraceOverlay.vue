<script setup lang="ts">
import { computed, inject, onBeforeUnmount, type ShallowRef, shallowRef, triggerRef, watch } from 'vue'
import { toast } from 'vue-sonner'
import { frameAround } from '#core/geometry/selectionFrame.ts'
import { snapToEdge } from '#core/pixels/filters/edgeSnap.ts'
import type { Part } from '#core/records/types.ts'
import { anchors } from '#core/shapes/kind.ts'
import { type PartKindName, partKinds } from '#core/shapes/registry.ts'
import { say } from '#core/say.ts'
import { useProject } from '../../project/project.ts'
import { attend } from '../../ui/troubles.ts'
import { brush, pressedSize } from '../brush.ts'
import { useCast } from '../cast.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { useRuns } from '../runs/runs.ts'
import { useSelection } from '../selection.ts'
import { kindOf, useTracing } from '../tracing.ts'
import { useViewing } from '../viewing.ts'
import BegunShape from './BegunShape.vue'
import ChosenShape from './ChosenShape.vue'
import HandHint from './HandHint.vue'
import PaintedShape from './PaintedShape.vue'
import SelectionGrips from './SelectionGrips.vue'
import StageLoupe from './StageLoupe.vue'
import { useStageDrawing } from './drawing.ts'
import { frameRoom, type Grip, type Hand, type Traced, Tracer } from './tracer.ts'
import { stageKey } from './view.ts'

/** Traced shapes over the picture, their handles and the hand that moves them. */
const size = defineProps<{ width: number; height: number }>()
const emit = defineEmits<{ stroke: [points: readonly number[], wanted: boolean, size: number] }>()
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const viewing = useViewing()
const cast = useCast()
const tracing = useTracing()
const runs = useRuns()
const { view, toPlate } = inject(stageKey)!
const { pathOf, edgesOf, colourOf, scale, faint, tint } = useStageDrawing()

/** Points under the hand, not committed yet. */
const draft = computed((): number[] | null => tracer.value.dragged)
const pointer = shallowRef<{ x: number; y: number } | null>(null)
const hovered = shallowRef<Grip | null>(null)

const tracedOf = (part: Part, points: readonly number[]): Traced => ({
  ...{ id: part.id, kind: kindOf(part), settings: part.settings, points, locked: part.locked },
})
/** The chosen part where it can be seen; what is made of pixels has no points for the hand. */
const seenPart = computed(() => (selected.part && viewing.visible.includes(selected.part) ? selected.part : null))
const pixels = computed(() => seenPart.value !== null && kindOf(seenPart.value).pixels === true)
const part = computed(() => (pixels.value ? null : seenPart.value))
/** Its points as they are now, under the hand or at rest. */
const points = computed(() =>
  part.value
    ? (draft.value ?? runs.live(part.value, viewing.seen)?.points ?? tracing.shapeOrGhost(part.value, viewing.seen))
    : null,
)

const frame = computed(() => {
  if (!selected.framing || !part.value || !points.value || selected.tool !== 'choose') return null
  const all = points.value
  const chosen = selected.points.length > 1 ? selected.points : anchors(kindOf(part.value), all)
  const box = frameAround(
    chosen.flatMap((i) => [all[2 * i]!, all[2 * i + 1]!]),
    selected.pivot,
    frameRoom / scale.value,
  )
  return box && { frame: box, sides: selected.sides }
})

const tracer: ShallowRef<Tracer> = shallowRef(
  new Tracer({
    chosen: () => (part.value && points.value ? tracedOf(part.value, points.value) : null),
    others: () =>
      viewing.visible.flatMap((one) => {
        const shape = one.id === selected.partId || kindOf(one).pixels ? null : opened.shape(one, playback.frame)
        return shape ? [tracedOf(one, shape)] : []
      }),
    places: () =>
      selected.tool === 'choose' || selected.tool === 'hand' || selected.tool === 'painted'
        ? null
        : partKinds[selected.tool],
    selection: () => selected.points,
    frame: () => frame.value,
    choose(id) {
      const other = project.get('part', id)
      if (!other) return
      const { tool } = selected
      selected.choosePart(other)
      selected.tool = tool
    },
    select: (chosen) => {
      selected.points = chosen
      selected.pivot = null
    },
    setPivot: (x, y) => {
      selected.pivot = { x, y }
    },
    place(kind, shape) {
      const chosen = part.value
      const name = kind.kind as keyof typeof firstOf
      // A rod is placed anew on every frame; of anything else a second one is another part.
      const again = chosen?.kind === name && (name === 'rod' || !opened.track(chosen).keys.length)
      const member = chosen && project.get('member', chosen.member)
      if (again) {
        if (tracing.refuseLocked(chosen) || !tracing.writeKey(chosen, shape)) return
      } else if (member && (name !== 'rod' || member.kind === 'prop')) {
        // Whoever is chosen gets it; but a rod beside a performer is a prop of its own, which may be hidden by them.
        if (!cast.addPart(member, name, shape)) return
        toast(say`A new part of ${member.name}.`, { id: 'tracer' })
      } else {
        if (!cast.addMember(firstOf[name], shape)) return
        toast(say`${project.get('member', selected.part?.member ?? '')?.name ?? ''} is new in the cast.`, {
          id: 'tracer',
        })
      }
      if (name === 'rod' || name === 'oval') attend(tracing.stepOn(), say`go to the next frame`)
      // A performer is many outlines: the tool stays in hand for the next one.
      else selected.tool = name === 'outline' ? name : 'choose'
    },
    reshape: (shape) => part.value && tracing.edit(part.value, shape),
    insert: (segment, t) => part.value && tracing.insertNode(part.value, segment, t),
    snapped(x, y) {
      const plate = selected.snapping ? opened.pictures.plateOf(playback.frame) : null
      if (!plate) return { x, y }
      const { pixels, width, height, reduce: r } = plate
      const luma = (px: number, py: number) => {
        const at = 4 * (Math.max(0, Math.min(height - 1, py)) * width + Math.max(0, Math.min(width - 1, px)))
        return 0.2126 * pixels[at]! + 0.7152 * pixels[at + 1]! + 0.0722 * pixels[at + 2]!
      }
      const edge = snapToEdge(luma, x / r, y / r, Math.max(4, 12 / (view.value.k * r)))
      return edge ? { x: edge.x * r, y: edge.y * r } : { x, y }
    },
    say: (sentence) => void toast(sentence, { id: 'tracer' }),
  }),
)
const firstOf: Record<Exclude<PartKindName, 'painted'>, Parameters<typeof cast.addMember>[0]> = {
  rod: { kind: 'prop', name: say`Prop`, parts: [{ name: 'shaft', kind: 'rod' }] },
  oval: { kind: 'performer', name: say`Performer`, parts: [{ name: 'head', kind: 'oval' }] },
  outline: { kind: 'performer', name: say`Performer`, parts: [{ name: 'outline', kind: 'outline' }] },
  pin: { kind: 'other', name: say`Panel`, parts: [{ name: 'pin', kind: 'pin' }] },
  point: { kind: 'other', name: say`Mark`, parts: [{ name: 'point', kind: 'point' }] },
}
const act = (work: (tracer: Tracer) => void) => {
  work(tracer.value)
  triggerRef(tracer)
}

const hand = (event: PointerEvent | MouseEvent): Hand => ({
  ...toPlate(event),
  // A finger is blunter than a pointer: it grasps twice as far.
  k: 'pointerType' in event && event.pointerType === 'touch' ? scale.value / 2 : scale.value,
  shift: event.shiftKey,
  ctrl: event.ctrlKey || event.metaKey,
})
/** Whoever is traced is not in the picture: nothing of them can be grasped. */
const isClean = computed(() => viewing.mode === 'clean')
/** Fingers on the picture; two of them zoom and move it, and end what the first began. */
const fingers = new Set<number>()
let pinching = false
function pinches(event: PointerEvent): boolean {
  if (event.pointerType !== 'touch') return false
  fingers.add(event.pointerId)
  if (fingers.size > 1 && !pinching) {
    pinching = true
    cancel()
  }
  return pinching
}
function lift(event: PointerEvent): void {
  fingers.delete(event.pointerId)
  if (fingers.size === 0) pinching = false
}
function down(event: PointerEvent): void {
  if (pinches(event)) return
  if (event.button !== 0 || event.altKey || selected.tool === 'hand') return
  playback.stop()
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  if (selected.tool === 'painted') return beginStroke(event)
  if (!isClean.value) act((one) => one.down(hand(event)))
}
function move(event: PointerEvent): void {
  const at = hand(event)
  pointer.value = { x: at.x, y: at.y }
  if (pinching || selected.tool === 'hand') return
  if (selected.tool === 'painted') return goOnStroke(event)
  if (isClean.value) return
  act((one) => one.move(at))
  hovered.value = tracer.value.state.name === 'idle' ? (tracer.value.under(at)?.grip ?? null) : null
}
function up(event: PointerEvent): void {
  const wasPinching = pinching
  lift(event)
  if (wasPinching) return
  if (selected.tool === 'painted') endStroke()
  else act((one) => one.up(hand(event)))
}
function lose(event: PointerEvent): void {
  lift(event)
  cancel()
}

/** The stroke under the hand and its width, in plate pixels. With Shift it says the opposite of the brush. */
const stroke = shallowRef<{ points: number[]; wanted: boolean; size: number } | null>(null)
/** A pen's stroke is as wide as it was pressed hardest. */
const widthOf = (event: PointerEvent) =>
  event.pointerType === 'pen' ? brush.value.size * pressedSize(event.pressure) : brush.value.size
function beginStroke(event: PointerEvent): void {
  const { x, y } = toPlate(event)
  stroke.value = { points: [x, y], wanted: brush.value.wanted !== event.shiftKey, size: widthOf(event) }
}
function goOnStroke(event: PointerEvent): void {
  hovered.value = null
  if (!stroke.value) return
  const { x, y } = toPlate(event)
  const { points: before, size: width } = stroke.value
  stroke.value = { ...stroke.value, points: [...before, x, y], size: Math.max(width, widthOf(event)) }
}
function endStroke(): void {
  const one = stroke.value
  stroke.value = null
  if (one) emit('stroke', one.points, one.wanted, Math.round(one.size))
}
const double = (event: MouseEvent) => act((one) => one.double(hand(event)))
/** Does something with what was begun; false where there was nothing. */
function begun(work: (tracer: Tracer) => boolean): boolean {
  let was = false
  act((one) => {
    was = work(one)
  })
  return was
}
function cancel(): boolean {
  const was = stroke.value !== null
  stroke.value = null
  return begun((one) => one.cancel()) || was
}
defineExpose({ cancel, finish: () => begun((one) => one.finish()), takeBack: () => begun((one) => one.takeBack()) })
watch([() => selected.partId, () => selected.tool, () => opened.shotId], () => void cancel())
watch(
  () => viewing.seen,
  () => {
    if (tracer.value.state.name === 'dragging' || stroke.value) cancel()
    selected.pivot = null
  },
)
// The picture goes along with the hand.
watch(draft, (shape) => {
  const shows = shape && part.value && viewing.layer !== 'plate'
  opened.pictures.setDraft(playback.frame, shows ? tracing.keyDiff(part.value, playback.frame, shape) : null)
})
onBeforeUnmount(() => opened.pictures.setDraft(playback.frame, null))

const showsShapes = computed(() => viewing.mode !== 'plate' && !viewing.peeking)
const shapes = computed(() =>
  viewing.visible.flatMap((one) => {
    // In the matte and the cut-out the others are seen by what they do; their lines would cover the edge.
    const bare = viewing.mode === 'matte' || viewing.mode === 'cutout' || isClean.value
    const shape = one.id === selected.partId || bare ? null : opened.shape(one, viewing.seen)
    const d = shape && (kindOf(one).pixels ? edgesOf(one) : pathOf(one, shape))
    return d ? [{ part: one, colour: colourOf(one), d, cuts: one.role !== 'add', locked: one.locked }] : []
  }),
)
</script>

<template>
  <svg
    class="absolute inset-0 size-full"
    :class="{
      'cursor-crosshair': selected.tool !== 'choose' && selected.tool !== 'hand',
      'cursor-move': hovered === 'body',
      '!cursor-grab': selected.tool === 'hand',
    }"
    data-testid="overlay"
    aria-hidden="true"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="up"
    @pointercancel="lose"
    @pointerleave="pointer = null"
    @dblclick="double"
  >
    <g v-if="showsShapes" fill="none" stroke-linejoin="round">
      <!-- Sixty shapes that stand still while one is dragged are not compared again. -->
      <g v-memo="[shapes, faint, tint]">
        <g v-for="shape in shapes" :key="shape.part.id" :opacity="faint ? 0.35 : 1">
          <path :d="shape.d" stroke="#000" stroke-opacity="0.45" stroke-width="3" />
          <path
            :d="shape.d"
            :stroke="shape.colour"
            stroke-width="1.2"
            :stroke-dasharray="shape.cuts ? '6 2' : undefined"
            :fill="shape.colour"
            :fill-opacity="shape.cuts ? 0 : tint"
            fill-rule="evenodd"
          />
        </g>
      </g>
      <PaintedShape
        v-if="(pixels && !isClean) || selected.tool === 'painted'"
        :part="pixels && !isClean ? seenPart : null"
        :stroke="stroke"
        :pointer="pointer"
      />
      <ChosenShape
        v-if="part && points && !isClean"
        :part="part"
        :points="points"
        :dragged="draft !== null"
        :under="hovered"
      />
      <SelectionGrips v-if="frame && !isClean" :frame="frame.frame" />
      <BegunShape :state="tracer.state" :pointer="pointer" />
    </g>
  </svg>
  <StageLoupe v-if="viewing.loupe && pointer" :at="pointer" v-bind="size" />
  <HandHint v-if="!isClean" :state="tracer.state" />
</template>
