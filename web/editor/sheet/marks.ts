import { defineStore } from 'pinia'
import { computed } from 'vue'
import type { Mark } from '#core/records/types.ts'
import { useBench } from '../bench.ts'
import { newId, useProject } from '../../project/project.ts'

/** Marks with notes on frames of the shot. */
export const useMarks = defineStore('marks', () => {
  const project = useProject()
  const bench = useBench()
  const marks = computed(() => project.childrenOf('mark', bench.shotId))
  const here = computed(() => marks.value.find((mark) => mark.frame === bench.frame) ?? null)

  /** Puts a mark on this frame, or takes it away. */
  function toggle(): void {
    const { frame } = bench
    if (here.value) return remove(here.value)
    const mark: Mark = { type: 'mark', id: newId(), shot: bench.shotId, frame, note: '' }
    project.commit(`Mark frame ${frame}`, { put: [mark], remove: [] })
  }
  function remove(mark: Mark): void {
    project.commit(`Remove the mark at ${mark.frame}`, { put: [], remove: [{ type: 'mark', id: mark.id }] })
  }
  function note(mark: Mark, text: string): void {
    project.commit(`Note at ${mark.frame}`, { put: [{ ...mark, note: text }], remove: [] }, `note ${mark.id}`)
  }
  return { marks, here, toggle, remove, note }
})
