<script setup lang="ts">
import { computed, shallowRef } from 'vue'
import { castColour } from '../../castColours.ts'
import { useBench } from '../../stores/bench.ts'
import { useProject } from '../../stores/project.ts'
import { useTracing } from '../../stores/tracing.ts'
import type { Grip, SheetAxis, SheetRow } from './axis.ts'
import SheetCanvas from './SheetCanvas.vue'

/**
 * Beads on a thread: a lane per part. A key is a filled bead, an in-between the thread itself, a held shape a
 * dotted thread, away a hatched gap.
 */
const project = useProject()
const bench = useBench()
const tracing = useTracing()

const rows = computed<SheetRow[]>(() =>
  bench.parts.map((part) => {
    const member = project.get('member', part.member)
    return {
      ...{ id: part.id, name: part.name, owner: member?.name ?? '', colour: castColour(member?.colour ?? 0) },
      ...{ height: 28, chosen: part.id === bench.partId },
    }
  }),
)
/** A bead under the hand: the key that is being moved. */
const carried = shallowRef<{ part: string; from: number; to: number } | null>(null)

/** Frame of the key whose bead lies at a place. */
function beadAt(row: SheetRow, x: number, { xOf }: SheetAxis): number | null {
  const part = project.get('part', row.id)
  if (!part) return null
  let best: number | null = null
  for (const { frame } of bench.track(part).keys) {
    const d = Math.abs(xOf(frame) - x)
    if (d <= 7 && (best === null || d < Math.abs(xOf(best) - x))) best = frame
  }
  return best
}

function grab(row: SheetRow, x: number, _y: number, axis: SheetAxis): Grip | null {
  const from = beadAt(row, x, axis)
  const part = project.get('part', row.id)
  if (from === null || !part) return null
  carried.value = { part: row.id, from, to: from }
  bench.go(from)
  return {
    move: (toX) => {
      carried.value = { part: row.id, from, to: axis.frameAt(toX) }
    },
    drop() {
      const to = carried.value?.to ?? from
      carried.value = null
      if (to === from) return
      tracing.moveKey(part, from, to)
      bench.go(to)
    },
  }
}

function paint(c: CanvasRenderingContext2D, row: SheetRow, top: number, { xOf, perFrame }: SheetAxis): void {
  const part = project.get('part', row.id)
  if (!part) return
  const y = top + row.height / 2
  const { keys, aways } = bench.track(part)
  const line = (from: number, to: number, dotted: boolean) => {
    if (to <= from) return
    c.strokeStyle = row.colour
    c.globalAlpha = dotted ? 0.45 : 0.75
    c.lineWidth = 1.4
    c.setLineDash(dotted ? [2, 4] : [])
    c.beginPath()
    c.moveTo(xOf(from), y)
    c.lineTo(xOf(to), y)
    c.stroke()
    c.setLineDash([])
    c.globalAlpha = 1
  }
  if (keys.length) {
    const [a, b] = [keys[0]!.frame, keys.at(-1)!.frame]
    line(a, b, false)
    if (part.hold) {
      line(0, a, true)
      line(b, bench.length - 1, true)
    }
  }
  const ground = row.chosen ? '#262626' : '#1c1c1c'
  for (const range of aways) hatch(c, xOf(range.from) - perFrame / 2, xOf(range.to) + perFrame / 2, y, ground)
  const radius = Math.max(2.5, Math.min(4.5, perFrame * 0.42))
  for (const key of keys) {
    const moved = carried.value?.part === part.id && carried.value.from === key.frame
    c.fillStyle = row.colour
    c.strokeStyle = ground
    c.lineWidth = 2
    c.beginPath()
    c.arc(xOf(moved ? carried.value!.to : key.frame), y, moved ? radius + 1.5 : radius, 0, 2 * Math.PI)
    c.stroke()
    c.fill()
  }
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

function choose(row: SheetRow): void {
  const part = project.get('part', row.id)
  if (part) tracing.choosePart(part)
}
</script>

<template>
  <SheetCanvas
    label="Frame sheet: a lane per part. Drag to scrub, drag a bead to move its key, Ctrl and wheel to zoom."
    :rows="rows"
    :version="[project.version, carried]"
    :paint="paint"
    :grab="grab"
    :over="(row, x, _y, axis) => beadAt(row, x, axis) !== null"
    @choose="choose"
  >
    <p v-if="rows.length === 0" class="px-4 py-3 text-second">
      Nothing is traced yet. Click the heel of a prop in the picture, then its tip.
    </p>
  </SheetCanvas>
</template>
