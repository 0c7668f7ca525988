import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { toast } from 'vue-sonner'
import type { Finding } from '#core/motion/checks.ts'
import type { Proposal } from '#core/motion/keyPlan.ts'
import type { Measures } from '#core/motion/measures.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { started, type Started } from '../frames/worker.ts'
import { useProject } from '../project/project.ts'
import { attend, sentenceOf } from '../ui/troubles.ts'
import type { MotionWorker } from './motion.worker.ts'
import { useOpenShot } from './openShot.ts'
import { usePlayback } from './playback.ts'
import { followWishes } from './runs/followWishes.ts'
import { useSelection } from './selection.ts'

/** Bytes that the brightness of a shot's frames may take: at half size 300 frames of 720p, then at quarter size. */
const budget = 70e6
/** How long after a change the checks are made anew, in ms: the plan answers at once, the list may follow. */
const checksAfter = 350
const planAfter = 60
const doing = say`read the motion`

const startMotion = () =>
  started<MotionWorker>(
    new Worker(new URL('./motion.worker.ts', import.meta.url), { type: 'module' }),
    say`read the motion`,
  )

/** What the traced motion of the open shot says: speed, key plan, findings. Computed in a worker. */
export const useMotion = defineStore('motion', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()
  const selected = useSelection()
  let started: Started<MotionWorker> | null = null
  let shot = ''
  let reading = 0

  const plan = shallowRef<Proposal[]>([])
  const found = shallowRef<Finding[]>([])
  const measures = shallowRef<Measures | null>(null)
  /** Share of the shot's pictures that were read. */
  const read = ref(0)
  /** Why no more pictures are read, in a sentence; empty while all is well. */
  const trouble = ref('')

  /** Frames worth a look by part, for the sheet. */
  const doubtful = computed(() => {
    const out = new Map<string, Finding[]>()
    for (const one of found.value) out.set(one.part, [...(out.get(one.part) ?? []), one])
    return out
  })

  /** Frames that findings name, of the chosen part where it has any, else of all; in their order. */
  function doubtfulFrames(): number[] {
    const own = found.value.filter((one) => one.part === selected.partId)
    const frames = (own.length ? own : found.value)
      .filter((one) => one.kind !== 'unkeyed')
      .flatMap(({ frame, to }) => Array.from({ length: Math.max(1, to - frame + 1) }, (_, i) => frame + i))
    return [...new Set(frames)].sort((a, b) => a - b)
  }

  /** Starts on the open shot; called by the views that show what comes of it. */
  function start(): void {
    if (!opened.shotId || !opened.shot || !opened.media) return
    if (shot === opened.cut && started) return
    stop()
    shot = opened.cut
    started = startMotion()
    const { width, height } = opened.media
    const reduce = (width * height * opened.length) / 4 <= budget ? 2 : 4
    attend(started.remote.start([...project.records()!.values()], opened.shotId, reduce), doing)
    attend(readPictures(++reading, reduce), doing)
    refreshSoon(0)
    checkSoon()
  }
  function stop(): void {
    reading++
    started?.stop()
    started = null
    shot = ''
    read.value = 0
    trouble.value = ''
    plan.value = []
    found.value = []
    measures.value = null
  }

  /** Reads the shot's pictures one after the other, as long as nobody waits for the decoder. */
  async function readPictures(turn: number, reduce: 2 | 4): Promise<void> {
    const { remote } = started!
    for (let frame = 0; frame < opened.length; frame++) {
      while (turn === reading && !opened.trouble && (playback.playing || opened.pictures.isBusy())) await pause(60)
      if (turn !== reading) return
      try {
        if (opened.trouble) throw new Refusal(opened.trouble)
        await remote.learn(frame, await opened.pictures.decoded(frame, reduce))
      } catch (error) {
        // The plan goes by what was read until now, and says so.
        if (turn === reading) trouble.value = sentenceOf(error, doing)
        return
      }
      if (turn !== reading) return
      read.value = (frame + 1) / opened.length
      if (frame % 24 === 23 || frame === opened.length - 1) refreshSoon(0)
    }
    checkSoon()
  }

  /** Frames of the plan that were looked at and left as they were, by part: they are not proposed again. */
  const looked = new Map<string, Set<number>>()
  /** Where the plan last led to. */
  let led: { part: string; frame: number } | null = null
  function lookedAt(part: string): Set<number> {
    let frames = looked.get(part)
    if (!frames) looked.set(part, (frames = new Set()))
    return frames
  }
  /** A changed key changes what lies between its neighbours: that deserves another look. */
  function lookAgain(part: string, frame: number): void {
    const looked = lookedAt(part)
    if (looked.size === 0) return
    let [before, after] = [-Infinity, Infinity]
    for (const key of project.childrenOf('key', part)) {
      if (key.frame < frame) before = Math.max(before, key.frame)
      if (key.frame > frame) after = Math.min(after, key.frame)
    }
    for (const f of looked) if (f > before && f < after) looked.delete(f)
  }

  let asked = 0
  let planned: ReturnType<typeof setTimeout> | undefined
  function refreshSoon(ms: number): void {
    clearTimeout(planned)
    planned = setTimeout(() => attend(refresh(), doing), ms)
  }
  /** Computes the plan and the speed of the chosen part anew; gives the plan as it is now. */
  async function refresh(): Promise<Proposal[]> {
    const turn = ++asked
    const { remote } = started ?? {}
    const part = selected.partId
    if (!remote || !part) {
      plan.value = []
      measures.value = null
      return []
    }
    const [all, measured] = await Promise.all([remote.plan(part), remote.measures(part)])
    const proposals = all.filter((one) => !lookedAt(part).has(one.frame))
    // A later question may have been answered meanwhile: what is shown stays the latest.
    if (turn === asked && started) {
      plan.value = proposals
      measures.value = measured
    }
    return proposals
  }
  const setFound = (list: Finding[]) => {
    found.value = list
  }
  let soon: ReturnType<typeof setTimeout> | undefined
  function checkSoon(): void {
    clearTimeout(soon)
    soon = setTimeout(() => {
      if (started) attend(started.remote.checks(followWishes.value.unsure).then(setFound), doing)
    }, checksAfter)
  }

  project.subscribe((diff, inverse) => {
    if (!started) return
    for (const record of [...diff.put, ...inverse.put]) if (record.type === 'key') lookAgain(record.part, record.frame)
    attend(started.remote.apply(diff), doing)
    // Nudges come many a second: the plan is made for the last of them.
    refreshSoon(planAfter)
    checkSoon()
  })
  watch(
    () => selected.partId,
    () => refreshSoon(0),
  )
  watch(() => followWishes.value.unsure, checkSoon)
  watch(
    () => opened.cut,
    () => started && (stop(), start()),
  )

  /** Goes to the frame that deserves a key most, with everything that was changed until now taken into account. */
  async function goToPlanned(): Promise<boolean> {
    if (led?.part === selected.partId && led.frame === playback.frame) lookedAt(led.part).add(led.frame)
    const other = (one: Proposal) => one.frame !== playback.frame
    let next = (await refresh()).find(other)
    // While pictures are still being read, more may come: that takes a moment only.
    const turn = reading
    while (!next && read.value < 1 && !trouble.value && turn === reading && started) {
      await pause(100)
      next = plan.value.find(other)
    }
    next ??= plan.value.find(other)
    if (!next) {
      if (trouble.value)
        toast.error(say`The plan knows only what was read of the clip. ${trouble.value}`, { id: 'plan' })
      else toast(say`The plan has nothing more to propose here: play it and look.`, { id: 'plan' })
      return false
    }
    playback.stop()
    playback.go(next.frame)
    led = { part: selected.partId, frame: next.frame }
    return true
  }
  /** Goes to the next or previous frame worth a look, and chooses its part. */
  function goToFinding(way: 1 | -1): Finding | null {
    const list = way > 0 ? found.value : [...found.value].reverse()
    const next = list.find((one) => (one.frame - playback.frame) * way > 0)
    return next ?? null
  }

  return {
    plan,
    found,
    doubtful,
    doubtfulFrames,
    measures,
    read,
    start,
    stop,
    refresh,
    goToPlanned,
    goToFinding,
    seriesOf,
    needless,
  }

  /** See the worker's; an earlier change of a key is taken into account. */
  async function needless(...asked: Parameters<MotionWorker['needless']>): Promise<number[]> {
    start()
    return (await started?.remote.needless(...asked)) ?? []
  }

  async function seriesOf(part: string): Promise<Measures | null> {
    return (await started?.remote.measures(part)) ?? null
  }
})

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))
