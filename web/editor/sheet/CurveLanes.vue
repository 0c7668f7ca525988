<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'
import {
  type Bend,
  type ColourCurve,
  colourCurveAt,
  type Curve,
  curveAt,
  type CurveKey,
  type Ease,
  retimeCurve,
  type Retiming,
  withCurveKey,
} from '#core/parameters/curves.ts'
import { type Drive, signals } from '#core/parameters/drives.ts'
import {
  type ColourParameter,
  isColourCurve,
  isCurve,
  isDrive,
  type NumberParameter,
} from '#core/parameters/parameters.ts'
import { said, say } from '#core/say.ts'
import { useProject } from '../../project/project.ts'
import { useHearing } from '../hearing.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { bends } from '../settings/bends.ts'
import SheetCanvas from './SheetCanvas.vue'
import { drawnFrames, type Grip, heights, type SheetAxis, type SheetRow } from './axis.ts'
import { type Moving, movingOf, type NumbersOf, useKeyClip } from './numbers.ts'

/**
 * Numbers and colours of something over time, the same beads as everywhere: a lane for each that moves, and for its first
 * two numbers. A driven one shows what it makes of its signal, which runs pale behind it.
 */
const props = defineProps<{ of: NumbersOf }>()
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const hearing = useHearing()
const clip = useKeyClip()

const laneHeight = heights.curve
const settingOf = (p: Moving) => props.of.settingOf(p)
const parameters = computed<Moving[]>(() => {
  const all = movingOf(props.of.parameters)
  const moves = (p: Moving) => typeof settingOf(p) === 'object'
  const still = all.filter((p) => p.type === 'number' && !moves(p))
  // What moves comes first; the first numbers that stand still wait below for their first key.
  return [...all.filter(moves), ...still.slice(0, 2)]
})
const chosenKey = shallowRef<{ name: string; frame: number } | null>(null)
const carried = shallowRef<{ name: string; curve: Curve | ColourCurve } | null>(null)
watch(
  () => props.of.id,
  () => {
    chosenKey.value = null
  },
)

/** The parameter's keys, with the carried one where the hand is; null while it stands still or is driven. */
function curveOf(p: Moving): Curve | ColourCurve | null {
  if (carried.value?.name === p.name) return carried.value.curve
  const value = settingOf(p)
  return isCurve(value) || isColourCurve(value) ? value : null
}

/** Series of the drives, asked for when they or what they read change. */
const series = shallowRef(new Map<string, { input: Float64Array; output: Float64Array }>())
const drives = computed(() =>
  parameters.value.flatMap((p) => {
    const value = settingOf(p)
    return isDrive(value) ? [{ name: p.name, drive: value }] : []
  }),
)
watch(
  [drives, () => project.version, () => opened.shotId, () => opened.readings],
  async () => {
    const asked = drives.value
    const found = await Promise.all(asked.map(({ drive }) => opened.pictures.series(drive)))
    if (asked === drives.value) series.value = new Map(asked.map(({ name }, i) => [name, found[i]!]))
  },
  { immediate: true },
)

const nameOf = (id: string) => project.get('member', id)?.name ?? 'somebody'
function noteOf(p: Moving): string {
  const value = settingOf(p)
  if (isDrive(value)) return driveNote(value)
  const curve = curveOf(p)
  const count = curve ? ('keys' in curve ? curve.keys : curve.colours).length : 0
  return count ? `${count} ${count === 1 ? say`key` : say`keys`}` : said('still', 'number')
}
function driveNote({ signal, of, with: other }: Drive): string {
  const { label, needs } = signals[signal]
  if (needs === 'nobody') return label
  if (needs === 'sound') return `${label}, ${hearing.sourceName(of)}`
  return `${label}, ${nameOf(of)}${needs === 'two' ? say` and ${nameOf(other)}` : ''}`
}
const rows = computed<SheetRow[]>(() =>
  parameters.value.map((p) => ({
    id: p.name,
    name: p.label,
    note: noteOf(p),
    colour: props.of.colour,
    height: laneHeight,
    chosen: chosenKey.value?.name === p.name,
  })),
)
const parameterOf = (row: SheetRow) => parameters.value.find((p) => p.name === row.id)!

/** Value range that a lane shows: around what the curve, the drive or the default reaches. */
function rangeOf(p: NumberParameter): [number, number] {
  const value = settingOf(p)
  const numbers = isCurve(value)
    ? value.keys.map((key) => key.value)
    : isDrive(value)
      ? [...value.to]
      : [Number(value ?? p.default)]
  const low = Math.min(p.default, ...numbers)
  const high = Math.max(p.default, ...numbers)
  const room = Math.max(p.step * 4, (high - low) * 0.12)
  return [Math.max(p.min, low - room), Math.min(p.max, high + room)]
}
const yOf = (p: NumberParameter, value: number) => {
  const [low, high] = rangeOf(p)
  return laneHeight - 10 - ((value - low) / (high - low)) * (laneHeight - 20)
}
const rawAt = (p: NumberParameter, y: number) => {
  const [low, high] = rangeOf(p)
  return low + ((laneHeight - 10 - y) / (laneHeight - 20)) * (high - low)
}
/** A lane shows a part of the range; a hand that goes past its rim goes on at the same pace. */
const valueAt = (p: NumberParameter, y: number) =>
  Math.min(p.max, Math.max(p.min, Math.round(rawAt(p, y) / p.step) * p.step))

/** Beads of a lane: where each lies. */
function beadsOf(p: Moving): { frame: number; y: number }[] {
  const curve = curveOf(p)
  if (!curve) return []
  return 'keys' in curve
    ? curve.keys.map((key) => ({ frame: key.frame, y: yOf(p as NumberParameter, key.value) }))
    : curve.colours.map((key) => ({ frame: key.frame, y: laneHeight / 2 }))
}
/** The two handles of a shaped span, where its key is the chosen one. */
function handlesOf(p: Moving, { xOf }: SheetAxis): { x: number; y: number; index: 0 | 2 }[] {
  const curve = curveOf(p)
  if (!curve || !('keys' in curve) || chosenKey.value?.name !== p.name) return []
  const at = curve.keys.findIndex((key) => key.frame === chosenKey.value!.frame)
  const [a, b] = [curve.keys[at], curve.keys[at + 1]]
  if (!a || !b || a.ease !== 'shaped' || !a.bend) return []
  return ([0, 2] as const).map((index) => ({
    x: xOf(a.frame + a.bend![index] * (b.frame - a.frame)),
    y: yOf(p as NumberParameter, a.value + a.bend![index + 1]! * (b.value - a.value)),
    index,
  }))
}
const nearest = <T extends { x: number; y: number }>(places: T[], x: number, y: number): T | null =>
  places
    .filter((one) => Math.hypot(one.x - x, one.y - y) <= 9)
    .sort((a, b) => Math.hypot(a.x - x, a.y - y) - Math.hypot(b.x - x, b.y - y))[0] ?? null
const beadAt = (p: Moving, x: number, y: number, { xOf }: SheetAxis) =>
  nearest(
    beadsOf(p).map((bead) => ({ ...bead, x: xOf(bead.frame) })),
    x,
    y,
  )

function grab(row: SheetRow, x: number, y: number, axis: SheetAxis): Grip | null {
  const p = parameterOf(row)
  const top = rows.value.findIndex((one) => one.id === row.id) * laneHeight + 26
  const handle = nearest(handlesOf(p, axis), x, y)
  if (handle && p.type === 'number') return grabHandle(p, handle.index, top, axis)
  const bead = beadAt(p, x, y, axis)
  const before = curveOf(p)
  if (!bead || !before) return null
  chosenKey.value = { name: p.name, frame: bead.frame }
  playback.go(bead.frame)
  return {
    move(toX, toY) {
      carried.value = { name: p.name, curve: moved(p, before, bead.frame, axis.frameAt(toX), toY - top) }
    },
    drop() {
      const held = carried.value
      carried.value = null
      if (!held) return
      props.of.set(p, held.curve)
      const frames = 'keys' in held.curve ? held.curve.keys : held.curve.colours
      const now = frames.find((key) => !framesOf(before).includes(key.frame))?.frame ?? bead.frame
      chosenKey.value = { name: p.name, frame: now }
      playback.go(now)
    },
  }
}
const framesOf = (curve: Curve | ColourCurve) => ('keys' in curve ? curve.keys : curve.colours).map((key) => key.frame)
function moved(p: Moving, curve: Curve | ColourCurve, from: number, to: number, y: number): Curve | ColourCurve {
  if ('keys' in curve) {
    const key = curve.keys.find((one) => one.frame === from)!
    const others = { keys: curve.keys.filter((one) => one.frame !== from) }
    // A key that was there gives way.
    return withCurveKey(others, { ...key, frame: to, value: valueAt(p as NumberParameter, y) })
  }
  const key = curve.colours.find((one) => one.frame === from)!
  const colours = [...curve.colours.filter((one) => one.frame !== from && one.frame !== to), { ...key, frame: to }]
  return { colours: colours.sort((a, b) => a.frame - b.frame) }
}
function grabHandle(p: NumberParameter, index: 0 | 2, top: number, axis: SheetAxis): Grip {
  const curve = curveOf(p) as Curve
  const at = curve.keys.findIndex((key) => key.frame === chosenKey.value!.frame)
  const [a, b] = [curve.keys[at]!, curve.keys[at + 1]!]
  const round = (v: number) => Math.round(v * 100) / 100
  return {
    move(toX, toY) {
      const bend: Bend = [...a.bend!]
      const along = (toX - axis.xOf(a.frame)) / (axis.xOf(b.frame) - axis.xOf(a.frame))
      bend[index] = round(Math.min(1, Math.max(0, along)))
      const rise = b.value - a.value || 1e-6
      bend[index + 1] = round(Math.min(4, Math.max(-3, (rawAt(p, toY - top) - a.value) / rise)))
      carried.value = { name: p.name, curve: withCurveKey(curve, { ...a, bend }) }
    },
    drop() {
      const held = carried.value
      carried.value = null
      if (held) props.of.set(p, held.curve)
    },
  }
}

function paint(c: CanvasRenderingContext2D, row: SheetRow, top: number, axis: SheetAxis): void {
  const p = parameterOf(row)
  const { xOf, left, right } = axis
  c.strokeStyle = '#2e2e2e'
  c.lineWidth = 1
  c.beginPath()
  c.moveTo(left, top + laneHeight - 0.5)
  c.lineTo(right, top + laneHeight - 0.5)
  c.stroke()
  if (p.type === 'colour') paintColours(c, p, top, axis)
  else paintNumbers(c, p, row.colour, top, axis)
  for (const bead of beadsOf(p)) {
    const chosen = chosenKey.value?.name === p.name && chosenKey.value.frame === bead.frame
    c.fillStyle = chosen ? '#b9f29a' : row.colour
    c.strokeStyle = '#1c1c1c'
    c.lineWidth = 2
    c.beginPath()
    c.arc(xOf(bead.frame), top + bead.y, 5, 0, 2 * Math.PI)
    c.stroke()
    c.fill()
  }
}
function paintNumbers(
  c: CanvasRenderingContext2D,
  p: NumberParameter,
  colour: string,
  top: number,
  axis: SheetAxis,
): void {
  const { xOf } = axis
  const frames = drawnFrames(axis, opened.length)
  const curve = curveOf(p) as Curve | null
  const value = settingOf(p)
  const driven = series.value.get(p.name)
  if (isDrive(value)) {
    if (!driven) return
    const [low, high] = value.from
    const input = (f: number) =>
      laneHeight - 8 - Math.max(0, Math.min(1, (driven.input[f]! - low) / (high - low || 1))) * (laneHeight - 16)
    line(c, frames, (f) => (Number.isNaN(driven.input[f]) ? null : [xOf(f), top + input(f)]), '#55544f', 1)
    line(
      c,
      frames,
      (f) => (Number.isNaN(driven.output[f]) ? null : [xOf(f), top + yOf(p, driven.output[f]!)]),
      colour,
      1.6,
    )
    return
  }
  const still = Number(value ?? p.default)
  c.globalAlpha = curve ? 1 : 0.4
  line(
    c,
    drawnFrames(axis, opened.length, true),
    (f) => [xOf(f), top + yOf(p, curve ? curveAt(curve, f) : still)],
    colour,
    1.6,
  )
  c.globalAlpha = 1
  const handles = handlesOf(p, axis)
  const key = curve?.keys.findIndex((one) => one.frame === chosenKey.value?.frame) ?? -1
  for (const { x, y, index } of handles) {
    const end = curve!.keys[key + (index ? 1 : 0)]!
    c.strokeStyle = '#8d8b86'
    c.lineWidth = 1
    c.beginPath()
    c.moveTo(xOf(end.frame), top + yOf(p, end.value))
    c.lineTo(x, top + y)
    c.stroke()
    c.fillStyle = '#1c1c1c'
    c.strokeStyle = '#b9f29a'
    c.lineWidth = 1.5
    c.beginPath()
    c.arc(x, top + y, 4, 0, 2 * Math.PI)
    c.fill()
    c.stroke()
  }
}
function line(
  c: CanvasRenderingContext2D,
  frames: readonly number[],
  place: (frame: number) => [number, number] | null,
  colour: string,
  width: number,
): void {
  c.strokeStyle = colour
  c.lineWidth = width
  c.beginPath()
  let drawing = false
  for (const frame of frames) {
    const at = place(frame)
    if (!at) drawing = false
    else if (drawing) c.lineTo(...at)
    else {
      c.moveTo(...at)
      drawing = true
    }
  }
  c.stroke()
}
function paintColours(c: CanvasRenderingContext2D, p: ColourParameter, top: number, axis: SheetAxis): void {
  const { xOf } = axis
  const curve = curveOf(p) as ColourCurve | null
  const frames = drawnFrames(axis, opened.length)
  const step = (frames[1] ?? 1) - (frames[0] ?? 0)
  for (const f of frames) {
    c.fillStyle = curve ? colourCurveAt(curve, f) : String(settingOf(p))
    c.fillRect(xOf(f - 0.5), top + laneHeight / 2 - 9, xOf(f + step) - xOf(f) + 0.5, 18)
  }
}

/** The key whose span the easing buttons shape: the chosen one, or the last before the playhead. */
const shaped = computed(() => {
  const name = chosenKey.value?.name ?? parameters.value.find((p) => curveOf(p))?.name
  const p = parameters.value.find((one) => one.name === name)
  const curve = p && curveOf(p)
  if (!p || !curve) return null
  const frame = chosenKey.value?.frame ?? playback.frame
  const keys: { frame: number; ease: Ease; bend?: Bend }[] = 'keys' in curve ? curve.keys : curve.colours
  return { p, curve, key: keys.findLast((one) => one.frame <= frame) ?? keys[0]! }
})
/** Every key of a curve sent through `change`. */
function changed(
  curve: Curve | ColourCurve,
  change: <K extends CurveKey | ColourCurve['colours'][number]>(key: K) => K,
) {
  return 'keys' in curve ? { keys: curve.keys.map(change) } : { colours: curve.colours.map(change) }
}
function ease(how: Ease, bend?: Bend): void {
  if (!shaped.value) return
  const { p, curve, key } = shaped.value
  chosenKey.value = { name: p.name, frame: key.frame }
  const next = changed(curve, (one) => {
    if (one.frame !== key.frame) return one
    const { bend: _, ...rest } = one
    return { ...rest, ease: how, ...(how === 'shaped' ? { bend: bend ?? bends[3]!.bend } : {}) } as typeof one
  })
  props.of.set(p, next)
}
function removeKey(): void {
  const p = parameters.value.find((one) => one.name === chosenKey.value?.name)
  const curve = p && curveOf(p)
  if (!p || !curve) return
  const frame = chosenKey.value!.frame
  if ('keys' in curve) {
    const keys = curve.keys.filter((key) => key.frame !== frame)
    props.of.set(p, keys.length ? { keys } : curve.keys[0]!.value)
  } else {
    const colours = curve.colours.filter((key) => key.frame !== frame)
    props.of.set(p, colours.length ? { colours } : curve.colours[0]!.colour)
  }
  chosenKey.value = null
}
/** Turns the order of a curve's keys around, or stretches them about the first, or sets them beginning at the playhead. */
function retime(how: Retiming): void {
  if (!shaped.value) return
  const { p, curve } = shaped.value
  props.of.set(p, retimeCurve(curve, how, playback.frame))
  chosenKey.value = null
}
function copy(): void {
  if (shaped.value) clip.kept = { curve: shaped.value.curve, type: shaped.value.p.type }
}
/** The copied keys on the chosen lane, beginning at the playhead. */
function paste(): void {
  const name = chosenKey.value?.name ?? shaped.value?.p.name ?? parameters.value[0]?.name
  const p = parameters.value.find((one) => one.name === name)
  if (p && clip.kept?.type === p.type) props.of.set(p, retimeCurve(clip.kept.curve, 'here', playback.frame))
}
defineExpose({ shaped, ease, removeKey, retime, copy, paste })
</script>

<template>
  <SheetCanvas
    :label="say`Numbers over time. Drag a bead to move its key; its value goes up and down with it.`"
    :rows="rows"
    :version="[project.version, carried, chosenKey, of, series]"
    :paint="paint"
    :grab="grab"
    :over="
      (row, x, y, axis) =>
        beadAt(parameterOf(row), x, y, axis) !== null || nearest(handlesOf(parameterOf(row), axis), x, y) !== null
    "
    @choose="chosenKey = chosenKey?.name === $event.id ? chosenKey : { name: $event.id, frame: -1 }"
  />
</template>
