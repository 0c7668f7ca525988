import { useEventListener } from '@vueuse/core'
import { tinykeys } from 'tinykeys'
import { onBeforeUnmount, onMounted, ref } from 'vue'
import { isAway } from '#core/shapes/track.ts'
import { keyBindings, peekKey } from './shortcuts.ts'
import { useBench, type Look } from './stores/bench.ts'
import { useProject } from './stores/project.ts'
import { useTracing } from './stores/tracing.ts'

/** The bench's keys while a step with a picture is open. */
export function useBenchKeys(options: {
  fit(): void
  leave(): void
  /** Removes what is chosen in the lanes below, where they are not those of the parts. */
  removeChosen?: () => void
  looks: Look[]
}) {
  const project = useProject()
  const bench = useBench()
  const tracing = useTracing()
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
  let walked = false
  useEventListener(window, 'keydown', (event) => event.key === 'Tab' && (walked = true), { capture: true })
  useEventListener(window, 'pointerdown', () => (walked = false), { capture: true })
  const bindings = keyBindings(
    {
      ...nudges,
      stepOn: () => bench.stepBy(1),
      stepBack: () => bench.stepBy(-1),
      stepOnFar: () => bench.stepBy(bench.stepSize),
      stepBackFar: () => bench.stepBy(-bench.stepSize),
      toStart: () => bench.stepBy(-bench.length),
      toEnd: () => bench.stepBy(bench.length),
      nextKey: () => bench.jumpToKey(1),
      previousKey: () => bench.jumpToKey(-1),
      play: () => bench.togglePlay(),
      loop: () => void (bench.loop = !bench.loop),
      playIn: () => void (bench.playIn = Math.min(bench.frame, bench.playOut)),
      playOut: () => void (bench.playOut = Math.max(bench.frame, bench.playIn)),
      accept: () => tracing.accept(),
      removeKey: () => {
        if (options.removeChosen) options.removeChosen()
        else if (bench.part) tracing.removeKey(bench.part)
      },
      away: () =>
        bench.part &&
        tracing.setAway(bench.part, bench.frame, bench.frame, !isAway(bench.track(bench.part), bench.frame)),
      leave: options.leave,
      firstPoint: () => void (bench.point = 0),
      secondPoint: () => void (bench.point = 1),
      wholeShape: () => void (bench.point = null),
      rod: () => void (bench.tool = 'rod'),
      oval: () => void (bench.tool = 'oval'),
      choose: () => void (bench.tool = 'choose'),
      hand: () => void (bench.tool = 'hand'),
      nextLook: () =>
        void (bench.look = options.looks[(options.looks.indexOf(bench.look) + 1) % options.looks.length]!),
      onion: () => void (bench.onion = !bench.onion),
      fit: options.fit,
      quiet: () => void (bench.quiet = !bench.quiet),
      sheet: () => void (sheet.value = true),
      undo: () => project.undo(),
      redo: () => project.redo(),
    },
    () => walked,
  )

  let stop = () => {}
  onMounted(() => {
    stop = tinykeys(window, bindings)
  })
  onBeforeUnmount(() => {
    stop()
    bench.stop()
    bench.peeking = false
    bench.quiet = false
  })
  const isPeek = (event: KeyboardEvent) =>
    event.code === peekKey &&
    !event.ctrlKey &&
    !event.metaKey &&
    !(event.target as HTMLElement | null)?.closest?.('input, textarea')
  useEventListener(window, 'keydown', (event) => isPeek(event) && (bench.peeking = true))
  useEventListener(window, 'keyup', (event) => event.code === peekKey && (bench.peeking = false))
  useEventListener(window, 'blur', () => (bench.peeking = false))
  return { sheet }
}
