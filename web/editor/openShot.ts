import { defineStore } from 'pinia'
import { computed, markRaw, ref, shallowRef, watch } from 'vue'
import type { Diff } from '#core/records/diff.ts'
import type { LighterState } from '#core/records/exchange.ts'
import { joinedShot } from '#core/records/film.ts'
import { cutOf, shownTimes } from '#core/records/timing.ts'
import { isPictures, type Part, shotLength } from '#core/records/types.ts'
import { affectedFrames } from '#core/render/scene.ts'
import { shapeOf, trackOf } from '#core/shapes/riding.ts'
import { cellAt, type Track } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { timesOf } from '../frames/clipOf.ts'
import { type GraphicsUse, Pictures } from '../frames/pictures.ts'
import { drawsWithGraphics } from './graphics.ts'
// Workers ask how much memory they may take as soon as they start.
import './memory.ts'
import { useProject } from '../project/project.ts'
import { stableList } from '../project/stable.ts'
import { attend, sentenceOf } from '../ui/troubles.ts'

/** The shot that is open in the editor, across the steps: what it is made of, and its pictures. */
export const useOpenShot = defineStore('open shot', () => {
  const project = useProject()
  // Not for Vue to watch: it keeps its own count of what came in.
  const pictures = markRaw(new Pictures())

  const shotId = ref('')
  const shot = computed(() => project.get('shot', shotId.value))
  const media = computed(() => (shot.value ? project.get('media', shot.value.media) : null))
  const length = computed(() => (shot.value ? shotLength(shot.value) : 0))
  /** Which frames of which shot these are. */
  const cut = computed(() => (shot.value ? `${shotId.value} ${cutOf(shot.value)}` : ''))
  /** Seconds of the clip's frames. */
  const times = shallowRef<number[]>([])
  /** When every frame of the shot is shown, and when the last one ends, in seconds from its first. */
  const shown = computed(() => (shot.value && media.value ? shownTimes(shot.value, times.value, media.value.rate) : []))
  /** Why there is no picture, in a sentence; empty while all is well. */
  const trouble = ref('')

  /** Rises when a picture came in, so that what shows pictures looks again. */
  const arrived = ref(0)
  /** Rises when something was read that drives ask for. */
  const readings = ref(0)
  /** Why inserted clips can not be seen, by the id of the clip. */
  const clipTroubles = shallowRef<ReadonlyMap<string, string>>(new Map())
  pictures.onClipTrouble = (id, sentence) => {
    if (clipTroubles.value.get(id) !== sentence) clipTroubles.value = new Map([...clipTroubles.value, [id, sentence]])
  }
  pictures.onReading = () => void readings.value++
  /** The lighter copy that a large clip is seen through. */
  const lighter = shallowRef<LighterState>({ state: 'none', share: 0 })
  /** Whether the graphics card draws results. */
  const graphics = shallowRef<GraphicsUse>({ state: 'off' })
  pictures.onGraphics = (state) => void (graphics.value = state)
  watch(drawsWithGraphics, (on) => attend(pictures.useGraphics(on), say`draw with the graphics card`))
  if (drawsWithGraphics.value) attend(pictures.useGraphics(true), say`draw with the graphics card`)
  pictures.onLighter = (state) => void (lighter.value = state)
  pictures.mediaOf = (id) => project.get('media', id)
  pictures.onPicture = () => {
    arrived.value++
    trouble.value = ''
  }
  pictures.onError = (sentence) => {
    trouble.value = sentence
  }

  const members = computed(() => project.childrenOf('member', shotId.value))
  /** Who can be named by effects: the cast, and where the shot is joined to the next one, that one's cast, too. */
  const reachable = computed(() => {
    const next = shot.value && joinedShot(project.records()!, shot.value)?.shot
    return next ? [...members.value, ...project.childrenOf('member', next.id)] : members.value
  })
  const parts = stableList(() => members.value.flatMap((member) => project.childrenOf('part', member.id)))
  const effects = computed(() => project.childrenOf('effect', shotId.value))

  const track = (of: Part): Track => trackOf(project.records()!, of)
  /** The part's shape in the picture, wherever it rides. */
  const shape = (of: Part, frame: number) => shapeOf(project.records()!, of, frame)
  const cell = (of: Part, frame: number) => cellAt(track(of), frame)

  /** Brings in the mattes that this shot's pictures need: its own, and those of the shot that it is joined to. */
  async function loadMattes(): Promise<void> {
    const next = shot.value && joinedShot(project.records()!, shot.value)?.shot
    await project.loadMattes(next ? [shotId.value, next.id] : [shotId.value])
  }

  /** Opens a shot; ends once its pictures are on their way. */
  async function open(id: string): Promise<void> {
    const next = project.get('shot', id)
    const clip = next && project.get('media', next.media)
    if (!next || !clip) return
    trouble.value = ''
    shotId.value = id
    try {
      ;[times.value] = await Promise.all([timesOf(clip), loadMattes()])
    } catch (error) {
      trouble.value = sentenceOf(error, say`open the clip`)
      return
    }
    if (shotId.value === id)
      attend(pictures.open(next, clip, times.value, [...project.records()!.values()]), say`open the shot`)
  }

  /** Before another project is opened. */
  function leave(): void {
    shotId.value = ''
  }

  project.subscribe((diff: Diff, inverse: Diff) => {
    if (!shotId.value) return
    const records = project.records()!
    // A join brings the next shot's mattes in.
    if (diff.put.some((record) => record.type === 'shot')) attend(loadMattes(), say`bring the mattes in`)
    pictures.change(diff, affectedFrames(records, shotId.value, diff, inverse))
    // The shot itself may have been cut anew or be gone.
    const cut = diff.put.find((record) => record.type === 'shot' && record.id === shotId.value)
    const before = inverse.put.find((record) => record.type === 'shot' && record.id === shotId.value)
    if (cut?.type === 'shot' && before?.type === 'shot' && cutOf(cut) !== cutOf(before))
      attend(open(shotId.value), say`open the shot`)
    const paced = diff.put.find((record) => record.type === 'media' && record.id === shot.value?.media)
    if (paced?.type === 'media' && isPictures(paced))
      attend(
        timesOf(paced).then((own) => (times.value = own)),
        say`read the times of the frames`,
      )
    if (!records.get('shot', shotId.value)) leave()
  })

  return {
    ...{
      pictures,
      shotId,
      shot,
      media,
      length,
      cut,
      times,
      shown,
      trouble,
      arrived,
      readings,
      clipTroubles,
      lighter,
      graphics,
    },
    ...{ members, reachable, parts, effects, track, shape, cell, open, leave },
  }
})
