<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'
import { effectKinds } from '#core/effects/registry.ts'
import { curveAt, isCurve, type Curve, type CurveKey, type Ease, type NumberParameter } from '#core/model/parameters.ts'
import type { Effect } from '#core/model/records.ts'
import { castColour } from '../../castColours.ts'
import { useBench } from '../../stores/bench.ts'
import { useEffects } from '../../stores/effects.ts'
import { useProject } from '../../stores/project.ts'
import type { Grip, SheetAxis, SheetRow } from './axis.ts'
import SheetCanvas from './SheetCanvas.vue'

/** Numbers of the chosen effect over time: a lane per number that can carry keys, its curve with the same beads. */
const props = defineProps<{ effect: Effect }>()
const project = useProject()
const bench = useBench()
const effects = useEffects()

const laneHeight = 66
const parameters = computed(() =>
  effectKinds[props.effect.kind].parameters.filter(
    (p): p is NumberParameter => p.type === 'number' && p.keyed === true,
  ),
)
const chosenKey = shallowRef<{ name: string; frame: number } | null>(null)
const carried = shallowRef<{ name: string; from: number; key: CurveKey } | null>(null)
watch(
  () => props.effect.id,
  () => {
    chosenKey.value = null
  },
)

/** The parameter's curve with the carried key where the hand is; null while the number is still. */
function curveOf(p: NumberParameter): Curve | null {
  const value = props.effect.settings[p.name]
  if (!isCurve(value)) return null
  const held = carried.value
  return held?.name === p.name ? effects.movedKey(value, held.from, held.key) : value
}
const rows = computed<SheetRow[]>(() =>
  parameters.value.map((p) => {
    const curve = curveOf(p)
    return {
      id: p.name,
      name: p.label,
      note: curve ? `${curve.keys.length} ${curve.keys.length === 1 ? 'key' : 'keys'}` : 'still',
      colour: castColour(project.get('member', props.effect.target)?.colour ?? 7),
      height: laneHeight,
      chosen: chosenKey.value?.name === p.name,
    }
  }),
)
const parameterOf = (row: SheetRow) => parameters.value.find((p) => p.name === row.id)!

/** Value range that a lane shows: from the least to a bit over the most that the curve or the default reaches. */
function rangeOf(p: NumberParameter): [number, number] {
  const value = props.effect.settings[p.name]
  const numbers = isCurve(value) ? value.keys.map((key) => key.value) : [Number(value ?? p.default)]
  return [p.min, Math.min(p.max, Math.max(1e-6 + p.min, p.default, ...numbers) * 1.05)]
}
const yOf = (p: NumberParameter, value: number) => {
  const [low, high] = rangeOf(p)
  return laneHeight - 10 - ((value - low) / (high - low)) * (laneHeight - 20)
}
const valueAt = (p: NumberParameter, y: number) => {
  const [low, high] = rangeOf(p)
  const value = low + ((laneHeight - 10 - y) / (laneHeight - 20)) * (high - low)
  return Math.min(high, Math.max(p.min, Math.round(value / p.step) * p.step))
}

function keyAt(row: SheetRow, x: number, y: number, { xOf }: SheetAxis): CurveKey | null {
  const p = parameterOf(row)
  const near = (key: CurveKey) => Math.hypot(xOf(key.frame) - x, yOf(p, key.value) - y)
  return (
    curveOf(p)
      ?.keys.filter((key) => near(key) <= 9)
      .sort((a, b) => near(a) - near(b))[0] ?? null
  )
}
function grab(row: SheetRow, x: number, y: number, axis: SheetAxis): Grip | null {
  const key = keyAt(row, x, y, axis)
  if (!key) return null
  const p = parameterOf(row)
  const top = rows.value.indexOf(rows.value.find((one) => one.id === row.id)!) * laneHeight + 26
  chosenKey.value = { name: p.name, frame: key.frame }
  bench.go(key.frame)
  return {
    move(toX, toY) {
      const moved = { ...key, frame: axis.frameAt(toX), value: valueAt(p, toY - top) }
      carried.value = { name: p.name, from: key.frame, key: moved }
    },
    drop() {
      const held = carried.value
      const curve = curveOf(p)
      carried.value = null
      if (!held || !curve) return
      effects.setSetting(props.effect, p.name, curve)
      chosenKey.value = { name: p.name, frame: held.key.frame }
      bench.go(held.key.frame)
    },
  }
}

function paint(
  c: CanvasRenderingContext2D,
  row: SheetRow,
  top: number,
  { xOf, left, right, perFrame }: SheetAxis,
): void {
  const p = parameterOf(row)
  const curve = curveOf(p)
  const still = Number(props.effect.settings[p.name] ?? p.default)
  c.strokeStyle = '#2e2e2e'
  c.lineWidth = 1
  c.beginPath()
  c.moveTo(left, top + laneHeight - 0.5)
  c.lineTo(right, top + laneHeight - 0.5)
  c.stroke()
  c.strokeStyle = row.colour
  c.globalAlpha = curve ? 1 : 0.4
  c.lineWidth = 1.6
  c.beginPath()
  const step = Math.min(1, 3 / perFrame)
  for (let f = 0; f <= bench.length - 1 + 1e-6; f += step) {
    const y = top + yOf(p, curve ? curveAt(curve, f) : still)
    if (f === 0) c.moveTo(xOf(f), y)
    else c.lineTo(xOf(f), y)
  }
  c.stroke()
  c.globalAlpha = 1
  for (const key of curve?.keys ?? []) {
    c.fillStyle = chosenKey.value?.name === p.name && chosenKey.value.frame === key.frame ? '#b9f29a' : row.colour
    c.strokeStyle = '#1c1c1c'
    c.lineWidth = 2
    c.beginPath()
    c.arc(xOf(key.frame), top + yOf(p, key.value), 5, 0, 2 * Math.PI)
    c.stroke()
    c.fill()
  }
}

/** The key whose span the easing buttons shape: the chosen one, or the last before the playhead. */
const shaped = computed(() => {
  const name = chosenKey.value?.name ?? parameters.value.find((p) => isCurve(props.effect.settings[p.name]))?.name
  const value = name === undefined ? undefined : props.effect.settings[name]
  if (name === undefined || !isCurve(value)) return null
  const frame = chosenKey.value?.frame ?? bench.frame
  const key = value.keys.findLast((one) => one.frame <= frame) ?? value.keys[0]!
  return { name, value, key }
})
function ease(how: Ease): void {
  if (!shaped.value) return
  const { name, value, key } = shaped.value
  effects.setSetting(props.effect, name, {
    keys: value.keys.map((one) => (one.frame === key.frame ? { ...one, ease: how } : one)),
  })
}
function removeKey(): void {
  const value = chosenKey.value && props.effect.settings[chosenKey.value.name]
  if (!value || !isCurve(value) || !chosenKey.value) return
  const keys = value.keys.filter((key) => key.frame !== chosenKey.value!.frame)
  effects.setSetting(props.effect, chosenKey.value.name, keys.length ? { keys } : value.keys[0]!.value)
  chosenKey.value = null
}
defineExpose({ shaped, ease, removeKey })
</script>

<template>
  <SheetCanvas
    label="Numbers over time. Drag a bead to move its key; its value goes up and down with it."
    :rows="rows"
    :version="[project.version, carried, chosenKey, effect]"
    :paint="paint"
    :grab="grab"
    :over="(row, x, y, axis) => keyAt(row, x, y, axis) !== null"
  />
</template>
