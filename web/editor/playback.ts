import { defineStore } from 'pinia'
import { ref, watch } from 'vue'
import { useOpenShot } from './openShot.ts'

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
    () => [opened.shotId, opened.shot?.in, opened.shot?.out],
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

  function play(): void {
    if (opened.length < 2 || playing.value) return
    playing.value = true
    if (frame.value < playIn.value || frame.value >= playOut.value) frame.value = playIn.value
    const start = opened.shot!.in
    const at = (f: number) => opened.times[start + f] ?? 0
    const end = () => at(playOut.value) + (at(playOut.value) - at(playOut.value - 1))
    let zero = performance.now() / 1000 - at(frame.value)
    const tick = () => {
      let now = performance.now() / 1000 - zero
      if (now >= end()) {
        if (!loop.value) {
          go(playOut.value)
          return stop()
        }
        const span = end() - at(playIn.value)
        const turns = Math.floor((now - at(playIn.value)) / span)
        zero += turns * span
        now -= turns * span
      }
      let f = Math.max(playIn.value, Math.min(frame.value, playOut.value))
      if (at(f) > now) f = playIn.value
      while (f < playOut.value && at(f + 1) <= now) f++
      frame.value = f
      ticking = requestAnimationFrame(tick)
    }
    ticking = requestAnimationFrame(tick)
  }
  function stop(): void {
    cancelAnimationFrame(ticking)
    playing.value = false
  }

  return {
    ...{ frame, stepSize, loop, playIn, playOut, playing, go, stepBy, play, stop },
    togglePlay: () => (playing.value ? stop() : play()),
  }
})
