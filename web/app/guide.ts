import { computed, type ComputedRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Part } from '#core/records/types.ts'
import { cellAt, isHandKey } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { type Guide, guiding } from '../editor/guide.ts'
import { useMotion } from '../editor/motion.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useRuns } from '../editor/runs/runs.ts'
import { useSelection } from '../editor/selection.ts'
import { keysOf, type ShortcutName } from '../editor/shortcuts.ts'
import { kindOf } from '../editor/tracing.ts'
import { useEffects } from '../effects/effects.ts'
import { useOutputs } from '../output/outputs.ts'
import { useProject } from '../project/project.ts'
import { attend } from '../ui/troubles.ts'
import { useMatteFile } from './matteFile.ts'

/** The way from a clip to a burning blade in a file, a step at a time: what comes next follows from what is there. */
export function useGuide(): ComputedRef<Guide | null> {
  const route = useRoute()
  const router = useRouter()
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()
  const selected = useSelection()
  const motion = useMotion()
  const runs = useRuns()
  const outputs = useOutputs()
  const effects = useEffects()

  const key = (name: ShortcutName) => keysOf(name)[0]?.join(' ') ?? '–'
  /** Goes to a step, and does there what comes first. */
  const to = (label: string, step: string, then = () => {}): Guide['go'] => ({
    label,
    run: () =>
      attend(router.push({ name: step, params: { ...route.params, shot: opened.shotId } }).then(then), say`go there`),
  })
  const burns = () => opened.effects.some((one) => one.on && one.kind === 'blade')
  const letBurn = () => to(say`Let it burn`, 'effects', () => burns() || effects.add('blade'))
  const makeMatteFile = useMatteFile()
  /** What a part that is traced on every frame is for. */
  const useOf = (part: Part): Guide['go'] => {
    if (kindOf(part).pixels) return { label: say`Render the matte`, run: () => makeMatteFile(part) }
    return part.kind === 'rod' ? letBurn() : to(say`Add an effect`, 'effects')
  }

  /** The first frames that a part with keys has no shape on; null where it has one on all. */
  function gapOf(part: Part): { from: number; to: number } | null {
    const track = opened.track(part)
    const bare = (frame: number) => cellAt(track, frame) === 'none'
    let from = 0
    while (from < opened.length && !bare(from)) from++
    if (from >= opened.length) return null
    let last = from
    while (last + 1 < opened.length && bare(last + 1)) last++
    return { from, to: last }
  }
  /** How a part is called: a member of one part by its own name. */
  const nameOf = (part: Part) => {
    const member = project.get('member', part.member)
    return project.childrenOf('part', part.member).length === 1 ? (member?.name ?? part.name) : part.name
  }
  const rods = computed(() => opened.parts.filter((part) => part.kind === 'rod'))
  const open = computed(() => rods.value.map((part) => ({ part, gap: gapOf(part) })).find((one) => one.gap))

  function goTo(part: Part, frame: number): void {
    selected.choosePart(part)
    playback.go(frame)
  }
  /** The key from which a part goes on into the frames that it has no shape on. */
  const keyBefore = (part: Part, gap: { from: number } | null) => {
    const { keys } = opened.track(part)
    return keys.filter((one) => !gap || one.frame < gap.from).at(-1)?.frame ?? keys[0]!.frame
  }

  function tracing(): Guide | null {
    const part = selected.part ?? (rods.value.length === 1 ? rods.value[0]! : null)
    if (!part)
      return opened.parts.length
        ? { say: say`Choose who is to be traced on: a part in the cast.` }
        : { say: say`Click your prop where it is held, then its tip.`, keys: [[key('rod'), say`the rod tool`]] }
    const painted = kindOf(part).pixels
    const { keys } = opened.track(part)
    if (!keys.length) return { say: beginning(part) }
    const gap = gapOf(part)
    const last = keyBefore(part, gap)
    if (gap && playback.frame !== last)
      return {
        say: say`Frames ${gap.from} to ${gap.to} have no shape yet. Go on from the key at ${last}.`,
        go: { label: say`Frame ${last}`, run: () => goTo(part, last) },
      }
    if (gap)
      return {
        say: keys.length > 1 ? say`From this key on:` : say`That is a key. Now:`,
        keys: [
          [key('followOn'), painted ? say`let it be carried` : say`let it be followed`],
          [key('stepOn'), painted ? say`or step on, and paint there` : say`or step on, and trace it yourself`],
        ],
      }
    const doubts = motion.found.filter((one) => one.part === part.id).length
    if (doubts)
      return {
        say: painted
          ? say`${doubts} ${doubts === 1 ? say`place is` : say`places are`} worth a look: paint over what is wrong.`
          : say`${doubts} ${doubts === 1 ? say`place is` : say`places are`} worth a look: drag what is wrong.`,
        keys: [[key('nextFinding'), say`to the next`]],
        go: useOf(part),
      }
    return { say: say`${nameOf(part)} is traced on every frame.`, go: useOf(part) }
  }
  /** How the first shape of a part is made. */
  function beginning(part: Part): string {
    if (kindOf(part).pixels) return say`Paint a stroke over ${nameOf(part)} in the picture.`
    return part.kind === 'rod'
      ? say`Click ${nameOf(part)} in the picture: first where it is held, then its tip.`
      : say`Draw ${nameOf(part)} in the picture.`
  }

  function lighting(): Guide | null {
    if (open.value && opened.track(open.value.part).keys.some(isHandKey)) {
      const { part, gap } = open.value
      return {
        say: say`${nameOf(part)} is traced up to frame ${gap!.from - 1} only.`,
        go: to(say`Trace on`, 'trace', () => goTo(part, keyBefore(part, gap))),
      }
    }
    if (!rods.value.length) return { say: say`Light rides on what is traced.`, go: to(say`Trace a prop`, 'trace') }
    if (!burns()) return { say: say`Add a blade: press add above the cards, at the left, and choose Blade.` }
    return { say: say`It burns.`, keys: [[key('play'), say`play it`]], go: to(say`Make a file`, 'output') }
  }

  return computed(() => {
    // What is under way says itself what it does.
    if (!guiding.value || !project.project || runs.run || runs.answering) return null
    switch (route.name) {
      case 'footage':
        return project.shots.length
          ? { say: say`The clip is in: a shot of it stands below.`, go: to(say`Trace it`, 'trace') }
          : { say: say`Drop a clip here, as your phone filmed it.` }
      case 'trace':
        return tracing()
      case 'effects':
        return lighting()
      case 'output':
        return outputs.made.length
          ? {
              say: say`That is the whole way, from a clip to a file. From here on it is yours.`,
              go: { label: say`Done`, run: () => void (guiding.value = false) },
            }
          : outputs.busy
            ? { say: say`The file is being made: it lies below as soon as it is done.` }
            : { say: say`Leave it as it is, and press the green button at the left: the film is made here.` }
    }
    return null
  })
}
