<script setup lang="ts">
import { computed, onMounted, shallowRef } from 'vue'
import { isHandKey, keyBefore } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { useProject } from '../../project/project.ts'
import { castColour } from '../castColours.ts'
import { useMotion } from '../motion.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { followWishes } from '../runs/followWishes.ts'
import { useRuns } from '../runs/runs.ts'
import { useSelection } from '../selection.ts'
import { kindOf, useTracing } from '../tracing.ts'
import SheetCanvas from './SheetCanvas.vue'
import { type Grip, heights, type SheetAxis, type SheetRow } from './axis.ts'
import { useMarks } from './marks.ts'

/**
 * Beads on a thread: a lane per part below the speed of the chosen one. A key is a filled bead, a followed frame a
 * hollow one, an in-between the
 * thread itself, a held shape a dotted thread, away a hatched gap, a frame worth a look a warm notch, a frame of the
 * key plan a hollow ring above the lane.
 */
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const tracing = useTracing()
const motion = useMotion()
const marks = useMarks()
const runs = useRuns()
onMounted(() => motion.start())

const motionRow = 'speed'
const rows = computed<SheetRow[]>(() => [
  ...(selected.part
    ? [
        {
          ...{
            id: motionRow,
            name: say`speed of ${selected.part.name}`,
            colour: '',
            height: heights.speed,
            chosen: false,
            pinned: true,
          },
        },
      ]
    : []),
  ...opened.parts.map((part) => {
    const member = project.get('member', part.member)
    return {
      ...{ id: part.id, name: part.name, owner: member?.name ?? '', colour: castColour(member?.colour ?? 0) },
      ...{ height: heights.part, chosen: part.id === selected.partId },
    }
  }),
])
/** Beads under the hand: how far the keys of the range, or one key, are carried. */
const carried = shallowRef<{ part: string; frame: number; by: number; all: boolean } | null>(null)
/** Where the end of the range is being drawn to. */
const stretching = shallowRef<number | null>(null)

/** Frame of the key whose bead lies at a place. */
function beadAt(row: SheetRow, x: number, { xOf, perFrame }: SheetAxis): number | null {
  const part = project.get('part', row.id)
  if (!part) return null
  const { keys } = opened.track(part)
  const near = keyBefore(keys, playback.frame + (x - xOf(playback.frame)) / perFrame)
  let best: number | null = null
  for (const key of [keys[near], keys[near + 1]]) {
    if (!key) continue
    const d = Math.abs(xOf(key.frame) - x)
    if (d <= 7 && (best === null || d < Math.abs(xOf(best) - x))) best = key.frame
  }
  return best
}
const endAt = (row: SheetRow, x: number, { xOf, perFrame }: SheetAxis) => {
  const { range } = selected
  return range?.parts.includes(row.id) && Math.abs(xOf(range.to) + perFrame / 2 - x) <= 5
}

function grab(row: SheetRow, x: number, _y: number, axis: SheetAxis, event: PointerEvent): Grip | null {
  const part = project.get('part', row.id)
  if (!part) return null
  const { range } = selected
  if (range && endAt(row, x, axis)) {
    return {
      move: (toX) => {
        stretching.value = Math.max(range.from + 1, axis.frameAt(toX))
      },
      drop() {
        const to = stretching.value
        stretching.value = null
        if (to !== null) tracing.stretchKeys(to)
      },
    }
  }
  const from = beadAt(row, x, axis)
  if (from === null) return null
  const all = range !== null && range.parts.includes(part.id) && from >= range.from && from <= range.to
  playback.go(from)
  if (part.locked) return null
  const copy = event.altKey
  carried.value = { part: part.id, frame: from, by: 0, all }
  return {
    move: (toX) => {
      carried.value = { part: part.id, frame: from, by: axis.frameAt(toX) - from, all }
    },
    drop() {
      const by = carried.value?.by ?? 0
      carried.value = null
      if (by === 0) return
      const key = project.childrenOf('key', part.id).filter((one) => one.frame === from)
      tracing.moveKeys(all ? tracing.rangeKeys() : [{ part, keys: key }], by, copy)
      if (all)
        selected.range = {
          ...range,
          from: Math.max(0, range.from + by),
          to: Math.min(opened.length - 1, range.to + by),
        }
      playback.go(from + by)
    },
  }
}
function choose(row: SheetRow): void {
  const part = project.get('part', row.id)
  if (!part) return
  selected.choosePart(part)
  if (selected.range && !selected.range.parts.includes(part.id)) selected.range = null
}
function choosesRange(range: { from: number; to: number; rows: SheetRow[] } | null): void {
  const parts = range?.rows.map((row) => row.id).filter((id) => id !== motionRow) ?? []
  selected.range = range && parts.length ? { from: range.from, to: range.to, parts } : null
}

function paint(c: CanvasRenderingContext2D, row: SheetRow, top: number, axis: SheetAxis): void {
  if (row.id === motionRow) return paintSpeed(c, top, row.height, axis)
  const part = project.get('part', row.id)
  if (!part) return
  const { xOf, perFrame, left, right } = axis
  const y = top + row.height / 2
  const { keys, aways } = opened.track(part)
  const ground = row.chosen ? '#262626' : '#1c1c1c'
  const { range } = selected
  const inRange = range?.parts.includes(part.id)
  if (range && inRange) {
    const end = stretching.value ?? range.to
    const [a, b] = [xOf(range.from) - perFrame / 2, xOf(end) + perFrame / 2]
    c.fillStyle = '#3a3a3a'
    c.fillRect(a, top + 2, b - a, row.height - 4)
    c.fillStyle = '#a8a6a0'
    c.fillRect(b - 2, top + 5, 2, row.height - 10)
  }
  const line = (from: number, to: number, dotted: boolean) => {
    if (to <= from) return
    c.strokeStyle = row.colour
    c.globalAlpha = dotted ? 0.45 : 0.75
    c.lineWidth = 1.4
    c.setLineDash(dotted ? [2, 4] : [])
    c.beginPath()
    c.moveTo(Math.max(left - 10, xOf(from)), y)
    c.lineTo(Math.min(right + 10, xOf(to)), y)
    c.stroke()
    c.setLineDash([])
    c.globalAlpha = 1
  }
  if (kindOf(part).pixels) {
    // There is something on the frames of its keys only: a thread runs where they follow each other.
    for (let i = 1; i < keys.length; i++)
      if (keys[i]!.frame === keys[i - 1]!.frame + 1) line(keys[i - 1]!.frame, keys[i]!.frame, false)
  } else if (keys.length) {
    const [a, b] = [keys[0]!.frame, keys.at(-1)!.frame]
    line(a, b, false)
    if (part.hold) {
      line(0, a, true)
      line(b, opened.length - 1, true)
    }
  }
  for (const away of aways) hatch(c, xOf(away.from) - perFrame / 2, xOf(away.to) + perFrame / 2, y, ground)
  const radius = Math.max(1.6, Math.min(4.5, perFrame * 0.42))
  const placeOf = (frame: number) => {
    const held = carried.value
    if (held && (held.all ? inRange && inside(frame) : held.part === part.id && held.frame === frame))
      return frame + held.by
    if (stretching.value !== null && range && inRange && inside(frame))
      return range.from + ((frame - range.from) * (stretching.value - range.from)) / Math.max(1, range.to - range.from)
    return frame
  }
  const inside = (frame: number) => range !== null && frame >= range.from && frame <= range.to
  // Beads that touch are drawn as one: a lane keyed on every one of thousands of frames costs what is seen of it.
  let run: BeadRun | null = null
  const first = Math.max(0, keyBefore(keys, playback.frame + (left - 12 - xOf(playback.frame)) / perFrame))
  for (let i = first; i < keys.length; i++) {
    const key = keys[i]!
    const at = placeOf(key.frame)
    const x = xOf(at)
    if (x > right + 12) break
    const hand = isHandKey(key)
    const size = at === key.frame ? radius : radius + 1.5
    if (run && run.hand === hand && run.radius === size && x >= run.to && x - run.to < 2 * size) run.to = x
    else {
      if (run) beads(c, run, y, row.colour, ground)
      run = { from: x, to: x, radius: size, hand }
    }
    if (!hand && key.followed! < followWishes.value.unsure) notch(c, x, x, top + row.height - 2)
  }
  if (run) beads(c, run, y, row.colour, ground)
  if (runs.run?.part === part.id)
    for (const frame of runs.run.found.keys()) {
      const x = xOf(frame)
      if (x > left - 12 && x < right + 12) beads(c, { from: x, to: x, radius, hand: false }, y, row.colour, ground)
    }
  for (const one of motion.doubtful.get(part.id) ?? []) {
    if (one.kind === 'unkeyed' || one.kind === 'hard' || one.kind === 'unsure') continue
    notch(c, xOf(one.frame), Math.max(xOf(one.to), xOf(one.frame)), top + row.height - 2)
  }
  if (row.chosen) {
    c.strokeStyle = '#b9f29a'
    c.lineWidth = 1.4
    for (const { frame } of motion.plan) {
      const x = xOf(frame)
      if (x < left || x > right) continue
      c.beginPath()
      c.arc(x, top + 5, 2.6, 0, 2 * Math.PI)
      c.stroke()
    }
  }
}

/** Beads of one kind from one place to another, so close that they touch; often a single one. */
interface BeadRun {
  from: number
  to: number
  radius: number
  hand: boolean
}

/** A key is a filled bead, a followed frame a smaller, hollow one. */
function beads(c: CanvasRenderingContext2D, run: BeadRun, y: number, colour: string, ground: string): void {
  const { from, to, hand } = run
  const radius = hand ? run.radius : Math.max(1.4, 0.75 * run.radius)
  c.beginPath()
  c.roundRect(from - radius, y - radius, to - from + 2 * radius, 2 * radius, radius)
  c.lineWidth = hand ? 2 : 1.2
  c.fillStyle = hand ? colour : ground
  c.strokeStyle = hand ? ground : colour
  if (hand) {
    if (radius > 2) c.stroke()
    c.fill()
  } else {
    c.fill()
    c.stroke()
  }
}

/** A warm wedge below the thread, or a line between two for a range. */
function notch(c: CanvasRenderingContext2D, from: number, to: number, y: number): void {
  c.fillStyle = '#ffb45e'
  for (const x of from === to ? [from] : [from, to]) {
    c.beginPath()
    c.moveTo(x - 4, y)
    c.lineTo(x + 4, y)
    c.lineTo(x, y - 6)
    c.fill()
  }
  if (to > from) c.fillRect(from, y - 1.5, to - from, 1.5)
}

function paintSpeed(
  c: CanvasRenderingContext2D,
  top: number,
  height: number,
  { xOf, left, right, perFrame }: SheetAxis,
): void {
  const speed = motion.measures?.speed
  if (!speed) return
  let most = 1
  for (const v of speed) if (v > most) most = v
  const step = Math.max(1, Math.floor(1 / perFrame))
  c.strokeStyle = '#8d8b86'
  c.lineWidth = 1.3
  c.beginPath()
  let open = false
  for (let f = 0; f < speed.length; f += step) {
    const v = speed[f]!
    const x = xOf(f)
    if (v !== v || x < left - 4 || x > right + 4) {
      open = false
      continue
    }
    const y = top + height - 5 - (v / most) * (height - 10)
    if (open) c.lineTo(x, y)
    else c.moveTo(x, y)
    open = true
  }
  c.stroke()
}

/** Hatched: the part is not there. The thread is covered; keys below show. */
function hatch(c: CanvasRenderingContext2D, from: number, to: number, y: number, ground: string): void {
  c.save()
  c.beginPath()
  c.rect(from, y - 6, to - from, 12)
  c.clip()
  c.fillStyle = ground
  c.fillRect(from, y - 6, to - from, 12)
  c.strokeStyle = '#8d8b86'
  c.lineWidth = 1
  c.beginPath()
  for (let x = from - 12; x < to; x += 6) {
    c.moveTo(x, y + 6)
    c.lineTo(x + 12, y - 6)
  }
  c.stroke()
  c.restore()
}
</script>

<template>
  <SheetCanvas
    :label="
      say`Frame sheet: a lane per part. Drag to scrub, drag a bead to move its key, sweep with Shift to choose a range, Ctrl and wheel to zoom.`
    "
    :rows="rows"
    :version="[
      project.version,
      carried,
      stretching,
      motion.plan,
      motion.doubtful,
      motion.measures,
      selected.range,
      runs.run?.found.size,
      followWishes.unsure,
    ]"
    :paint="paint"
    :grab="grab"
    :over="(row, x, _y, axis) => beadAt(row, x, axis) !== null || endAt(row, x, axis) === true"
    :marks="marks.marks"
    ranges
    @choose="choose"
    @range="choosesRange"
  >
    <p v-if="opened.parts.length === 0" class="absolute top-7 px-4 py-3 text-second">
      {{ say`Nothing is traced yet. Click the heel of a prop in the picture, then its tip.` }}
    </p>
  </SheetCanvas>
</template>
