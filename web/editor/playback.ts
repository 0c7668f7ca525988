import { defineStore } from 'pinia'
import { ref, watch } from 'vue'
import { say } from '#core/say.ts'
import { attend } from '../ui/troubles.ts'
import { useOpenShot } from './openShot.ts'
import { PictureClock, type HeardClock } from './pictureClock.ts'

/**
 * Who sounds while the picture plays. `ready` resolves when it can begin at once; `begin` gives what is heard from then on, or null
 * where nothing is. `shown`: the second that the picture shows meanwhile.
 */
export interface Sounding {
  ready(frame: number): Promise<boolean>
  begin(frame: number, from: number, to: number, loops: boolean, shown: () => number): Promise<HeardClock | null>
  end(): void
}

/** Milliseconds for which a frame is looked at. */
const lookTime = 250

/** The playhead of the open shot, and playing. */
export const usePlayback = defineStore('playback', () => {
  const opened = useOpenShot()
  const frame = ref(0)
  /** Frames that the playhead goes on after a key; 0 for the next frame of the key plan. */
  const stepSize = ref(1)
  const loop = ref(true)
  /** First and last frame that is played, inclusive. */
  const playIn = ref(0)
  const playOut = ref(0)
  const playing = ref(false)
  let ticking = 0
  let turn = 0

  watch(
    () => opened.shotId,
    () => {
      stop()
      frame.value = 0
    },
    { flush: 'sync' },
  )
  // A shot that was cut anew is played as a whole again, like one that was just opened.
  watch(
    () => opened.cut,
    () => {
      stop()
      playIn.value = 0
      playOut.value = Math.max(0, opened.length - 1)
      frame.value = Math.min(frame.value, playOut.value)
    },
    { flush: 'sync', immediate: true },
  )

  function go(to: number): void {
    frame.value = Math.max(0, Math.min(opened.length - 1, Math.round(to)))
  }
  const stepBy = (count: number) => {
    stop()
    go(frame.value + count)
  }

  let sounding: Sounding | null = null
  const hear = (one: Sounding) => {
    sounding = one
  }

  function play(): void {
    if (opened.length < 2 || playing.value) return
    playing.value = true
    if (frame.value < playIn.value || frame.value >= playOut.value) frame.value = playIn.value
    const at = (f: number) => opened.shown[f] ?? 0
    const end = () => at(playOut.value + 1)
    const round = () => (loop.value ? { from: at(playIn.value), to: end() } : null)
    const clock = new PictureClock(() => performance.now() / 1000, at(frame.value))
    // The picture begins at once; the sound comes in where the picture is by then.
    const sound = async () => {
      const mine = ++turn
      clock.heard = null
      clock.go(at(frame.value))
      if (!sounding || !(await sounding.ready(frame.value)) || mine !== turn) return
      const shown = () => clock.time(round())
      const heard = await sounding.begin(frame.value, playIn.value, playOut.value, loop.value, shown)
      if (mine === turn) clock.heard = heard
    }
    const range = () => [playIn.value, playOut.value, loop.value].join()
    let known = range()
    attend(sound(), say`mix the sound`)
    const tick = () => {
      // Another range or another way at its end: the sound goes on there.
      if (range() !== known) {
        known = range()
        attend(sound(), say`mix the sound`)
      }
      const now = clock.time(round())
      if (now >= end() && !loop.value) {
        go(playOut.value)
        return stop()
      }
      let f = Math.max(playIn.value, Math.min(frame.value, playOut.value))
      if (at(f) > now) f = playIn.value
      while (f < playOut.value && at(f + 1) <= now) f++
      frame.value = f
      ticking = requestAnimationFrame(tick)
    }
    ticking = requestAnimationFrame(tick)
  }
  /** Shows frames one after the other, each for as long as a look takes, until they are through or something else is done. */
  function walk(frames: readonly number[]): void {
    stop()
    playing.value = true
    let began: number | null = null
    const tick = (now: number) => {
      began ??= now
      const at = Math.floor((now - began) / lookTime)
      if (at >= frames.length) return stop()
      go(frames[at]!)
      ticking = requestAnimationFrame(tick)
    }
    ticking = requestAnimationFrame(tick)
  }
  function stop(): void {
    if (playing.value) {
      turn++
      sounding?.end()
    }
    cancelAnimationFrame(ticking)
    playing.value = false
  }

  return {
    ...{ frame, stepSize, loop, playIn, playOut, playing, go, stepBy, play, walk, stop, hear },
    togglePlay: () => (playing.value ? stop() : play()),
  }
})
