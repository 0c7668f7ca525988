import { defineStore } from 'pinia'
import { computed } from 'vue'
import type { Mark } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { newId, useProject } from '../../project/project.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'

/** Marks with notes on frames of the shot. */
export const useMarks = defineStore('marks', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()
  const marks = computed(() => project.childrenOf('mark', opened.shotId))
  const here = computed(() => marks.value.find((mark) => mark.frame === playback.frame) ?? null)

  /** Puts a mark on this frame, or takes it away. */
  function toggle(): void {
    const { frame } = playback
    if (here.value) return remove(here.value)
    const mark: Mark = { type: 'mark', id: newId(), shot: opened.shotId, frame, note: '' }
    project.commit(say`Mark frame ${frame}`, { put: [mark], remove: [] })
  }
  function remove(mark: Mark): void {
    project.commit(say`Remove the mark at ${mark.frame}`, { put: [], remove: [{ type: 'mark', id: mark.id }] })
  }
  function note(mark: Mark, text: string): void {
    project.commit(say`Note at ${mark.frame}`, { put: [{ ...mark, note: text }], remove: [] }, `note ${mark.id}`)
  }
  return { marks, here, toggle, remove, note }
})
