<script setup lang="ts">
import { computed } from 'vue'
import { clipPlace, clipRange } from '#core/records/timing.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import SheetCanvas from '../editor/sheet/SheetCanvas.vue'
import { drawnFrames, heights, type SheetAxis, type SheetRow } from '../editor/sheet/axis.ts'
import { wordsOf, useTiming } from './timing.ts'

/** Which frame of the clip every frame of the shot shows: steeper where it runs faster, level where it stands still. */
const opened = useOpenShot()
const timing = useTiming()

const height = heights.clipPlaces
const rows = computed<SheetRow[]>(() => [
  { id: 'time', name: say`frame of the clip`, note: said.value, colour: '#b9b6ae', height, chosen: true },
])
const range = computed(() => (opened.shot ? clipRange(opened.shot) : { from: 0, to: 1 }))
const said = computed(() => say`${range.value.from} to ${range.value.to - 1}`)

function paint(c: CanvasRenderingContext2D, row: SheetRow, top: number, axis: SheetAxis): void {
  const { shot } = opened
  if (!shot) return
  const { xOf } = axis
  const { from, to } = range.value
  const yOf = (place: number) => top + 10 + (height - 20) * (1 - (place - from) / Math.max(1, to - 1 - from))
  for (const piece of timing.pieces) {
    const words = wordsOf(piece)
    if (!words) continue
    const [left, right] = [xOf(piece.at - 0.5), xOf(piece.to + 0.5)]
    c.fillStyle = '#ffffff0d'
    c.fillRect(left, top + 2, right - left, height - 4)
    c.fillStyle = '#a8a6a0'
    c.font = '12px "Atkinson Hyperlegible Next", sans-serif'
    c.textAlign = 'left'
    // Half a word says nothing: the list beside the picture has it whole.
    if (c.measureText(words).width + 10 < right - left) c.fillText(words, left + 6, top + 16)
  }
  c.strokeStyle = row.colour
  c.lineWidth = 1.6
  c.beginPath()
  for (const frame of drawnFrames(axis, opened.length)) c.lineTo(xOf(frame), yOf(clipPlace(shot, frame).frame))
  c.stroke()
}
</script>

<template>
  <SheetCanvas
    :label="say`Which frame of the clip is shown on every frame of the shot.`"
    :rows="rows"
    :version="[opened.cut]"
    :paint="paint"
    :grab="() => null"
    :over="() => false"
  />
</template>
