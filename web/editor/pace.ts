import { useDocumentVisibility, useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import { say } from '#core/say.ts'
import { useProject } from '../project/project.ts'
import { useOpenShot } from './openShot.ts'

/** Who does nothing for longer than this is not working on the shot, in ms. */
const idleAfter = 60_000
/** Keys whose times make the pace. */
const lately = 40

/** How long somebody has worked on each shot in this browser, and how quickly keys are made. */
export const usePace = defineStore('pace', () => {
  const opened = useOpenShot()
  const project = useProject()
  /** Seconds by shot. */
  const spent = useLocalStorage<Record<string, number>>('wisp-time', {})
  /** Seconds that the latest keys took, each since the one before it. */
  const took = useLocalStorage<number[]>('wisp-pace', [])
  const visible = useDocumentVisibility()
  let lastTouch = 0
  let lastKey = 0
  for (const event of ['pointermove', 'pointerdown', 'keydown', 'wheel'] as const)
    useEventListener(window, event, () => (lastTouch = Date.now()), { passive: true, capture: true })

  const counter = useIntervalFn(
    () => {
      const id = opened.shotId
      if (!id || visible.value !== 'visible' || Date.now() - lastTouch > idleAfter) return
      spent.value = { ...spent.value, [id]: (spent.value[id] ?? 0) + 1 }
    },
    1000,
    { immediate: false },
  )

  project.subscribe((diff) => {
    // One key at a time is a hand at work; many at once are an edit over time, or somebody else's.
    const keys = diff.put.filter((record) => record.type === 'key')
    if (keys.length !== 1 || !project.get('key', keys[0]!.id)) return
    const now = Date.now()
    const seconds = (now - lastKey) / 1000
    lastKey = now
    if (seconds > 0.2 && seconds < idleAfter / 1000) took.value = [...took.value.slice(1 - lately), seconds]
  })

  /** Median seconds a key, null until there are three. */
  const pace = computed(() => {
    const sorted = [...took.value].sort((a, b) => a - b)
    return sorted.length < 3 ? null : sorted[sorted.length >> 1]!
  })
  const seconds = computed(() => spent.value[opened.shotId] ?? 0)
  return { pace, seconds, start: () => counter.resume(), pause: () => counter.pause() }
})

/** Seconds as they are said: 40 s, 3 min, 1 h 20 min. */
export function saidTime(seconds: number): string {
  if (seconds < 90) return `${Math.round(seconds)} s`
  const minutes = Math.round(seconds / 60)
  return minutes < 90 ? say`${minutes} min` : say`${Math.floor(minutes / 60)} h ${minutes % 60} min`
}
