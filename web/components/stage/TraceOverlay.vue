<script setup lang="ts">
import { computed, inject, onBeforeUnmount, ref, shallowRef, triggerRef, watch } from 'vue'
import type { Part } from '#core/model/records.ts'
import { reachedTip } from '#core/shapes/rod.ts'
import { keyBefore } from '#core/shapes/track.ts'
import { castColour } from '../../castColours.ts'
import { useBench } from '../../stores/bench.ts'
import { useProject } from '../../stores/project.ts'
import { kindOf, useTracing } from '../../stores/tracing.ts'
import { partKinds } from '#core/shapes/registry.ts'
import { Tracer, type Traced } from './tracer.ts'
import { stageKey } from './view.ts'

/** Traced shapes over the picture, their handles and the hand that moves them. */
defineProps<{ width: number; height: number }>()
const project = useProject()
const bench = useBench()
const tracing = useTracing()
const { view, toPlate } = inject(stageKey)!

/** Points under the hand, not committed yet. */
const draft = shallowRef<number[] | null>(null)
const pointer = shallowRef<{ x: number; y: number } | null>(null)
const hovered = ref<number | 'body' | null>(null)

const colourOf = (part: Part) => castColour(project.get('member', part.member)?.colour ?? 0)
const tracedOf = (part: Part, points: readonly number[]): Traced => ({
  id: part.id,
  kind: kindOf(part),
  settings: part.settings,
  points,
})

const tracer = shallowRef(
  new Tracer({
    chosen() {
      const { part } = bench
      const points = part && tracing.shapeOrGhost(part)
      return part && points ? tracedOf(part, points) : null
    },
    others: () =>
      bench.parts.flatMap((part) => {
        const points = part.id === bench.partId ? null : bench.shape(part)
        return points ? [tracedOf(part, points)] : []
      }),
    places: () => (bench.tool === 'rod' || bench.tool === 'oval' ? partKinds[bench.tool] : null),
    choose(id) {
      const part = project.get('part', id)
      if (part) {
        bench.partId = id
        bench.point = null
      }
    },
    choosePoint: (index) => {
      bench.point = index
    },
    place(points) {
      const { part, tool } = bench
      const done =
        part && part.kind === tool
          ? tracing.writeKey(part, points)
          : tool === 'rod'
            ? tracing.addMember('prop', 'Prop', 'rod', 'shaft', points)
            : tracing.addMember('performer', 'Performer', 'oval', 'head', points)
      if (done) bench.stepBy(bench.stepSize)
    },
    drag(points) {
      draft.value = points
      const { part } = bench
      if (part && bench.layer === 'result')
        bench.pictures.setDraft(bench.frame, tracing.keyDiff(part, bench.frame, points))
    },
    drop(points) {
      const { part } = bench
      draft.value = null
      if (part && points) tracing.writeKey(part, points)
      bench.pictures.setDraft(bench.frame, null)
    },
  }),
)
const act = (work: (tracer: Tracer) => void) => {
  work(tracer.value)
  triggerRef(tracer)
}

function down(event: PointerEvent): void {
  if (event.button !== 0 || event.altKey || bench.tool === 'hand') return
  bench.stop()
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  const { x, y } = toPlate(event)
  act((one) => one.down(x, y, view.value.k))
}
function move(event: PointerEvent): void {
  const { x, y } = toPlate(event)
  pointer.value = { x, y }
  if (bench.tool === 'hand') return
  act((one) => one.move(x, y, view.value.k))
  const grip = tracer.value.state.name === 'idle' ? tracer.value.under(x, y, view.value.k) : null
  hovered.value = grip ? (grip.point ?? 'body') : null
}
function up(event: PointerEvent): void {
  const { x, y } = toPlate(event)
  act((one) => one.up(x, y))
}
/** Leaves a placing or a drag; false where there was none. */
function cancel(): boolean {
  let was = false
  act((one) => {
    was = one.cancel()
  })
  return was
}
defineExpose({ cancel })
watch([() => bench.partId, () => bench.tool, () => bench.shotId], () => void cancel())
watch(
  () => bench.frame,
  () => tracer.value.state.name === 'dragging' && cancel(),
)
onBeforeUnmount(() => bench.pictures.setDraft(bench.frame, null))

const sx = (x: number) => x * view.value.k + view.value.x
const sy = (y: number) => y * view.value.k + view.value.y
function svgPath(part: Part, points: readonly number[]): string {
  const path = kindOf(part).path(points, part.settings)
  let d = `M${sx(path[0]!)} ${sy(path[1]!)}`
  for (let i = 2; i < path.length; i += 2) d += `${i % 6 === 2 ? 'C' : ' '}${sx(path[i]!)} ${sy(path[i + 1]!)}`
  return `${d}Z`
}

const showsShapes = computed(() => bench.look !== 'plate' && !bench.peeking)
const shapes = computed(() =>
  bench.parts.flatMap((part) => {
    const points = part.id === bench.partId ? null : bench.shape(part)
    return points ? [{ part, colour: colourOf(part), d: svgPath(part, points) }] : []
  }),
)

const chosen = computed(() => {
  const { part } = bench
  if (!part) return null
  const points = draft.value ?? tracing.shapeOrGhost(part)
  if (!points) return null
  const there = draft.value !== null || bench.shape(part) !== null
  const reach = part.kind === 'rod' ? Number(part.settings.reach ?? 0) : 0
  const beyond = reach ? reachedTip(points, reach) : null
  return {
    part,
    colour: colourOf(part),
    ghost: !there,
    d: svgPath(part, points),
    axis: part.kind === 'rod' ? points : null,
    beyond,
    handles: Array.from({ length: points.length / 2 }, (_, i) => ({
      form: kindOf(part).handleForm(i),
      x: sx(points[2 * i]!),
      y: sy(points[2 * i + 1]!),
      active: bench.point === i,
      hovered: hovered.value === i,
    })),
  }
})

/** Shapes of the neighbouring keys of the chosen part. */
const onions = computed(() => {
  const { part, frame } = bench
  if (!part || !bench.onion) return []
  const { keys } = bench.track(part)
  const before = keyBefore(keys, frame - 1)
  const after = keys[keyBefore(keys, frame) + 1]
  return [keys[before], after].flatMap((key) => (key ? [{ frame: key.frame, d: svgPath(part, key.points) }] : []))
})

/** Line from the clicked places to the pointer while a shape is placed. */
const rubber = computed(() => {
  const { state } = tracer.value
  if (state.name !== 'placing' || !pointer.value) return null
  return { x1: sx(state.clicks[0]!), y1: sy(state.clicks[1]!), x2: sx(pointer.value.x), y2: sy(pointer.value.y) }
})

const hint = computed<{ say: string; keys?: [string, string][] } | null>(() => {
  const { part, tool } = bench
  const { state } = tracer.value
  if (bench.playing || tool === 'hand') return null
  if (state.name === 'dragging') return { say: 'Let go to keep it as a key of this frame', keys: [['Esc', 'leave it']] }
  const kind = tool === 'rod' || tool === 'oval' ? partKinds[tool] : null
  if (state.name === 'placing' && kind)
    return {
      say: `${kind.placing[state.clicks.length / 2]!}${tool === 'rod' ? ', even outside the picture' : ''}`,
      keys: [['Esc', 'leave it']],
    }
  if (!part || (kind && part.kind !== tool)) return kind ? { say: `${kind.placing[0]!}, to trace something new` } : null
  const cell = bench.cell(part)
  if (!tracing.shapeOrGhost(part)) return kind ? { say: `${kind.placing[0]!} of ${part.name}` } : null
  if (cell === 'key')
    return {
      say: 'Key',
      keys: [
        ['Enter', 'step on'],
        ['drag', 'correct'],
      ],
    }
  if (cell === 'away')
    return {
      say: 'Away on this frame',
      keys: [
        ['Enter', 'it is back here'],
        ['D', 'step on'],
      ],
    }
  if (cell === 'none')
    return {
      say: 'Ghost follows the motion',
      keys: [
        ['Enter', 'accept and step'],
        ['drag', 'correct'],
      ],
    }
  return {
    say: cell === 'held' ? 'Held from its last key' : 'In-between',
    keys: [
      ['Enter', 'make it a key'],
      ['drag', 'correct'],
    ],
  }
})
</script>

<template>
  <svg
    class="absolute inset-0 size-full"
    :class="{
      'cursor-crosshair': bench.tool === 'rod' || bench.tool === 'oval',
      'cursor-move': hovered === 'body',
      '!cursor-grab': bench.tool === 'hand',
    }"
    data-testid="overlay"
    aria-hidden="true"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="up"
    @pointercancel="cancel"
    @pointerleave="pointer = null"
  >
    <g v-if="showsShapes" fill="none" stroke-linejoin="round">
      <g v-for="shape in shapes" :key="shape.part.id" :opacity="bench.look === 'result' ? 0.35 : 1">
        <path :d="shape.d" stroke="#000" stroke-opacity="0.45" stroke-width="3" />
        <path
          :d="shape.d"
          :stroke="shape.colour"
          stroke-width="1.2"
          :fill="shape.colour"
          :fill-opacity="bench.look === 'overlay' ? bench.overlay : 0"
        />
      </g>
      <g v-if="chosen">
        <path
          v-for="onion in onions"
          :key="onion.frame"
          :d="onion.d"
          :stroke="chosen.colour"
          stroke-width="0.8"
          stroke-opacity="0.5"
        />
        <line
          v-if="chosen.axis && chosen.beyond"
          :x1="sx(chosen.axis[2]!)"
          :y1="sy(chosen.axis[3]!)"
          :x2="sx(chosen.beyond[0])"
          :y2="sy(chosen.beyond[1])"
          :stroke="chosen.colour"
          stroke-width="1.4"
          stroke-dasharray="1.5 4"
          stroke-linecap="round"
        />
        <path
          v-if="bench.look !== 'result'"
          :d="chosen.d"
          stroke="#000"
          stroke-opacity="0.5"
          stroke-width="3.2"
          :stroke-dasharray="chosen.ghost ? '5 4' : undefined"
        />
        <path
          :d="chosen.d"
          :stroke="chosen.colour"
          :stroke-width="bench.look === 'result' && !chosen.ghost ? 0.8 : 1.2"
          :stroke-opacity="bench.look === 'result' && !chosen.ghost ? 0.6 : 1"
          :stroke-dasharray="chosen.ghost ? '5 4' : undefined"
          :fill="chosen.colour"
          :fill-opacity="bench.look === 'overlay' && !chosen.ghost ? bench.overlay : 0"
        />
        <template v-for="(handle, i) in chosen.handles" :key="i">
          <rect
            v-if="handle.form === 'heel' || handle.form === 'corner'"
            :x="handle.x - 5"
            :y="handle.y - 5"
            width="10"
            height="10"
            :fill="handle.active ? '#b9f29a' : handle.hovered ? chosen.colour : '#131313'"
            :fill-opacity="handle.active || handle.hovered ? 1 : 0.35"
            stroke="#fff"
            stroke-width="1.6"
            :stroke-dasharray="chosen.ghost ? '3 2' : undefined"
          />
          <circle
            v-else
            :cx="handle.x"
            :cy="handle.y"
            :r="handle.form === 'lever' ? 3.5 : 5.5"
            :fill="handle.active ? '#b9f29a' : handle.hovered ? chosen.colour : '#131313'"
            :fill-opacity="handle.active || handle.hovered ? 1 : 0.35"
            stroke="#fff"
            stroke-width="1.6"
            :stroke-dasharray="chosen.ghost ? '3 2' : undefined"
          />
        </template>
      </g>
      <g v-if="rubber">
        <line v-bind="rubber" stroke="#000" stroke-opacity="0.5" stroke-width="3" />
        <line v-bind="rubber" stroke="#fff" stroke-width="1.2" stroke-dasharray="5 4" />
        <rect
          :x="rubber.x1 - 5"
          :y="rubber.y1 - 5"
          width="10"
          height="10"
          fill="#b9f29a"
          stroke="#131313"
          stroke-width="1.4"
        />
      </g>
    </g>
  </svg>
  <div
    v-if="hint && !bench.peeking && !bench.trouble"
    class="pointer-events-none absolute bottom-3 left-1/2 flex -translate-x-1/2 items-center gap-2 rounded-[9px] bg-panel/90 px-3 py-1.5 whitespace-nowrap"
    data-testid="hint"
    role="status"
  >
    <span>{{ hint.say }}</span>
    <template v-for="[key, what] in hint.keys ?? []" :key="key">
      <kbd class="key">{{ key }}</kbd> <span class="text-second">{{ what }}</span>
    </template>
  </div>
</template>
