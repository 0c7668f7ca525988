<script setup lang="ts">
import { computed } from 'vue'
import { partKinds } from '#core/shapes/registry.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { useProject } from '../../project/project.ts'
import { brush } from '../brush.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { useRuns } from '../runs/runs.ts'
import { useSelection } from '../selection.ts'
import { keysOf } from '../shortcuts.ts'
import { kindOf, useTracing } from '../tracing.ts'
import { useViewing } from '../viewing.ts'
import type { State } from './tracer.ts'

/** One line in the picture that says what the next press does. */
const props = defineProps<{ state: State }>()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const viewing = useViewing()
const tracing = useTracing()
const runs = useRuns()
const project = useProject()

type Hint = { say: string; keys?: [string, string][] }
const key = (name: Parameters<typeof keysOf>[0]) => keysOf(name)[0]?.join(' ') ?? '–'
const leaveIt: [string, string] = [say`Esc`, say`leave it`]

const hint = computed<Hint | null>(() => {
  const { part, tool } = selected
  const { state } = props
  if (runs.run) {
    const { what, among, part: id } = runs.run
    const name = project.get('part', id)?.name ?? ''
    const following = what === 'follow' ? say`Following ${name}` : say`Carrying ${name}`
    return {
      say: among ? say`${following}, ${among.place + 1} of ${among.count}` : following,
      keys: [[say`Esc`, say`stop, keep what is done`]],
    }
  }
  if (playback.playing || tool === 'hand') return null
  if (tool === 'painted') return paintHint.value
  switch (state.name) {
    case 'dragging':
      return { say: reachSaid.value, keys: [leaveIt, [say`hold ${key('snap')}`, say`to edges`]] }
    case 'placing': {
      const outside = state.kind.kind === 'rod' ? say`, even outside the picture` : ''
      return { say: `${state.kind.placing[state.clicks.length / 2]!}${outside}`, keys: [leaveIt] }
    }
    case 'outlining':
      return state.nodes.length >= 24
        ? {
            say: say`Next point`,
            keys: [
              [say`click the first`, say`close`],
              [key('accept'), say`close`],
              [key('removeKey'), say`take back`],
            ],
          }
        : { say: say`Click the next point, or press and drag it smooth`, keys: [leaveIt] }
    case 'stroking':
      return { say: say`Draw around it and let go` }
    case 'selecting':
      return { say: state.lasso ? say`Points within the loop` : say`Points within the box` }
  }
  if (part && kindOf(part).pixels && tool === 'choose')
    return { say: part.name, keys: [[key('painted'), say`correct it with strokes`]] }
  const kind = tool === 'choose' ? null : partKinds[tool]
  if (kind && (!part || part.kind !== tool)) return { say: say`${kind.placing[0]!}, to trace something new` }
  if (!part)
    return opened.parts.length ? { say: say`Click a shape to correct it, or take a tool for something new` } : null
  if (!tracing.shapeOrGhost(part)) return kind ? { say: say`${kind.placing[0]!}, for ${part.name}` } : null
  if (part.locked) return { say: say`${part.name} is locked` }
  if (selected.points.length > 1)
    return {
      say: say`${selected.points.length} points chosen`,
      keys: [
        [say`drag`, say`move`],
        [key('frame'), say`frame`],
      ],
    }
  if (selected.points.length === 1 && part.kind === 'outline' && tool === 'choose')
    return {
      say: say`One point`,
      keys: [
        [say`drag`, say`move`],
        [say`Ctrl drag`, say`fade its edge`],
        [key('corner'), say`corner`],
        [key('smooth'), say`smooth`],
      ],
    }
  switch (opened.cell(part, playback.frame)) {
    case 'key':
      return {
        say: say`Key`,
        keys: [
          [key('accept'), say`step on`],
          besideFollowed.value ? [key('followAgain'), say`follow anew beside it`] : [key('followOn'), say`follow on`],
        ],
      }
    case 'followed':
      return {
        say: say`Followed, ${Math.round(100 * (opened.track(part).keys.find((one) => one.frame === playback.frame)?.followed ?? 0))} % sure`,
        keys: [
          [say`drag`, say`correct`],
          [key('accept'), say`make it a key`],
        ],
      }
    case 'away':
      return {
        say: say`Away on this frame`,
        keys: [
          [key('accept'), say`it is back here`],
          [key('stepOn'), say`step on`],
        ],
      }
    case 'none':
      return {
        say: say`Ghost follows the motion`,
        keys: [
          [key('accept'), say`accept and step`],
          [say`drag`, say`correct`],
        ],
      }
    case 'held':
      return {
        say: say`Held from its last key`,
        keys: [
          [key('accept'), say`make it a key`],
          [say`drag`, say`correct`],
        ],
      }
    default:
      return {
        say: say`In-between`,
        keys: [
          [key('accept'), say`make it a key`],
          [say`drag`, say`correct`],
        ],
      }
  }
})
const paintHint = computed<Hint>(() => {
  const part = selected.part?.kind === 'painted' ? selected.part : null
  const other: [string, string] = [say`Shift`, brush.value.wanted ? say`what is not` : say`what is wanted`]
  if (part?.locked) return { say: say`${part.name} is locked` }
  if (runs.answering) return { say: say`Looking at what was stroked` }
  const strokes = part ? project.childrenOf('stroke', part.id) : []
  const wish = brush.value.wanted ? say`Stroke what is wanted` : say`Stroke what is not wanted`
  if (!part || (strokes.length === 0 && opened.cell(part, playback.frame) === 'none'))
    return { say: say`${wish}, to paint a matte`, keys: [other] }
  if (strokes.length && !strokes.some((one) => !one.wanted))
    return { say: say`Now stroke what is not wanted`, keys: [[say`Shift`, say`and draw`]] }
  const state = opened.cell(part, playback.frame)
  if (state === 'none') return { say: say`No matte here. ${wish}`, keys: [[key('followOn'), say`carry it on`]] }
  if (state === 'followed')
    return {
      say: say`Carried, ${Math.round(100 * (opened.track(part).keys.find((one) => one.frame === playback.frame)?.followed ?? 0))} % sure`,
      keys: [
        [say`stroke`, say`correct`],
        [key('accept'), say`keep it`],
      ],
    }
  return {
    say: wish,
    keys: [
      other,
      besideFollowed.value ? [key('followAgain'), say`carry anew beside it`] : [key('followOn'), say`carry on`],
    ],
  }
})
/** Whether this key stands next to followed frames, which a correction here may have made worth following anew. */
const besideFollowed = computed(() => {
  const keys = selected.part ? opened.track(selected.part).keys : []
  const at = keys.findIndex((one) => one.frame === playback.frame)
  return [keys[at - 1], keys[at + 1]].some((one) => one && !isHandKey(one))
})
const reachSaid = computed(
  () =>
    ({
      frame: say`Let go to keep it as a key of this frame`,
      all: say`Let go to change all keys alike`,
      range: selected.range
        ? say`Let go to change the keys ${selected.range.from} to ${selected.range.to}`
        : say`Let go to keep it as a key`,
      fade: say`Let go; the change fades out over ${selected.fadeFrames} frames`,
    })[selected.over],
)
</script>

<template>
  <div
    v-if="hint && !viewing.peeking && !opened.trouble"
    class="pointer-events-none absolute bottom-3 left-1/2 flex -translate-x-1/2 items-center gap-2 rounded-[9px] bg-panel/90 px-3 py-1.5 whitespace-nowrap"
    data-testid="hint"
    role="status"
  >
    <span>{{ hint.say }}</span>
    <template v-for="[press, what] in hint.keys ?? []" :key="press">
      <kbd class="key">{{ press }}</kbd> <span class="text-second">{{ what }}</span>
    </template>
  </div>
</template>
