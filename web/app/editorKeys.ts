import { useEventListener } from '@vueuse/core'
import { tinykeys } from 'tinykeys'
import { onBeforeUnmount, ref, watch } from 'vue'
import { anchors } from '#core/shapes/kind.ts'
import { isAway } from '#core/shapes/track.ts'
import { heldKeys, isForField, keyBindings, ownKeys, type ShortcutName } from '../editor/shortcuts.ts'
import { type Look, useBench } from '../editor/bench.ts'
import { brush, sizeBrush } from '../painting/brush.ts'
import { useCast } from '../editor/cast.ts'
import { useFollowing } from '../following/following.ts'
import { useMarks } from '../editor/sheet/marks.ts'
import { useMotion } from '../editor/motion.ts'
import { usePainting } from '../painting/painting.ts'
import { useProject } from '../project/project.ts'
import type { FollowReach } from '../editor/runs/reaches.ts'
import { useSuggesting } from '../suggesting/suggesting.ts'
import { kindOf, useTracing } from '../editor/tracing.ts'

/** The bench's keys while a step with a picture is open. */
export function useBenchKeys(options: {
  fit(): void
  leave(): void
  /** Closes or shortens the outline that is being drawn; false where none is. */
  finish?: () => boolean
  takeBack?: () => boolean
  /** Removes what is chosen in the lanes below, where they are not those of the parts. */
  removeChosen?: () => void
  looks: Look[]
}) {
  const project = useProject()
  const bench = useBench()
  const cast = useCast()
  const motion = useMotion()
  const tracing = useTracing()
  const marks = useMarks()
  const following = useFollowing()
  const painting = usePainting()
  const suggesting = useSuggesting()
  const sheet = ref(false)

  const nudges = Object.fromEntries(
    (
      [
        ['left', -1, 0],
        ['right', 1, 0],
        ['up', 0, -1],
        ['down', 0, 1],
      ] as const
    ).flatMap(([way, x, y]) => [
      [way, () => tracing.nudge(x, y)],
      [`${way}Far`, () => tracing.nudge(10 * x, 10 * y)],
      [`${way}Fine`, () => tracing.nudge(0.1 * x, 0.1 * y)],
    ]),
  )
  const looks = Object.fromEntries(options.looks.map((look) => [look, () => void (bench.look = look)])) as Partial<
    Record<ShortcutName, () => void>
  >
  const tools = Object.fromEntries(
    (['rod', 'outline', 'oval', 'pin', 'point', 'painted', 'choose', 'hand'] as const).map((tool) => [
      tool,
      () => void (bench.tool = tool),
    ]),
  ) as Partial<Record<ShortcutName, () => void>>
  const pointAt = (place: number) => {
    const { part } = bench
    const points = part && tracing.shapeOrGhost(part)
    const index = points && anchors(kindOf(part), points)[place]
    if (index !== undefined && index !== null) bench.points = [index]
  }

  const work: Partial<Record<ShortcutName, () => void>> = {
    ...nudges,
    ...looks,
    ...tools,
    stepOn: () => bench.stepBy(1),
    stepBack: () => bench.stepBy(-1),
    stepOnFar: () => bench.stepBy(Math.max(1, bench.stepSize)),
    stepBackFar: () => bench.stepBy(-Math.max(1, bench.stepSize)),
    toStart: () => bench.stepBy(-bench.length),
    toEnd: () => bench.stepBy(bench.length),
    nextKey: () => bench.jumpToKey(1),
    previousKey: () => bench.jumpToKey(-1),
    planned: () => void motion.goToPlanned(),
    nextFinding: () => goToFinding(1),
    previousFinding: () => goToFinding(-1),
    mark: () => marks.toggle(),
    play: () => bench.togglePlay(),
    loop: () => void (bench.loop = !bench.loop),
    playIn: () => void (bench.playIn = Math.min(bench.frame, bench.playOut)),
    playOut: () => void (bench.playOut = Math.max(bench.frame, bench.playIn)),
    accept: () => {
      if (!options.finish?.()) void tracing.accept()
    },
    removeKey: () => {
      if (options.takeBack?.()) return
      if (options.removeChosen) return options.removeChosen()
      const { part } = bench
      if (!part) return
      if (part.kind === 'outline' && bench.points.length) tracing.deleteNodes(part)
      else if (bench.range) tracing.removeKeys()
      else tracing.removeKey(part)
    },
    away: () => {
      const { part } = bench
      if (!part) return
      const { from, to } = bench.range?.parts.includes(part.id) ? bench.range : { from: bench.frame, to: bench.frame }
      tracing.setAway(part, from, to, !isAway(bench.track(part), bench.frame))
    },
    followOn: () => goOn('on'),
    followBack: () => goOn('back'),
    followStep: () => goOn('step'),
    followAgain: () => goOn('again'),
    brushSide: () => void (brush.value.wanted = !brush.value.wanted),
    brushSmaller: () => sizeBrush(1 / 1.25),
    brushLarger: () => sizeBrush(1.25),
    leave: () => {
      if (!following.stop() && !painting.stop() && !suggesting.stop()) options.leave()
    },
    firstPoint: () => pointAt(0),
    secondPoint: () => pointAt(1),
    wholeShape: () => void (bench.points = []),
    allPoints: () => {
      const { part } = bench
      const points = part && tracing.shapeOrGhost(part)
      if (part && points) bench.points = anchors(kindOf(part), points)
    },
    frame: () => {
      bench.framing = !bench.framing
      if (bench.framing) bench.tool = 'choose'
    },
    mirror: () => tracing.mirror(),
    between: () => tracing.backToInBetween(),
    copyShape: () => tracing.copyShape(),
    pasteShape: () => tracing.pasteShape(),
    corner: () => bench.part?.kind === 'outline' && tracing.convertNodes(bench.part, 'corner'),
    smooth: () => bench.part?.kind === 'outline' && tracing.convertNodes(bench.part, 'smooth'),
    reach: () => {
      const all = ['frame', 'all', 'range', 'fade'] as const
      bench.reach = all[(all.indexOf(bench.reach) + 1) % all.length]!
    },
    nextPart: () => cast.chooseNext(1),
    previousPart: () => cast.chooseNext(-1),
    solo: () => void (bench.solo = bench.solo ? '' : bench.partId),
    nextLook: () => void (bench.look = options.looks[(options.looks.indexOf(bench.look) + 1) % options.looks.length]!),
    onion: () => void (bench.onion = !bench.onion),
    loupe: () => void (bench.loupe = !bench.loupe),
    steady: () => bench.holdSteady(),
    brighter: () => void (bench.brightness = Math.min(4, bench.brightness * 1.25)),
    darker: () => void (bench.brightness = Math.max(0.25, bench.brightness / 1.25)),
    quality: () => void (bench.reduce = bench.reduce === 1 ? 2 : 1),
    fit: options.fit,
    quiet: () => void (bench.quiet = !bench.quiet),
    sheet: () => void (sheet.value = true),
    undo: () => project.undo(),
    redo: () => project.redo(),
  }
  /** On over the picture: points are followed, pixels carried. */
  const goOn = (reach: FollowReach) =>
    void (bench.part && kindOf(bench.part).pixels ? painting.carry(reach) : following.follow(reach))
  function goToFinding(way: 1 | -1): void {
    const next = motion.goToFinding(way)
    const part = next && project.get('part', next.part)
    if (!part) return
    bench.stop()
    cast.choosePart(part)
    bench.go(next.frame)
  }

  let walked = false
  useEventListener(window, 'keydown', (event) => event.key === 'Tab' && (walked = true), { capture: true })
  useEventListener(window, 'pointerdown', () => (walked = false), { capture: true })
  let stop = () => {}
  watch(
    ownKeys,
    () => {
      stop()
      stop = tinykeys(
        window,
        keyBindings(work, () => walked),
      )
    },
    { immediate: true, deep: true },
  )
  onBeforeUnmount(() => {
    stop()
    bench.stop()
    bench.peeking = bench.flipped = bench.snapping = false
    bench.quiet = false
  })

  const hold = (event: KeyboardEvent, down: boolean) => {
    for (const { run, key } of heldKeys()) {
      if (event.key.toLowerCase() !== key) continue
      if (down && (event.ctrlKey || event.metaKey || event.shiftKey || isForField(event.target as HTMLElement | null)))
        continue
      if (run === 'peek') bench.peeking = down
      else if (run === 'flip') bench.flipped = down
      else if (run === 'snap') bench.snapping = down
    }
  }
  useEventListener(window, 'keydown', (event) => hold(event, true))
  useEventListener(window, 'keyup', (event) => hold(event, false))
  useEventListener(window, 'blur', () => {
    bench.peeking = bench.flipped = bench.snapping = false
  })
  return { sheet }
}
