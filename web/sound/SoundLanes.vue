<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'
import type { HeardMoment } from '#core/motion/beads.ts'
import { momentSources, type MomentSource } from '#core/motion/momentSources.ts'
import { type Drive, freshDrive } from '#core/parameters/drives.ts'
import { isDrive } from '#core/parameters/parameters.ts'
import type { FrameRange, Sound } from '#core/records/types.ts'
import { barSize } from '#core/sound/overview.ts'
import { say } from '#core/say.ts'
import { useHearing } from '../editor/hearing.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import SheetCanvas from '../editor/sheet/SheetCanvas.vue'
import { drawnFrames, type Grip, type SheetAxis, type SheetRow } from '../editor/sheet/axis.ts'
import { useMarks } from '../editor/sheet/marks.ts'
import { useProject } from '../project/project.ts'
import { useSounds } from './sounds.ts'

/**
 * A lane per sound: its waveform against the frames, the signal of the motion that it hangs on behind it, beads at its moments;
 * of what is there through, its ends and fades as handles.
 */
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const hearing = useHearing()
const sounds = useSounds()
const marks = useMarks()

const height = 58
const middle = height / 2
const soundOf = (row: SheetRow) => hearing.sounds.find((one) => one.id === row.id)!
const heard = (sound: Sound) => (hearing.alone.length ? hearing.alone.includes(sound.id) : sound.on)
function noteOf(sound: Sound): string {
  if (!sound.on) return 'muted'
  if (hearing.alone.includes(sound.id)) return say`heard alone`
  if (sound.way === 'through') return sound.range ? say`frames ${sound.range.from} to ${sound.range.to}` : say`through`
  const count = momentsOf(sound).filter((one) => !one.muted).length
  return `${count} ${count === 1 ? say`moment` : say`moments`}`
}
const rows = computed<SheetRow[]>(() =>
  hearing.sounds.map((sound) => ({
    ...{ id: sound.id, name: hearing.titleOf(sound), note: noteOf(sound), height },
    colour: sounds.colourOf(sound),
    chosen: sound.id === sounds.chosenId,
  })),
)
const momentsOf = (sound: Sound): readonly HeardMoment[] => hearing.views.get(sound.id)?.moments ?? []

/** What a hand holds: a moment on its way, or a range. */
const held = shallowRef<{ id: string; moment?: HeardMoment; frame?: number; range?: FrameRange } | null>(null)
/** The moment that was taken last; by its place in time, so that it is found again after a change. */
const chosen = shallowRef<{ id: string; frame: number } | null>(null)
const chosenMoment = computed(() => {
  const at = chosen.value
  const sound = at && hearing.sounds.find((one) => one.id === at.id)
  const moment = sound && momentsOf(sound).find((one) => Math.abs(one.frame - at.frame) < 0.5)
  return sound && moment ? { sound, moment } : null
})
watch(
  () => opened.shotId,
  () => {
    chosen.value = held.value = null
  },
)

/** The signal that a lane hangs on: the speed that its moments come from, or that of its first driven number. */
function signalOf(sound: Sound): Drive | null {
  const { needs } = momentSources[sound.source as MomentSource]
  if (sound.way === 'moments' && sound.target && needs !== 'nobody') {
    const rod = project.childrenOf('part', sound.target).some((part) => part.kind === 'rod')
    return { ...freshDrive({ min: 0, max: 1, default: 1 }, sound.target), signal: rod ? 'tipSpeed' : 'speed' }
  }
  return Object.values(sound.settings).find(isDrive) ?? null
}
const series = shallowRef(new Map<string, { input: Float64Array; low: number; high: number }>())
watch(
  [() => hearing.sounds, () => project.version, () => opened.shotId, () => opened.readings, () => hearing.views],
  async () => {
    const list = hearing.sounds
    const found = await Promise.all(
      list.map(async (sound) => {
        const drive = signalOf(sound)
        if (!drive) return null
        const { input } = await opened.pictures.series(drive)
        let [low, high] = [Infinity, -Infinity]
        for (const value of input)
          if (!Number.isNaN(value)) {
            if (value < low) low = value
            if (value > high) high = value
          }
        return { input, low, high }
      }),
    )
    if (list === hearing.sounds)
      series.value = new Map(list.flatMap((sound, i) => (found[i] ? [[sound.id, found[i]] as const] : [])))
  },
  { immediate: true },
)

const whole = computed<FrameRange>(() => ({ from: 0, to: opened.length - 1, fadeIn: 0, fadeOut: 0 }))
const rangeOf = (sound: Sound): FrameRange =>
  (held.value?.id === sound.id && held.value.range) || (sound.range ?? whole.value)

type Handle = 'from' | 'to' | 'fadeIn' | 'fadeOut' | 'whole'
function handlesOf(sound: Sound, axis: SheetAxis): { x: number; y: number; what: Handle }[] {
  if (sound.way !== 'through') return []
  const { from, to, fadeIn, fadeOut } = rangeOf(sound)
  // Whole within the sheet, also where the shot ends at its rim.
  const xOf = (frame: number) => Math.min(axis.right - 6, axis.xOf(frame))
  return [
    { x: xOf(from + fadeIn), y: 9, what: 'fadeIn' },
    { x: xOf(to + 1 - fadeOut), y: 9, what: 'fadeOut' },
    { x: xOf(from), y: middle, what: 'from' },
    { x: xOf(to + 1), y: middle, what: 'to' },
  ]
}
const beadAt = (sound: Sound, x: number, { xOf }: SheetAxis) =>
  momentsOf(sound)
    .map((moment) => ({ moment, away: Math.abs(xOf(moment.frame) - x) }))
    .filter(({ away }) => away <= 9)
    .sort((a, b) => a.away - b.away)[0]?.moment ?? null
function handleAt(sound: Sound, x: number, y: number, axis: SheetAxis): Handle | null {
  const handles = handlesOf(sound, axis)
  const near = handles.find((one) => Math.abs(one.x - x) <= 8 && Math.abs(one.y - y) <= (one.y === 9 ? 9 : 14))
  if (near) return near.what
  // The line between the fades of the chosen lane carries all of it.
  const [comes, goes] = handles
  const onLine = sound.id === sounds.chosenId && comes && goes && x > comes.x && x < goes.x && y < 16
  return onLine ? 'whole' : null
}

const rawAt = (x: number, axis: SheetAxis) => (x - axis.xOf(0)) / axis.perFrame
/** A mark, or a moment of any sound but the one that is held, within 6 px of a frame; null where there is none. */
function nearby(raw: number, { perFrame }: SheetAxis, held?: HeardMoment): number | null {
  const near = [
    ...marks.marks.map((mark) => mark.frame),
    ...hearing.sounds.flatMap((one) => momentsOf(one).flatMap((other) => (other === held ? [] : other.frame))),
  ].filter((frame) => Math.abs(frame - raw) * perFrame < 6)
  return near.sort((a, b) => Math.abs(a - raw) - Math.abs(b - raw))[0] ?? null
}
/** Where a bead goes: to a whole frame, or to a mark or another moment nearby; freely with Alt. */
function snapped(moment: HeardMoment, x: number, axis: SheetAxis, free: boolean): number {
  const raw = Math.max(0, Math.min(opened.length - 1, rawAt(x, axis)))
  return free ? Math.round(raw * 100) / 100 : (nearby(raw, axis, moment) ?? Math.round(raw))
}

function grab(row: SheetRow, x: number, y: number, axis: SheetAxis, event: PointerEvent): Grip | null {
  const sound = soundOf(row)
  const handle = handleAt(sound, x, y, axis)
  if (handle) return grabRange(sound, handle, x, axis)
  const moment = sound.way === 'moments' ? beadAt(sound, x, axis) : null
  chosen.value = moment && { id: sound.id, frame: moment.frame }
  if (!moment) return null
  const grabbedAt = x
  let moved = false
  return {
    move(toX) {
      moved ||= Math.abs(toX - grabbedAt) > 3
      if (moved) held.value = { id: sound.id, moment, frame: snapped(moment, toX, axis, event.altKey) }
    },
    drop() {
      const frame = held.value?.frame
      held.value = null
      if (frame === undefined) return playback.go(moment.frame)
      chosen.value = { id: sound.id, frame }
      sounds.changeMoment(sound.id, moment, { frame }, say`Put a moment at frame ${frame}`)
    },
  }
}
/** Ends and fades go to whole frames, and to a mark or a moment nearby. */
function grabRange(sound: Sound, what: Handle, grabbedAt: number, axis: SheetAxis): Grip {
  const before = rangeOf(sound)
  const last = opened.length - 1
  return {
    move(x) {
      const raw = rawAt(x, axis)
      const end = Math.max(0, Math.min(last + 1, Math.round(nearby(raw, axis) ?? raw)))
      const frame = Math.min(end, last)
      const next = { ...before }
      if (what === 'whole') {
        const by = Math.round((x - grabbedAt) / axis.perFrame)
        // What goes on to the end of the shot goes on to it from wherever it begins.
        const open = before.to === last
        next.from += Math.max(-before.from, Math.min(open ? last - before.from : last - before.to, by))
        if (!open) next.to += next.from - before.from
      }
      if (what === 'from') next.from = Math.min(frame, before.to)
      if (what === 'to') next.to = Math.max(before.from, Math.min(last, end - 1))
      const length = next.to + 1 - next.from
      if (what === 'fadeIn') next.fadeIn = end - next.from
      if (what === 'fadeOut') next.fadeOut = next.to + 1 - end
      next.fadeIn = Math.max(0, Math.min(length, next.fadeIn))
      next.fadeOut = Math.max(0, Math.min(length, next.fadeOut))
      held.value = { id: sound.id, range: next }
    },
    drop() {
      const range = held.value?.range
      held.value = null
      if (range && JSON.stringify(range) !== JSON.stringify(before)) sounds.setRange(sound.id, range, what === 'whole')
    },
  }
}

function paint(c: CanvasRenderingContext2D, row: SheetRow, top: number, axis: SheetAxis): void {
  const sound = soundOf(row)
  const { left, right } = axis
  c.save()
  c.beginPath()
  c.rect(left, top, right - left, height)
  c.clip()
  if (!heard(sound)) c.globalAlpha = 0.35
  paintSignal(c, sound, top, axis)
  paintWave(c, sound, row.colour, top, axis)
  paintRange(c, sound, top, axis)
  paintBeads(c, sound, row.colour, top, axis)
  c.restore()
  c.strokeStyle = '#2e2e2e'
  c.lineWidth = 1
  c.beginPath()
  c.moveTo(left, top + height - 0.5)
  c.lineTo(right, top + height - 0.5)
  c.stroke()
}
function paintSignal(c: CanvasRenderingContext2D, sound: Sound, top: number, axis: SheetAxis): void {
  const { input, low, high } = series.value.get(sound.id) ?? { low: 0, high: 0 }
  if (!input || !(high > low)) return
  c.strokeStyle = '#55544f'
  c.lineWidth = 1
  c.beginPath()
  let drawing = false
  for (const f of drawnFrames(axis, input.length)) {
    const value = input[f]!
    const y = top + height - 8 - ((value - low) / (high - low)) * (height - 16)
    if (Number.isNaN(value)) drawing = false
    else if (drawing) c.lineTo(axis.xOf(f), y)
    else {
      c.moveTo(axis.xOf(f), y)
      drawing = true
    }
  }
  c.stroke()
}
/** A line per pixel as high as the loudest under it; what is quiet is drawn larger than it is. */
function paintWave(
  c: CanvasRenderingContext2D,
  sound: Sound,
  colour: string,
  top: number,
  { xOf, perFrame, left, right }: SheetAxis,
): void {
  const bars = hearing.bars.get(sound.id)
  const { clock } = hearing
  if (!bars || !clock) return
  c.fillStyle = colour
  const barOf = (x: number) => clock.sampleOf((x - xOf(0)) / perFrame) / barSize
  for (let x = left; x < right; x += 2) {
    const most = bars.most(barOf(x), barOf(x + 2))
    if (most < 0.0005) continue
    const half = Math.max(0.5, Math.min(1, most ** 0.6) * (middle - 6))
    c.fillRect(x, top + middle - half, 1.2, 2 * half)
  }
}
function paintRange(c: CanvasRenderingContext2D, sound: Sound, top: number, axis: SheetAxis): void {
  if (sound.way !== 'through' || sound.id !== sounds.chosenId) return
  const { xOf, left, right } = axis
  const { from, to, fadeIn, fadeOut } = rangeOf(sound)
  const [a, b] = [xOf(from), xOf(to + 1)]
  c.fillStyle = 'rgb(19 19 19 / 0.55)'
  c.fillRect(left, top, Math.max(0, a - left), height)
  c.fillRect(b, top, Math.max(0, right - b), height)
  c.strokeStyle = '#ebe9e4'
  c.lineWidth = 1
  c.beginPath()
  c.moveTo(a, top + height - 4)
  c.lineTo(xOf(from + fadeIn), top + 9)
  c.lineTo(xOf(to + 1 - fadeOut), top + 9)
  c.lineTo(b, top + height - 4)
  c.stroke()
  for (const { x, y } of handlesOf(sound, axis)) {
    c.fillStyle = '#1c1c1c'
    c.beginPath()
    if (y === 9) c.arc(x, top + y, 4, 0, 2 * Math.PI)
    else c.roundRect(x - 2.5, top + y - 9, 5, 18, 2)
    c.fill()
    c.stroke()
  }
}
function paintBeads(c: CanvasRenderingContext2D, sound: Sound, colour: string, top: number, { xOf }: SheetAxis): void {
  if (sound.way !== 'moments') return
  for (const moment of momentsOf(sound)) {
    const carried = held.value?.id === sound.id && held.value.moment === moment
    const frame = carried ? held.value!.frame! : moment.frame
    const x = xOf(frame)
    const mine = chosen.value?.id === sound.id && Math.abs(chosen.value.frame - frame) < 0.5
    c.strokeStyle = moment.muted ? '#8d8b86' : '#1c1c1c'
    c.fillStyle = moment.muted ? '#1c1c1c' : mine || carried ? '#b9f29a' : colour
    c.lineWidth = 2
    c.beginPath()
    c.arc(x, top + middle, 6, 0, 2 * Math.PI)
    c.stroke()
    c.fill()
    // What a hand has put somewhere, or named, is told apart from what the motion has.
    if (!moment.muted && (moment.bead >= 0 || moment.at === null)) {
      c.fillStyle = '#1c1c1c'
      c.beginPath()
      c.arc(x, top + middle, 2, 0, 2 * Math.PI)
      c.fill()
    }
  }
}
const over = (row: SheetRow, x: number, y: number, axis: SheetAxis) => {
  const sound = soundOf(row)
  return handleAt(sound, x, y, axis) !== null || (sound.way === 'moments' && beadAt(sound, x, axis) !== null)
}
const version = computed(() => [
  ...[hearing.bars, hearing.views, series.value, held.value, chosen.value, sounds.chosenId, hearing.alone],
])

defineExpose({
  chosenMoment,
  /** Takes the chosen moment away; false where none is chosen. */
  removeMoment(): boolean {
    if (!chosenMoment.value) return false
    sounds.removeMoment(chosenMoment.value.sound.id, chosenMoment.value.moment)
    return true
  },
})
</script>

<template>
  <SheetCanvas
    :rows="rows"
    :label="say`Sounds against frames`"
    :version="version"
    :paint="paint"
    :grab="grab"
    :over="over"
    :marks="marks.marks"
    @choose="sounds.chosenId = $event.id"
  />
</template>
