import { defineStore } from 'pinia'
import { computed } from 'vue'
import { toast } from 'vue-sonner'
import { heldFor, keysLost, lengthAt, retime, type Retiming, runAt, type Speed } from '#core/edits/retime.ts'
import { piecesOf } from '#core/records/timing.ts'
import { type Between, framesOf, type Shot, type TimePiece } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { newId, useProject } from '../project/project.ts'

export const betweens: { value: Between; label: string }[] = [
  { value: 'moved', label: say`by their motion` },
  { value: 'blended', label: say`both blended` },
  { value: 'repeated', label: say`earlier one again` },
]

/** A piece of the shot on its frames, `to` inclusive. */
export interface PlacedPiece extends TimePiece {
  at: number
  to: number
}

/** How a piece runs, in words; '' as it was filmed. */
export function wordsOf({ step, between }: TimePiece): string {
  if (step === 0) return 'held'
  const speed = Math.abs(step) === 1 ? '' : say`at ${Number((100 * Math.abs(step)).toFixed(1))} %`
  const how = { repeated: 'repeated', blended: 'blended', moved: say`by motion` }[between]
  return [step < 0 ? say`backwards` : '', speed, Math.abs(step) % 1 ? how : ''].filter(Boolean).join(', ')
}

/** When the frames of the open shot run. */
export const useTiming = defineStore('timing', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()

  const pieces = computed<PlacedPiece[]>(() => {
    let at = 0
    return (opened.shot ? piecesOf(opened.shot) : []).map((piece) => {
      const placed = { ...piece, at, to: at + piece.length - 1 }
      at += piece.length
      return placed
    })
  })
  const frames = () => (opened.media ? framesOf(opened.media) : 0)
  const here = computed(() => pieces.value.find(({ to }) => playback.frame <= to) ?? null)

  /** Gives the open shot its new times, or says why that can not be. */
  function apply(label: string, change: (shot: Shot) => Retiming, frame: number): void {
    const { shot } = opened
    const records = project.records()
    if (!shot || !records) return
    try {
      const retiming = change(shot)
      const lost = keysLost(records, shot, retiming)
      if (!project.commit(label, retime(records, shot, retiming, newId))) return
      playback.go(frame)
      if (lost)
        toast(
          say`${lost === 1 ? say`A key lies` : say`${lost} keys lie`} on frames that are not shown any more. Undo brings ${lost === 1 ? say`it` : say`them`} back.`,
          { id: 'timing' },
        )
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      toast.error(error.message, { id: 'timing' })
    }
  }

  const hold = (count: number) => {
    const { frame } = playback
    apply(say`Hold frame ${frame}`, (shot) => heldFor(shot, frame, count), frame)
  }
  const run = (speed: Speed) =>
    apply(say`Set the speed of frames ${speed.from} to ${speed.to}`, (shot) => runAt(shot, speed, frames()), speed.from)

  /** How many frames those of a range would be; null where they can not run so. */
  function lengthOf(speed: Speed): number | null {
    if (!opened.shot) return null
    try {
      return lengthAt(opened.shot, speed, frames())
    } catch (error) {
      if (error instanceof Refusal) return null
      throw error
    }
  }

  return { pieces, here, hold, run, lengthOf }
})
