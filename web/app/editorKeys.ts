import { useEventListener } from '@vueuse/core'
import { onBeforeUnmount } from 'vue'
import { toast } from 'vue-sonner'
import type { FrameSpan } from '#core/edits/frameSpan.ts'
import { anchors } from '#core/shapes/kind.ts'
import { say } from '#core/say.ts'
import { type Actions, useActions } from '../editor/actions.ts'
import { brush, sizeBrush } from '../editor/brush.ts'
import { useMotion } from '../editor/motion.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useRuns } from '../editor/runs/runs.ts'
import { useSelection } from '../editor/selection.ts'
import { useMarks } from '../editor/sheet/marks.ts'
import { heldKeys, isForField, keysOf } from '../editor/shortcuts.ts'
import { toggleSecondWindow } from '../editor/stage/secondWindow.ts'
import { kindOf, useTracing } from '../editor/tracing.ts'
import { useViewing, type ViewMode } from '../editor/viewing.ts'
import { useFollowing } from '../following/following.ts'
import { usePainting } from '../painting/painting.ts'
import { useProject } from '../project/project.ts'
import { useSuggesting } from '../suggesting/suggesting.ts'
import { attend } from '../ui/troubles.ts'

/** The editor's keys while a step with a picture is open. */
export function useBenchKeys(options: {
  fit(): void
  leave(): void
  /** Closes or shortens the outline that is being drawn; false where none is. */
  finish?: () => boolean
  takeBack?: () => boolean
  /** Removes what is chosen in the lanes below, where they are not those of the parts. */
  removeChosen?: () => void
  looks: ViewMode[]
}) {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()
  const selected = useSelection()
  const viewing = useViewing()
  const motion = useMotion()
  const tracing = useTracing()
  const marks = useMarks()
  const following = useFollowing()
  const runs = useRuns()
  const painting = usePainting()
  const suggesting = useSuggesting()

  const nudges = Object.fromEntries(
    (
      [
        ['left', -1, 0],
        ['right', 1, 0],
        ['up', 0, -1],
        ['down', 0, 1],
      ] as const
    ).flatMap(([way, x, y]) => [
      [way, () => arrow(x, y, 1)],
      [`${way}Far`, () => arrow(x, y, 10)],
      [`${way}Fine`, () => arrow(x, y, 0.1)],
    ]),
  )
  /** Nudges what is chosen where it is traced; elsewhere, and where nothing is chosen, the arrows go from frame to frame. */
  function arrow(x: number, y: number, by: number): void {
    if (options.finish && selected.part) tracing.nudge(by * x, by * y)
    else if (x) playback.stepBy(x * Math.max(1, by))
  }
  const looks = Object.fromEntries(options.looks.map((look) => [look, () => void (viewing.mode = look)])) as Actions
  const tools = Object.fromEntries(
    (['rod', 'outline', 'oval', 'pin', 'point', 'painted', 'choose', 'hand'] as const).map((tool) => [
      tool,
      () => void (selected.tool = tool),
    ]),
  ) as Actions
  const pointAt = (place: number) => {
    const { part } = selected
    const points = part && tracing.shapeOrGhost(part)
    const index = points && anchors(kindOf(part), points)[place]
    if (index !== undefined && index !== null) selected.points = [index]
  }

  const work: Actions = {
    ...nudges,
    ...looks,
    ...tools,
    stepOn: () => playback.stepBy(1),
    stepBack: () => playback.stepBy(-1),
    stepOnFar: () => playback.stepBy(Math.max(1, playback.stepSize)),
    stepBackFar: () => playback.stepBy(-Math.max(1, playback.stepSize)),
    toStart: () => playback.stepBy(-opened.length),
    toEnd: () => playback.stepBy(opened.length),
    nextKey: () => selected.jumpToKey(1),
    previousKey: () => selected.jumpToKey(-1),
    planned: () => attend(motion.goToPlanned(), say`read the motion`),
    nextFinding: () => goToFinding(1),
    previousFinding: () => goToFinding(-1),
    mark: () => marks.toggle(),
    play: () => playback.togglePlay(),
    walkDoubts: () => {
      const frames = motion.doubtfulFrames()
      if (frames.length) playback.walk(frames)
      else toast(say`Nothing here is worth a look.`)
    },
    loop: () => void (playback.loop = !playback.loop),
    playIn: () => void (playback.playIn = Math.min(playback.frame, playback.playOut)),
    playOut: () => void (playback.playOut = Math.max(playback.frame, playback.playIn)),
    accept: () => {
      if (!options.finish?.()) attend(tracing.accept(), say`go to the next frame`)
    },
    removeKey: () => {
      if (options.takeBack?.()) return
      if (options.removeChosen) return options.removeChosen()
      const { part } = selected
      if (!part) return
      if (part.kind === 'outline' && selected.points.length) tracing.deleteNodes(part)
      else if (selected.range) tracing.removeKeys()
      else tracing.removeKey(part)
    },
    away: () => {
      if (selected.part) tracing.toggleAway(selected.part)
    },
    followOn: () => goOn('on'),
    followBack: () => goOn('back'),
    followStep: () => goOn('step'),
    followAgain: () => goOn('again'),
    followAll: () => attend(following.followAll('on'), say`follow the picture`),
    brushSide: () => void (brush.value.wanted = !brush.value.wanted),
    brushSmaller: () => sizeBrush(1 / 1.25),
    brushLarger: () => sizeBrush(1.25),
    leave: () => {
      if (!runs.stop() && !suggesting.stop() && !suggesting.stopDrawing()) options.leave()
    },
    firstPoint: () => pointAt(0),
    secondPoint: () => pointAt(1),
    wholeShape: () => void (selected.points = []),
    allPoints: () => {
      const { part } = selected
      const points = part && tracing.shapeOrGhost(part)
      if (part && points) selected.points = anchors(kindOf(part), points)
    },
    frame: () => {
      selected.framing = !selected.framing
      if (selected.framing) selected.tool = 'choose'
    },
    mirror: () => tracing.mirror(),
    between: () => tracing.backToInBetween(),
    copyShape: () => tracing.copyShape(),
    pasteShape: () => tracing.pasteShape(),
    corner: () => selected.part?.kind === 'outline' && tracing.convertNodes(selected.part, 'corner'),
    smooth: () => selected.part?.kind === 'outline' && tracing.convertNodes(selected.part, 'smooth'),
    reach: () => {
      const all = ['frame', 'all', 'range', 'fade'] as const
      selected.over = all[(all.indexOf(selected.over) + 1) % all.length]!
    },
    nextPart: () => viewing.chooseNext(1),
    previousPart: () => viewing.chooseNext(-1),
    solo: () => void (viewing.solo = viewing.solo ? '' : selected.partId),
    nextLook: () =>
      void (viewing.mode = options.looks[(options.looks.indexOf(viewing.mode) + 1) % options.looks.length]!),
    nameFlip: () => {
      viewing.nameFlip()
      const at = viewing.flipFrame === null ? say`the frame before` : say`frame ${viewing.flipFrame}`
      toast(say`Held, ${keysOf('flip')[0]?.join(' ') ?? 'flip'} shows ${at}.`)
    },
    onion: () => void (viewing.onion = !viewing.onion),
    loupe: () => void (viewing.loupe = !viewing.loupe),
    steady: () => viewing.holdSteady(),
    brighter: () => void (viewing.brightness = Math.min(4, viewing.brightness * 1.25)),
    darker: () => void (viewing.brightness = Math.max(0.25, viewing.brightness / 1.25)),
    quality: () => void (viewing.quality = viewing.quality === 'hand' ? 2 : 'hand'),
    fit: options.fit,
    quiet: () => void (viewing.quiet = !viewing.quiet),
    strip: () => void (viewing.strip = !viewing.strip),
    second: toggleSecondWindow,
  }
  /** On over the picture: points are followed, pixels carried. */
  const goOn = (reach: FrameSpan) =>
    attend(
      selected.part && kindOf(selected.part).pixels ? painting.carry(reach) : following.follow(reach),
      say`follow the picture`,
    )
  function goToFinding(way: 1 | -1): void {
    const next = motion.goToFinding(way)
    const part = next && project.get('part', next.part)
    if (!part) return
    playback.stop()
    selected.choosePart(part)
    playback.go(next.frame)
  }

  useActions(work)
  onBeforeUnmount(() => {
    playback.stop()
    viewing.peeking = viewing.flipped = selected.snapping = false
    viewing.quiet = false
  })

  const hold = (event: KeyboardEvent, down: boolean) => {
    for (const { run, key } of heldKeys()) {
      if (event.key.toLowerCase() !== key) continue
      if (down && (event.ctrlKey || event.metaKey || event.shiftKey || isForField(event.target as HTMLElement | null)))
        continue
      if (run === 'peek') viewing.peeking = down
      else if (run === 'flip') viewing.flipped = down
      else if (run === 'snap') selected.snapping = down
    }
  }
  useEventListener(window, 'keydown', (event) => hold(event, true))
  useEventListener(window, 'keyup', (event) => hold(event, false))
  useEventListener(window, 'blur', () => {
    viewing.peeking = viewing.flipped = selected.snapping = false
  })
}
