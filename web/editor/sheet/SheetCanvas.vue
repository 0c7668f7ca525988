<script setup lang="ts">
import { useElementSize, useEventListener } from '@vueuse/core'
import { computed, onScopeDispose, ref, useTemplateRef, watch } from 'vue'
import { say } from '#core/say.ts'
import { attend } from '../../ui/troubles.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { type Grip, heights, type SheetAxis, type SheetRow } from './axis.ts'

/**
 * Rows against frames on a canvas, so that thousands of frames stay smooth: ruler, playhead, scrubbing, zoom with
 * Ctrl and the wheel, sideways with Shift. What lies on a row is painted and grabbed by whoever owns the rows.
 */
const props = defineProps<{
  rows: SheetRow[]
  label: string
  /** Whatever the painting depends on. */
  version: unknown
  paint: (c: CanvasRenderingContext2D, row: SheetRow, top: number, axis: SheetAxis) => void
  /** What is grabbed at a place (y within the row); null where nothing lies: the playhead goes there. */
  grab: (row: SheetRow, x: number, y: number, axis: SheetAxis, event: PointerEvent) => Grip | null
  /** Whether frames can be chosen by sweeping over them with Shift. */
  ranges?: boolean
  /** Flags on the ruler. */
  marks?: readonly { frame: number; note: string }[]
  /** Whether something can be grabbed there. */
  over: (row: SheetRow, x: number, y: number, axis: SheetAxis) => boolean
}>()
const emit = defineEmits<{
  choose: [row: SheetRow]
  /** Frames and rows that were swept over, both ends included; null where the sweep was taken back. */
  range: [range: { from: number; to: number; rows: SheetRow[] } | null]
}>()
const opened = useOpenShot()
const playback = usePlayback()
const box = useTemplateRef<HTMLElement>('box')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width, height: boxHeight } = useElementSize(box)
/** How far the rows are scrolled: the canvas stays in sight and shows the rows that lie there. */
const scrolled = ref(0)

const { ruler } = heights
const names = 170
const margin = 24
/** Frames across the visible width, from `first` on; all of them until zoomed. */
const first = ref(0)
const span = ref(0)
const height = computed(() => ruler + props.rows.reduce((sum, row) => sum + row.height, 0))
/** Where the rows that scroll begin. */
const pinned = computed(() => ruler + props.rows.reduce((sum, row) => sum + (row.pinned ? row.height : 0), 0))
const axis = computed<SheetAxis>(() => {
  const perFrame = Math.max(0.01, (width.value - names - margin) / Math.max(1, span.value - 1))
  return {
    perFrame,
    left: names,
    right: width.value,
    xOf: (frame) => names + 8 + (frame - first.value) * perFrame,
    frameAt: (x) => Math.max(0, Math.min(opened.length - 1, Math.round((x - names - 8) / perFrame + first.value))),
  }
})
watch(
  () => [opened.length, opened.shotId],
  () => {
    first.value = 0
    span.value = opened.length
  },
  { immediate: true },
)
// The chosen row comes into sight.
watch(
  () => props.rows.findIndex((row) => row.chosen),
  (index) => {
    if (index < 0 || !box.value) return
    const top = props.rows.slice(0, index).reduce((sum, row) => sum + (row.pinned ? 0 : row.height), 0)
    const bottom = top + props.rows[index]!.height
    const room = boxHeight.value - pinned.value
    if (top < scrolled.value) box.value.scrollTop = top
    else if (bottom > scrolled.value + room) box.value.scrollTop = bottom - room
  },
  // A row that has just come makes the sheet higher first.
  { flush: 'post' },
)
// The playhead stays in sight.
watch(
  () => playback.frame,
  (frame) => {
    if (frame < first.value) first.value = frame
    else if (frame > first.value + span.value - 1) first.value = frame - span.value + 1
  },
)

let held: Grip | null = null
let scrubbing = false
const grabbing = ref(false)
const hovering = ref(false)

function placeOf(event: MouseEvent): { x: number; row: SheetRow | null; y: number } {
  const { left, top } = canvas.value!.getBoundingClientRect()
  const x = event.clientX - left
  let y = event.clientY - top - ruler
  if (y < 0) return { x, row: null, y }
  if (y >= pinned.value - ruler) y += scrolled.value
  for (const row of props.rows) {
    if (y < row.height) return { x, row, y }
    y -= row.height
  }
  return { x, row: null, y }
}
function down(event: PointerEvent): void {
  if (event.button !== 0) return
  canvas.value!.setPointerCapture(event.pointerId)
  const { x, row, y } = placeOf(event)
  if (props.ranges && event.shiftKey && row && x >= names) {
    sweep = { frame: axis.value.frameAt(x), row }
    sweepTo(x, row)
    return
  }
  if (row) emit('choose', row)
  if (row && x < names) return
  playback.stop()
  held = row ? props.grab(row, x, y, axis.value, event) : null
  grabbing.value = held !== null
  if (held) return
  scrubbing = true
  playback.go(axis.value.frameAt(x))
}
function move(event: PointerEvent): void {
  const { x, row, y } = placeOf(event)
  if (sweep) sweepTo(x, row)
  else if (held) {
    const { top } = canvas.value!.getBoundingClientRect()
    held.move(x, event.clientY - top + scrolled.value)
  } else if (scrubbing) playback.go(axis.value.frameAt(x))
  else hovering.value = row !== null && x >= names && props.over(row, x, y, axis.value)
}
function up(): void {
  held?.drop()
  held = null
  sweep = null
  scrubbing = grabbing.value = false
}
let sweep: { frame: number; row: SheetRow } | null = null
function sweepTo(x: number, row: SheetRow | null): void {
  const to = axis.value.frameAt(x)
  const [a, b] = [props.rows.indexOf(sweep!.row), row ? props.rows.indexOf(row) : props.rows.length - 1]
  const rows = props.rows.slice(Math.min(a, b), Math.max(a, b) + 1)
  emit('range', { from: Math.min(sweep!.frame, to), to: Math.max(sweep!.frame, to), rows })
}
function wheel(event: WheelEvent): void {
  if (!event.ctrlKey && !event.shiftKey && event.deltaX === 0) return
  event.preventDefault()
  if (event.ctrlKey) {
    const at = axis.value.frameAt(placeOf(event).x)
    const next = Math.max(8, Math.min(opened.length, Math.round(span.value * 1.2 ** Math.sign(event.deltaY))))
    first.value = at - ((at - first.value) * next) / span.value
    span.value = next
  } else first.value += Math.sign(event.deltaX || event.deltaY) * Math.max(1, span.value / 12)
  first.value = Math.round(Math.max(0, Math.min(opened.length - span.value, first.value)))
}
useEventListener(canvas, 'wheel', wheel, { passive: false })

let asked = 0
/** Once before the screen is painted, however much has changed until then. */
function drawSoon(): void {
  if (asked) return
  asked = requestAnimationFrame(() => {
    asked = 0
    draw()
  })
}
onScopeDispose(() => cancelAnimationFrame(asked))

function draw(): void {
  const target = canvas.value
  if (!target || width.value < 2 || boxHeight.value < 2) return
  const ratio = window.devicePixelRatio || 1
  const [w, h] = [Math.round(width.value * ratio), Math.round(boxHeight.value * ratio)]
  if (target.width !== w || target.height !== h) {
    target.width = w
    target.height = h
  }
  const c = target.getContext('2d')!
  c.setTransform(ratio, 0, 0, ratio, 0, 0)
  c.fillStyle = '#1c1c1c'
  c.fillRect(0, 0, width.value, boxHeight.value)
  // Only the rows in sight: sixty lanes of thousands of frames stay as quick as six.
  let top = pinned.value - scrolled.value
  for (const row of props.rows) {
    if (row.pinned) continue
    if (top + row.height > pinned.value && top < boxHeight.value) drawRow(c, row, top)
    top += row.height
  }
  top = ruler
  for (const row of props.rows) {
    if (!row.pinned) break
    c.fillStyle = '#1c1c1c'
    c.fillRect(0, top, width.value, row.height)
    drawRow(c, row, top)
    top += row.height
  }
  drawRuler(c)
}

function drawRow(c: CanvasRenderingContext2D, row: SheetRow, top: number): void {
  if (row.chosen) {
    c.fillStyle = '#262626'
    c.fillRect(0, top, width.value, row.height)
  }
  c.save()
  c.beginPath()
  c.rect(names, row.pinned ? top : Math.max(pinned.value, top), width.value, row.height)
  c.clip()
  props.paint(c, row, top, axis.value)
  c.restore()
  drawName(c, row, top)
}

function drawName(c: CanvasRenderingContext2D, row: SheetRow, top: number): void {
  const y = row.note ? top + 18 : top + row.height / 2
  c.fillStyle = row.colour
  c.beginPath()
  c.arc(20, y, 4.5, 0, 2 * Math.PI)
  c.fill()
  c.textAlign = 'left'
  c.textBaseline = 'middle'
  c.font = `${row.chosen ? 600 : 400} 13px "Atkinson Hyperlegible Next Variable", sans-serif`
  c.fillStyle = row.chosen ? '#ebe9e4' : '#a8a6a0'
  c.fillText(row.name, 34, y, names - 44)
  if (row.owner) {
    const left = 34 + c.measureText(row.name).width + 8
    c.font = '400 12px "Atkinson Hyperlegible Next Variable", sans-serif'
    c.fillStyle = '#8d8b86'
    c.save()
    c.beginPath()
    c.rect(left, top, names - 8 - left, row.height)
    c.clip()
    c.fillText(row.owner, left, y)
    c.restore()
  }
  if (!row.note) return
  c.font = '400 12px "Atkinson Hyperlegible Next Variable", sans-serif'
  c.fillStyle = '#8d8b86'
  c.fillText(row.note, 34, y + 18, names - 44)
}

/** Numbers beside the playhead give way to its own; the strip alone is drawn anew as it moves. */
function drawRuler(c: CanvasRenderingContext2D): void {
  c.fillStyle = '#1c1c1c'
  c.fillRect(0, 0, width.value, ruler)
  const { xOf, perFrame } = axis.value
  c.font = '11px "Atkinson Hyperlegible Mono Variable", monospace'
  c.textAlign = 'center'
  c.textBaseline = 'middle'
  const room = Math.max(46, 8 * String(opened.length).length + 14)
  let every = [1, 2, 5, 10, 12, 24, 48, 120, 240, 480, 1200].find((n) => n * perFrame >= room) ?? 2400
  while (every * perFrame < room) every *= 2
  for (
    let f = Math.ceil(first.value / every) * every;
    f <= Math.min(opened.length - 1, first.value + span.value);
    f += every
  ) {
    if (Math.abs(xOf(f) - xOf(playback.frame)) < Math.max(24, room - 14)) continue
    c.fillStyle = '#8d8b86'
    c.fillText(String(f), xOf(f), ruler / 2)
  }
  for (const mark of props.marks ?? []) {
    const x = xOf(mark.frame)
    c.fillStyle = '#ebe9e4'
    c.beginPath()
    c.moveTo(x - 4, 2)
    c.lineTo(x + 4, 2)
    c.lineTo(x + 4, 8)
    c.lineTo(x, 12)
    c.lineTo(x - 4, 8)
    c.fill()
  }
  if (playback.playIn > 0 || playback.playOut < opened.length - 1) {
    c.fillStyle = 'rgb(185 242 154 / 0.35)'
    c.fillRect(xOf(playback.playIn), ruler - 3, xOf(playback.playOut) - xOf(playback.playIn), 2)
  }
}

watch(
  () => playback.frame,
  () => {
    const c = canvas.value?.getContext('2d')
    if (c) drawRuler(c)
  },
  { flush: 'post' },
)

/** The playhead lies over the canvas, so that playing does not draw all rows anew. */
const playhead = computed(() => {
  const { xOf, perFrame } = axis.value
  return { x: xOf(playback.frame), width: Math.max(2, Math.min(10, perFrame)) }
})
watch(
  () => [
    props.version,
    props.rows,
    playback.playIn,
    playback.playOut,
    axis.value,
    height.value,
    boxHeight.value,
    scrolled.value,
    props.marks,
  ],
  drawSoon,
)
// A canvas does not wait for fonts: they are asked for, and all is drawn anew when they are there.
const fonts = ['400 13px "Atkinson Hyperlegible Next Variable"', '400 11px "Atkinson Hyperlegible Mono Variable"']
attend(Promise.all(fonts.map((font) => document.fonts?.load(font))).then(drawSoon), say`load the typefaces`)
</script>

<template>
  <div
    ref="box"
    class="scroll-thin relative min-h-0 flex-1 overflow-x-hidden overflow-y-auto bg-panel"
    @scroll="scrolled = ($event.target as HTMLElement).scrollTop"
  >
    <div class="relative" :style="{ height: `${Math.max(height, boxHeight)}px` }">
      <div class="sticky top-0 overflow-hidden" :style="{ height: `${boxHeight}px` }">
        <canvas
          ref="canvas"
          class="block size-full"
          :class="grabbing ? 'cursor-grabbing' : hovering ? 'cursor-grab' : 'cursor-default'"
          role="img"
          data-testid="sheet"
          :aria-label="label"
          @pointerdown="down"
          @pointermove="move"
          @pointerup="up"
          @pointercancel="up"
          @pointerleave="hovering = false"
        />
        <div
          class="pointer-events-none absolute top-0 left-0 h-full will-change-transform"
          :style="{ transform: `translateX(${playhead.x}px)` }"
          aria-hidden="true"
        >
          <span
            class="absolute top-[22px] bottom-0 -translate-x-1/2 bg-wisp/20"
            :style="{ width: `${playhead.width}px` }"
          />
          <span class="absolute top-[5px] -translate-x-1/2">
            <span
              class="numbers flex h-4 min-w-[18px] items-center justify-center rounded-[4px] bg-wisp px-1 text-[11px] text-on-wisp"
              >{{ playback.frame }}</span
            >
          </span>
        </div>
      </div>
      <slot />
    </div>
  </div>
</template>
