import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { toast } from 'vue-sonner'
import { thinned } from '#core/edits/overTime.ts'
import { outlined } from '#core/painting/outlined.ts'
import type { SeenMatte } from '#core/painting/paint.ts'
import { makeKey } from '#core/records/make.ts'
import type { Key, Member, MemberKind, Part } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import type { Box, Detected, Sought } from '#core/suggesting/detected.ts'
import {
  closerBox,
  handMatte,
  lidOutline,
  lookedAt,
  movedBy,
  personMatte,
  sameAs,
  sharedBox,
  smoothedOver,
  tilesOf,
} from '#core/suggesting/shapes.ts'
import { said, say } from '#core/say.ts'
import { useCast } from '../editor/cast.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useRuns } from '../editor/runs/runs.ts'
import { useSelection } from '../editor/selection.ts'
import { useViewing } from '../editor/viewing.ts'
import { useProject } from '../project/project.ts'
import { tell } from '../ui/troubles.ts'
import type { DetectAnswer, DetectQuestion } from './detect.worker.ts'

/** Makes a member of `rough` mattes by their frames, exact by what the picture looks like there. */
export type Adopt = (
  member: { kind: MemberKind; name: string },
  rough: ReadonlyMap<number, SeenMatte>,
  chosen: number,
  through: boolean,
) => Promise<void>

// A classic script and not a module: see the file. Started when something is looked for, and not before.
const startDetector = () => new Worker(new URL('./detect.worker.ts', import.meta.url))

/** Room around a face or a hand that is looked at from near, of its longer side. */
const nearRoom = 0.5

/** Pixels that a box to look in has at least, each way. */
const leastBox = 24

/** Pixels that a thinned key may have lain off its in-between. */
const thinnedBy = 0.8

/** What learned detectors see in a frame, offered as cast members. Nothing of them is loaded before somebody looks. */
export const useSuggesting = defineStore('suggesting', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()
  const viewing = useViewing()
  const cast = useCast()
  const selected = useSelection()
  const runs = useRuns()
  /** Makes a painted matte of rough ones: see painting. */
  let adopt: Adopt | null = null

  const wishes = useLocalStorage('wisp-suggest', {
    ...{ people: true, faces: true, hands: true, sure: 0.8, through: false, rate: 3 },
  })
  const open = ref(false)
  const busy = shallowRef<{ what: string; done: number; total: number } | null>(null)
  let wanted = true
  /** Found on one frame of one shot. */
  const found = shallowRef<{ shot: string; frame: number; all: Detected[]; cast: number } | null>(null)
  const here = computed(() =>
    open.value && found.value?.shot === opened.shotId && found.value.frame === viewing.seen ? found.value : null,
  )
  /** The part of the picture that is looked at, in plate pixels; null for all of it. */
  const area = shallowRef<Box | null>(null)
  /** Whether the next drag in the picture draws that part. */
  const drawing = ref(false)
  const shown = computed(() => (here.value?.all ?? []).filter((one) => one.confidence >= wishes.value.sure))

  const workers = new Map<Sought, Worker>()
  const waiting = new Map<number, { done: (found: Detected[]) => void; failed: (error: Error) => void }>()
  let asked = 0
  function worker(what: Sought): Worker {
    const known = workers.get(what)
    if (known) return known
    const one = startDetector()
    one.onmessage = ({ data }: MessageEvent<DetectAnswer>) => {
      const who = waiting.get(data.id)
      waiting.delete(data.id)
      if ('found' in data) who?.done(data.found)
      else who?.failed(new Refusal(data.error))
    }
    one.onerror = () => {
      for (const who of waiting.values())
        who.failed(new Refusal(say`The detector for ${what} could not be loaded. Everything else works without it.`))
      waiting.clear()
      workers.delete(what)
    }
    workers.set(what, one)
    return one
  }
  /** Frees the detectors and their memory. */
  function leave(): void {
    for (const one of workers.values()) one.terminate()
    workers.clear()
    for (const who of waiting.values()) who.failed(new Refusal(say`The detectors were put away.`))
    waiting.clear()
    found.value = busy.value = area.value = null
    drawing.value = false
  }
  watch(open, (now) => {
    if (!now) leave()
  })
  watch(
    () => opened.shotId,
    () => {
      area.value = null
      drawing.value = false
    },
  )

  /** Takes two opposite corners of the part of the picture that is to be looked at, and looks. */
  async function lookIn(a: { x: number; y: number }, b: { x: number; y: number }): Promise<void> {
    drawing.value = false
    const { width, height } = opened.media!
    const box: Box = [
      Math.max(0, Math.floor(Math.min(a.x, b.x))),
      Math.max(0, Math.floor(Math.min(a.y, b.y))),
      Math.min(width, Math.ceil(Math.max(a.x, b.x))),
      Math.min(height, Math.ceil(Math.max(a.y, b.y))),
    ]
    if (Math.min(box[2] - box[0], box[3] - box[1]) < leastBox)
      return void toast(
        say`A box of less than ${leastBox} pixels shows too little: draw it around what you look for.`,
        {
          id: 'suggest',
        },
      )
    area.value = box
    await look()
  }

  /** What is seen of something in a frame, or in a part of it. Faces and hands are looked at once more from near. */
  async function ask(what: Sought, frame: number, within: Box | null): Promise<Detected[]> {
    const yuv = await opened.pictures.decoded(frame)
    const { width, height } = opened.media!
    const seen = async (box: Box | null) => {
      const id = ++asked
      const found = await new Promise<Detected[]>((done, failed) => {
        waiting.set(id, { done, failed })
        worker(what).postMessage({ id, what, width, height, frame: yuv, box } satisfies DetectQuestion)
      })
      return box ? found.map((one) => movedBy(one, box[0], box[1])) : found
    }
    const found = await seen(within)
    if (what === 'people') return found
    // In the whole of a large picture the detectors do not see what is small.
    if (!within)
      for (const tile of tilesOf({ width, height })) {
        if (!wanted) break
        for (const one of await seen(tile)) if (!found.some((other) => isSame(one, other))) found.push(one)
      }
    const out: Detected[] = []
    for (const one of found) {
      const box = closerBox(one.box, nearRoom, { width, height })
      const near = (box && wanted && sameAs(one, await seen(box))) || one
      if (!out.some((other) => isSame(near, other))) out.push(near)
    }
    return out
  }
  const isSame = (one: Detected, other: Detected) => sharedBox(one.box, other.box) > 0.3

  /** Looks at the frame for all that is sought. */
  async function look(): Promise<void> {
    const sought = (['people', 'faces', 'hands'] as const).filter((what) => wishes.value[what])
    if (busy.value || !opened.shot || !opened.media) return
    if (sought.length === 0)
      return void toast(say`Choose what is looked for: people, faces or hands.`, { id: 'suggest' })
    playback.stop()
    const { shotId } = opened
    const { frame } = playback
    const all: Detected[] = []
    wanted = true
    try {
      for (const [i, what] of sought.entries()) {
        if (!wanted) break
        busy.value = { what, done: i, total: sought.length }
        all.push(...(await ask(what, frame, area.value)))
      }
      found.value = { shot: shotId, frame, all, cast: 0 }
      if (all.length === 0 && wanted)
        toast(
          say`No ${sought.join(', no ')} found ${area.value ? say`in this box` : say`on this frame`}. Try a frame where they are turned to the camera${area.value ? '' : say`, or draw a box around them`}.`,
          {
            id: 'suggest',
          },
        )
    } catch (error) {
      if (open.value) tell(error, say`look for shapes`, 'suggest')
    } finally {
      busy.value = null
    }
  }

  function stop(): boolean {
    if (!busy.value) return false
    wanted = false
    return true
  }

  const named: Record<Sought, { kind: MemberKind; name: string }> = {
    people: { kind: 'performer', name: say`Performer` },
    faces: { kind: 'eye', name: say`Face` },
    hands: { kind: 'hand', name: say`Hand` },
  }

  /** Makes a cast member of what was found, on this frame or through the shot, as the wishes say. */
  async function take(one: Detected): Promise<void> {
    if (busy.value || runs.run || !found.value) return
    const { frame } = found.value
    const { what } = one
    wanted = true
    try {
      const over = wishes.value.through ? await throughShot(one, frame) : new Map([[frame, one]])
      const size = { width: opened.media!.width, height: opened.media!.height }
      if (what === 'people') {
        const mattes = mapped(over, (seen) => {
          const raster = personMatte(seen, size)
          return raster && { raster, confidence: seen.confidence }
        })
        await adopt?.(named.people, mattes, frame, wishes.value.through)
      } else if (what === 'hands') {
        const mattes = mapped(over, (seen) => handMatte(seen, size))
        keep(what, over, [{ name: 'hand', shapes: outlined(mattes, frame, 2) }])
      } else
        keep(
          what,
          over,
          (['right eye', 'left eye'] as const).map((name) => ({
            name,
            shapes: mapped(over, (seen) => lidOutline(seen, name)),
          })),
        )
      if (found.value) {
        const { all, cast: before } = found.value
        found.value = { ...found.value, all: all.filter((other) => other !== one), cast: before + 1 }
      }
    } catch (error) {
      if (open.value) tell(error, say`look for shapes`, 'suggest')
    } finally {
      busy.value = null
    }
  }

  /** The same one on frames of the whole shot, from its own outwards: each is looked for near where it was last. */
  async function throughShot(one: Detected, frame: number): Promise<Map<number, Detected>> {
    const every = Math.max(1, Math.round(opened.media!.rate / wishes.value.rate))
    const frames = lookedAt(frame, opened.length, every)
    const over = new Map([[frame, one]])
    for (const way of [1, -1]) {
      let last = one
      for (const at of way > 0 ? frames.filter((f) => f > frame) : frames.filter((f) => f < frame).reverse()) {
        if (!wanted) return over
        busy.value = { what: say`frame ${at}`, done: over.size, total: frames.length }
        // A person seen from near lacks limbs that have left the box: only who was found in one is sought in one.
        const near = one.what === 'people' && !area.value ? null : closerBox(last.box, 1, opened.media!)
        let next = sameAs(last, await ask(one.what, at, near))
        if (!next && near) next = sameAs(last, await ask(one.what, at, null))
        if (!next || next.confidence < wishes.value.sure) continue
        over.set(at, next)
        last = next
      }
    }
    return over
  }

  /** One commit: a member with an outline part for each, smoothed and thinned to keys that a hand can edit. */
  function keep(
    what: Sought,
    over: ReadonlyMap<number, Detected>,
    outlines: { name: string; shapes: Map<number, number[]> }[],
  ): void {
    let member: Member | null = null
    const put: (Member | Part | Key)[] = []
    for (const [i, { name, shapes }] of outlines.entries()) {
      if (shapes.size === 0) continue
      const made = cast.freshPart(member, named[what], { name: said(name), kind: 'outline' })
      const part = { ...made.part, order: i + 1 }
      put.push(...made.fresh.map((record) => (record.type === 'part' ? part : record)))
      member ??= made.fresh.find((record) => record.type === 'member') as Member
      const keys = [...smoothedOver(shapes)]
        .map(([at, points]) => makeKey(part.id, at, points, '', over.size > 1 ? over.get(at)!.confidence : null))
        .sort((a, b) => a.frame - b.frame)
      const idle = new Set(thinned({ keys, aways: [], tween: part.tween, hold: part.hold }, thinnedBy))
      put.push(...keys.filter((key) => !idle.has(key.frame)))
    }
    if (!member) return void toast.error(say`What was found is too small to be traced; try a larger picture of it.`)
    if (project.commit(say`Take in ${member.name}`, { put, remove: [] })) {
      const first = put.find((record) => record.type === 'part') as Part
      selected.choosePart(first)
    }
  }

  /** Leaves the drawing of a box; false where none is drawn. */
  function stopDrawing(): boolean {
    const drawn = drawing.value
    drawing.value = false
    return drawn
  }

  return {
    ...{ wishes, open, busy, here, shown, area, drawing, look, lookIn, stopDrawing, take, stop, leave },
    adoptWith: (own: Adopt) => void (adopt = own),
  }
})

function mapped<T extends object>(
  over: ReadonlyMap<number, Detected>,
  of: (seen: Detected) => T | null,
): Map<number, T> {
  const out = new Map<number, T>()
  for (const [frame, seen] of over) {
    const made = of(seen)
    if (made) out.set(frame, made)
  }
  return out
}
