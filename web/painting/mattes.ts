import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { toast } from 'vue-sonner'
import { type MatteReading, usualReading } from '#core/incoming/matte.ts'
import { clipFrame } from '#core/records/timing.ts'
import { framesOf, isStill, type Key, keyId, type Media, shotLength } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { useCast } from '../editor/cast.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useSelection } from '../editor/selection.ts'
import { startPainter } from './painting.ts'
import { useProject } from '../project/project.ts'

/** Keys that are kept at once: what came in is seen while the rest still comes. */
const together = 48
/** Frames that are read and worked out at the same time. */
const ahead = 4

/** Mattes that come in: a clip of the project, of black and white or with alpha, as a painted part. */
export const useMattes = defineStore('mattes', () => {
  const project = useProject()
  const opened = useOpenShot()
  const cast = useCast()
  const selected = useSelection()

  /** Whether somebody chooses what comes in. */
  const open = ref(false)
  /** The clip that comes in, and how much of it is there. */
  const taking = shallowRef<{ media: Media; share: number } | null>(null)
  let stopped = false

  /** How the pictures of a clip are probably meant. */
  const readingOf = async (media: Media): Promise<MatteReading> =>
    usualReading(await (await opened.pictures.framesOf(media, 0))(0))

  /** The frame of the shot on which a clip begins: one that is as long as the shot's own clip lies over all of it. */
  const isAsLong = (media: Media): boolean => media.frames === opened.media?.frames
  const placeOf = (media: Media): number =>
    opened.shot && isAsLong(media) && !opened.shot.timing ? -opened.shot.in : 0

  /**
   * Takes a clip in as a painted part of a new member, its first frame at `at` of the shot, in one undo step; a still on every frame
   * from there on. What lies outside of the shot is left out. Throws a Refusal where it can not be laid on the shot; what came in until then stays.
   */
  async function take(media: Media, reading: MatteReading, at: number): Promise<void> {
    const { shot, media: plate } = opened
    if (!shot || !plate || taking.value) return
    const name = media.name.replace(/\.[^.]*$/, '').slice(0, 70) || say`Matte`
    const { part, fresh } = cast.freshPart(null, { kind: 'other', name }, { name: 'matte', kind: 'painted' })
    const [from, to] = [Math.max(0, at), Math.min(shotLength(shot), at + framesOf(media))]
    if (from >= to)
      return void toast.error(say`No frame of this clip lies on the shot. Choose where its first frame lies.`)
    /** The clip's frame on a frame of the shot: where that does not run as it was filmed, a matte of its clip runs with it. */
    const sourceOf = (frame: number) => (shot.timing && isAsLong(media) ? clipFrame(shot, frame) : frame - at)
    const painter = startPainter()
    stopped = false
    taking.value = { media, share: 0 }
    try {
      const frames = await opened.pictures.framesOf(media, sourceOf(from))
      const size = { width: plate.width, height: plate.height }
      const made = async (frame: number) =>
        painter.remote.taken(part.id, frame, await frames(sourceOf(frame)), reading, size)
      // A still is the same on every frame: it is worked out once.
      const once = isStill(media) ? made(from) : null
      const keyAt = async (frame: number): Promise<Key | null> => {
        const key = await (once ?? made(frame))
        return key && { ...key, id: keyId(part.id, frame), frame }
      }
      let kept = 0
      let waiting: Key[] = []
      const keep = () => {
        const put = kept ? waiting : [...fresh, ...waiting]
        if (waiting.length && project.commit(say`Take in ${name}`, { put, remove: [] }, `matte ${part.id}`, Infinity)) {
          if (!kept) selected.choosePart(part)
          kept += waiting.length
        }
        waiting = []
      }
      const under: Promise<Key | null>[] = []
      const begin = (frame: number) => {
        const one = keyAt(frame)
        // Who waits for it sees its failure; nobody waits any more once another one has failed.
        one.catch(() => {})
        under.push(one)
      }
      try {
        for (let frame = from; frame < to && !stopped; frame++) {
          while (under.length < ahead && frame + under.length < to) begin(frame + under.length)
          const key = await under.shift()!
          // Who has left the shot is not followed.
          if (opened.shotId !== shot.id) break
          if (key) waiting.push(key)
          if (waiting.length >= together) keep()
          taking.value = { media, share: (frame + 1 - from) / (to - from) }
        }
      } finally {
        keep()
      }
      toast(
        kept
          ? say`${name}: a matte on ${kept} ${kept === 1 ? say`frame` : say`frames`}${stopped ? say`, then stopped` : ''}.`
          : say`${name} is empty on every frame that lies on the shot. Choose otherwise what of it is the matte.`,
        { id: 'matte' },
      )
      if (kept) open.value = false
    } finally {
      painter.stop()
      taking.value = null
    }
  }

  function stop(): void {
    stopped = true
  }
  function close(): void {
    stop()
    open.value = false
  }

  return { open, taking, readingOf, placeOf, take, stop, close }
})
