<script setup lang="ts">
import { computed, inject, onBeforeUnmount, type ShallowRef, shallowRef, triggerRef, watch } from 'vue'
import { toast } from 'vue-sonner'
import { frameAround } from '#core/geometry/selectionFrame.ts'
import { moved } from '#core/geometry/similarity.ts'
import { contoursOf } from '#core/pixels/filters/contour.ts'
import { snapToEdge } from '#core/pixels/filters/edgeSnap.ts'
import type { Part } from '#core/records/types.ts'
import { anchors } from '#core/shapes/kind.ts'
import { outlinePath, softest } from '#core/shapes/kinds/outline.ts'
import { reachedTip, rodReach } from '#core/shapes/kinds/rod.ts'
import { type PartKindName, partKinds } from '#core/shapes/registry.ts'
import { useProject } from '../../project/project.ts'
import { attend } from '../../ui/troubles.ts'
import { brush } from '../brush.ts'
import { useCast } from '../cast.ts'
import { castColour } from '../castColours.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { useRuns } from '../runs/runs.ts'
import { useSelection } from '../selection.ts'
import { kindOf, useTracing } from '../tracing.ts'
import { useViewing } from '../viewing.ts'
import HandHint from './HandHint.vue'
import SelectionGrips from './SelectionGrips.vue'
import StageLoupe from './StageLoupe.vue'
import { onionShapes } from './onions.ts'
import { frameRoom, type Grip, type Hand, shownHandles, type Traced, Tracer } from './tracer.ts'
import { stageKey } from './view.ts'

/** Traced shapes over the picture, their handles and the hand that moves them. */
const size = defineProps<{ width: number; height: number }>()
const emit = defineEmits<{ stroke: [points: readonly number[], wanted: boolean] }>()
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const viewing = useViewing()
const cast = useCast()
const tracing = useTracing()
const runs = useRuns()
const { view, toStage, toPlate } = inject(stageKey)!

/** Points under the hand, not committed yet. */
const draft = computed((): number[] | null => tracer.value.dragged)
const pointer = shallowRef<{ x: number; y: number } | null>(null)
const hovered = shallowRef<Grip | null>(null)

const colourOf = (part: Part) => castColour(project.get('member', part.member)?.colour ?? 0)
const tracedOf = (part: Part, points: readonly number[]): Traced => ({
  ...{ id: part.id, kind: kindOf(part), settings: part.settings, points, locked: part.locked },
})
/** The chosen part where it can be seen; what is made of pixels has no points for the hand. */
const seenPart = computed(() => (selected.part && viewing.visible.includes(selected.part) ? selected.part : null))
const part = computed(() => (seenPart.value && !kindOf(seenPart.value).pixels ? seenPart.value : null))
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
    frameRoom / Math.hypot(toStage.value.ar, toStage.value.ai),
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
      } else if ((name === 'outline' || name === 'point') && member) {
        if (!cast.addPart(member, name, shape)) return
      } else if (!cast.addMember(firstOf[name], shape)) return
      if (name === 'rod' || name === 'oval') attend(tracing.stepOn(), 'go to the next frame')
      else selected.tool = 'choose'
    },
    reshape: (shape) => part.value && tracing.edit(part.value, shape),
    insert: (segment, t) => part.value && tracing.insertNode(part.value, segment, t),
    snapped(x, y) {
      const plate = selected.snapping ? opened.pictures.plateOf(playback.frame) : null
      if (!plate) return { x, y }
      const { pixels, width, height } = plate
      const luma = (px: number, py: number) => {
        const at = 4 * (Math.max(0, Math.min(height - 1, py)) * width + Math.max(0, Math.min(width - 1, px)))
        return 0.2126 * pixels[at]! + 0.7152 * pixels[at + 1]! + 0.0722 * pixels[at + 2]!
      }
      const r = viewing.reduce
      const edge = snapToEdge(luma, x / r, y / r, Math.max(4, 12 / (view.value.k * r)))
      return edge ? { x: edge.x * r, y: edge.y * r } : { x, y }
    },
    say: (sentence) => void toast(sentence, { id: 'tracer' }),
  }),
)
const firstOf: Record<Exclude<PartKindName, 'painted'>, Parameters<typeof cast.addMember>[0]> = {
  rod: { kind: 'prop', name: 'Prop', parts: [{ name: 'shaft', kind: 'rod' }] },
  oval: { kind: 'performer', name: 'Performer', parts: [{ name: 'head', kind: 'oval' }] },
  outline: { kind: 'performer', name: 'Performer', parts: [{ name: 'outline', kind: 'outline' }] },
  pin: { kind: 'other', name: 'Panel', parts: [{ name: 'pin', kind: 'pin' }] },
  point: { kind: 'other', name: 'Mark', parts: [{ name: 'point', kind: 'point' }] },
}
const act = (work: (tracer: Tracer) => void) => {
  work(tracer.value)
  triggerRef(tracer)
}

const hand = (event: PointerEvent | MouseEvent): Hand => ({
  ...toPlate(event),
  k: Math.hypot(toStage.value.ar, toStage.value.ai),
  shift: event.shiftKey,
  ctrl: event.ctrlKey || event.metaKey,
})
function down(event: PointerEvent): void {
  if (event.button !== 0 || event.altKey || selected.tool === 'hand') return
  playback.stop()
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  if (selected.tool === 'painted') return beginStroke(event)
  act((one) => one.down(hand(event)))
}
function move(event: PointerEvent): void {
  const at = hand(event)
  pointer.value = { x: at.x, y: at.y }
  if (selected.tool === 'hand') return
  if (selected.tool === 'painted') return goOnStroke(event)
  act((one) => one.move(at))
  const grabs = tracer.value.state.name === 'idle' && selected.tool !== 'outline'
  hovered.value = grabs ? (tracer.value.under(at)?.grip ?? null) : null
}
const up = (event: PointerEvent) => (selected.tool === 'painted' ? endStroke() : act((one) => one.up(hand(event))))

/** The stroke under the hand, in plate pixels. With Shift it says the opposite of the brush. */
const stroke = shallowRef<{ points: number[]; wanted: boolean } | null>(null)
function beginStroke(event: PointerEvent): void {
  const { x, y } = toPlate(event)
  stroke.value = { points: [x, y], wanted: brush.value.wanted !== event.shiftKey }
}
function goOnStroke(event: PointerEvent): void {
  hovered.value = null
  if (!stroke.value) return
  const { x, y } = toPlate(event)
  stroke.value = { ...stroke.value, points: [...stroke.value.points, x, y] }
}
function endStroke(): void {
  const one = stroke.value
  stroke.value = null
  if (one) emit('stroke', one.points, one.wanted)
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

const place = (x: number, y: number) => {
  const [sx, sy] = moved(toStage.value, [x, y])
  return { x: sx!, y: sy! }
}
function svgPath(path: readonly number[]): string {
  const p = moved(toStage.value, path)
  let d = `M${p[0]!.toFixed(2)} ${p[1]!.toFixed(2)}`
  for (let i = 2; i < p.length; i += 2) d += `${i % 6 === 2 ? 'C' : ' '}${p[i]!.toFixed(2)} ${p[i + 1]!.toFixed(2)}`
  return `${d}Z`
}
const pathOf = (one: Part, shape: readonly number[]) =>
  svgPath(kindOf(one).drawn?.(shape) ?? kindOf(one).path(shape, one.settings))
/** Edges of a matte made of pixels, holes and all. */
function edgesOf(one: Part): string | null {
  const raster = tracing.matte(one, viewing.seen)
  if (!raster) return null
  return contoursOf(raster)
    .map((line) => {
      const p = moved(toStage.value, line)
      let d = ''
      for (let i = 0; i < p.length; i += 2) d += `${i ? 'L' : 'M'}${p[i]!.toFixed(1)} ${p[i + 1]!.toFixed(1)}`
      return `${d}Z`
    })
    .join('')
}
const polyline = (list: readonly number[]) =>
  moved(toStage.value, list)
    .map((v) => v.toFixed(1))
    .join(' ')

const showsShapes = computed(() => viewing.mode !== 'plate' && !viewing.peeking)
/** Where the picture itself shows what is traced, lines are thin. */
const faint = computed(() => ['result', 'matte', 'cutout'].includes(viewing.mode))
const tint = computed(() => (viewing.mode === 'overlay' ? viewing.overlay : 0))
const shapes = computed(() =>
  viewing.visible.flatMap((one) => {
    // In the matte and the cut-out the others are seen by what they do; their lines would cover the edge.
    const bare = viewing.mode === 'matte' || viewing.mode === 'cutout'
    const shape = one.id === selected.partId || bare ? null : opened.shape(one, viewing.seen)
    const d = shape && (kindOf(one).pixels ? edgesOf(one) : pathOf(one, shape))
    return d ? [{ part: one, colour: colourOf(one), d, cuts: one.role !== 'add', locked: one.locked }] : []
  }),
)

const chosen = computed(() => {
  const [one, shape] = [part.value, points.value]
  if (!one || !shape) return null
  const kind = kindOf(one)
  const reach = one.kind === 'rod' ? rodReach(one.settings) : 0
  const soft = one.kind === 'outline' && softest(shape) > 0.05 ? svgPath(outlinePath(shape, one.settings, 1)) : null
  const [hx, hy] = shape as [number, number]
  const ghost = draft.value === null && !runs.live(one, viewing.seen) && opened.shape(one, viewing.seen) === null
  return {
    part: one,
    colour: colourOf(one),
    cuts: one.role !== 'add',
    ghost,
    d: pathOf(one, shape),
    soft,
    beyond: reach ? polyline([shape[2]!, shape[3]!, ...reachedTip(shape, reach)]) : null,
    levers: shownHandles(kind, shape, selected.points).flatMap((i) => {
      const form = kind.handleForm(shape, i)
      if (form !== 'lever' && form !== 'soft') return []
      const owner = anchors(kind, shape).findLast((a) => a <= i)!
      const line = [shape[2 * owner]!, shape[2 * owner + 1]!, shape[2 * i]!, shape[2 * i + 1]!]
      return [{ line: polyline(line), soft: form === 'soft' }]
    }),
    handles: (one.locked ? [] : shownHandles(kind, shape, selected.points)).map((i) => {
      const form = kind.handleForm(shape, i)
      const grip = hovered.value
      const under = typeof grip === 'object' && grip !== null && 'point' in grip && grip.point === i
      const active = selected.points.includes(i)
      return {
        ...{ index: i, form, ...place(shape[2 * i]!, shape[2 * i + 1]!) },
        paint: {
          fill: active ? '#b9f29a' : under ? colourOf(one) : '#131313',
          'fill-opacity': active || under ? 1 : 0.35,
          stroke: '#fff',
          'stroke-width': form === 'soft' ? 1 : 1.6,
          'stroke-dasharray': ghost ? '3 2' : form === 'soft' ? '2 2' : undefined,
        },
      }
    }),
    // The lines between the middles of a pin's sides meet where its diagonals do.
    grid:
      one.kind === 'pin'
        ? [polyline([hx, hy, shape[4]!, shape[5]!]), polyline(shape.slice(2, 4).concat(shape.slice(6, 8)))]
        : [],
  }
})

/** The chosen matte made of pixels, and the strokes of this frame while the brush is at hand. */
const painted = computed(() => {
  const one = seenPart.value
  if (!one || !kindOf(one).pixels) return null
  return { colour: colourOf(one), d: edgesOf(one), cuts: one.role !== 'add' }
})
const strokes = computed(() => {
  const kept = painted.value && selected.tool === 'painted' ? tracing.strokesAt(seenPart.value!, viewing.seen) : []
  const k = Math.hypot(toStage.value.ar, toStage.value.ai)
  const live = stroke.value ? [{ id: 'live', ...stroke.value, size: brush.value.size }] : []
  return [...kept, ...live].map(({ id, wanted, size, points }) => ({
    ...{ id, wanted, width: Math.max(1.5, size * k) },
    // A dot is a line from a place to itself.
    line: polyline(points.length > 2 ? points : [...points, ...points]),
  }))
})
const brushCircle = computed(() => {
  if (selected.tool !== 'painted' || !pointer.value) return null
  const k = Math.hypot(toStage.value.ar, toStage.value.ai)
  return { ...place(pointer.value.x, pointer.value.y), r: Math.max(1, (brush.value.size * k) / 2) }
})

const onions = computed(() =>
  part.value && viewing.onion && !draft.value
    ? onionShapes(part.value, viewing.seen, viewing.onions).map((one) => ({
        ...one,
        d: pathOf(part.value!, one.points),
      }))
    : [],
)

/** What is being drawn and not a shape yet. */
const begunLines = computed(() => {
  const { state } = tracer.value
  const to = pointer.value ? [pointer.value.x, pointer.value.y] : []
  switch (state.name) {
    case 'placing':
      return { line: polyline([...state.clicks, ...to]), dots: pairs(state.clicks), closed: false }
    case 'stroking':
      return { line: polyline(state.stroke), dots: [], closed: false }
    case 'selecting': {
      const [x0, y0, x1, y1] = state.path as [number, number, number?, number?]
      if (x1 === undefined || y1 === undefined) return null
      return { line: polyline(state.lasso ? state.path : [x0, y0, x1, y0, x1, y1, x0, y1]), dots: [], closed: true }
    }
    case 'outlining': {
      const nodes = state.nodes
      const end = nodes.length - 8
      const path = outlinePath(nodes, {}, 0).slice(0, -6)
      if (to.length && !state.press) path.push(nodes[end + 4]!, nodes[end + 5]!, ...to, ...to)
      const lever = nodes.slice(end + 2, end + 6)
      return {
        d: svgPath(path).slice(0, -1),
        line: polyline([lever[0]!, lever[1]!, nodes[end]!, nodes[end + 1]!, lever[2]!, lever[3]!]),
        dots: pairs(nodes.filter((_, i) => i % 8 < 2)),
        closed: false,
      }
    }
    default:
      return null
  }
})
const pairs = (list: readonly number[]) =>
  Array.from({ length: list.length / 2 }, (_, i) => place(list[2 * i]!, list[2 * i + 1]!))
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
    @pointercancel="cancel"
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
      <path
        v-if="painted?.d"
        :d="painted.d"
        :stroke="painted.colour"
        :stroke-width="faint ? 0.8 : 1.2"
        :stroke-opacity="faint ? 0.6 : 1"
        :stroke-dasharray="painted.cuts ? '6 2' : undefined"
        :fill="painted.colour"
        :fill-opacity="painted.cuts ? 0 : tint"
        fill-rule="evenodd"
        data-testid="painted"
      />
      <g v-for="one in strokes" :key="one.id" stroke-linecap="round">
        <polyline
          :points="one.line"
          :stroke="one.wanted ? '#b9f29a' : '#ffb45e'"
          :stroke-width="one.width"
          stroke-opacity="0.25"
        />
        <polyline
          :points="one.line"
          :stroke="one.wanted ? '#b9f29a' : '#ffb45e'"
          stroke-width="1.4"
          :stroke-dasharray="one.wanted ? undefined : '2 5'"
        />
      </g>
      <circle
        v-if="brushCircle"
        :cx="brushCircle.x"
        :cy="brushCircle.y"
        :r="brushCircle.r"
        :stroke="brush.wanted ? '#b9f29a' : '#ffb45e'"
        stroke-width="1.2"
      />
      <g v-if="chosen">
        <path
          v-for="onion in onions"
          :key="onion.frame"
          :d="onion.d"
          :stroke="chosen.colour"
          stroke-width="0.9"
          :stroke-opacity="onion.strength"
        />
        <polyline
          v-if="chosen.beyond"
          :points="chosen.beyond"
          :stroke="chosen.colour"
          stroke-width="1.4"
          stroke-dasharray="1.5 4"
          stroke-linecap="round"
        />
        <path
          v-if="chosen.soft"
          :d="chosen.soft"
          :stroke="chosen.colour"
          stroke-width="1"
          stroke-opacity="0.7"
          stroke-dasharray="2 3"
        />
        <path
          v-if="!faint"
          :d="chosen.d"
          stroke="#000"
          stroke-opacity="0.5"
          stroke-width="3.2"
          :stroke-dasharray="chosen.ghost ? '5 4' : undefined"
        />
        <path
          :d="chosen.d"
          :stroke="chosen.colour"
          :stroke-width="faint && !chosen.ghost ? 0.8 : 1.2"
          :stroke-opacity="faint && !chosen.ghost ? 0.6 : 1"
          :stroke-dasharray="chosen.ghost ? '5 4' : chosen.cuts ? '6 2' : undefined"
          :fill="chosen.colour"
          :fill-opacity="chosen.ghost || chosen.cuts ? 0 : tint"
        />
        <polyline
          v-for="line in chosen.grid"
          :key="line"
          :points="line"
          :stroke="chosen.colour"
          stroke-width="0.8"
          stroke-opacity="0.5"
        />
        <polyline
          v-for="lever in chosen.levers"
          :key="lever.line"
          :points="lever.line"
          stroke="#fff"
          stroke-width="1"
          :stroke-dasharray="lever.soft ? '2 3' : undefined"
        />
        <template v-for="handle in chosen.handles" :key="handle.index">
          <rect
            v-if="handle.form === 'heel' || handle.form === 'corner'"
            :x="handle.x - 5"
            :y="handle.y - 5"
            width="10"
            height="10"
            v-bind="handle.paint"
          />
          <circle
            v-else
            :cx="handle.x"
            :cy="handle.y"
            :r="handle.form === 'lever' || handle.form === 'soft' ? 3.5 : 5.5"
            v-bind="handle.paint"
          />
        </template>
      </g>
      <SelectionGrips v-if="frame" :frame="frame.frame" />
      <g v-if="begunLines">
        <path v-if="begunLines.d" :d="begunLines.d" stroke="#000" stroke-opacity="0.5" stroke-width="3" />
        <path v-if="begunLines.d" :d="begunLines.d" stroke="#fff" stroke-width="1.2" />
        <component
          :is="begunLines.closed ? 'polygon' : 'polyline'"
          :points="begunLines.line"
          stroke="#000"
          stroke-opacity="0.5"
          stroke-width="3"
        />
        <component
          :is="begunLines.closed ? 'polygon' : 'polyline'"
          :points="begunLines.line"
          stroke="#fff"
          stroke-width="1.2"
          stroke-dasharray="5 4"
        />
        <rect
          v-for="(dot, i) in begunLines.dots"
          :key="i"
          :x="dot.x - 5"
          :y="dot.y - 5"
          width="10"
          height="10"
          :fill="i === 0 ? '#b9f29a' : '#ebe9e4'"
          stroke="#131313"
          stroke-width="1.4"
        />
      </g>
    </g>
  </svg>
  <StageLoupe v-if="viewing.loupe && pointer" :at="pointer" v-bind="size" />
  <HandHint :state="tracer.state" />
</template>
