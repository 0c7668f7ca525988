<script setup lang="ts">
import { computed } from 'vue'
import { partKinds } from '#core/shapes/registry.ts'
import { isHandKey } from '#core/shapes/track.ts'
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
const leaveIt: [string, string] = ['Esc', 'leave it']

const hint = computed<Hint | null>(() => {
  const { part, tool } = selected
  const { state } = props
  if (runs.run)
    return {
      say: `${runs.run.what === 'follow' ? 'Following' : 'Carrying'} ${project.get('part', runs.run.part)?.name ?? ''}`,
      keys: [['Esc', 'stop, keep what is done']],
    }
  if (playback.playing || tool === 'hand') return null
  if (tool === 'painted') return paintHint.value
  switch (state.name) {
    case 'dragging':
      return { say: reachSaid.value, keys: [leaveIt, [`hold ${key('snap')}`, 'to edges']] }
    case 'placing': {
      const outside = state.kind.kind === 'rod' ? ', even outside the picture' : ''
      return { say: `${state.kind.placing[state.clicks.length / 2]!}${outside}`, keys: [leaveIt] }
    }
    case 'outlining':
      return state.nodes.length >= 24
        ? {
            say: 'Next point',
            keys: [
              ['click the first', 'close'],
              [key('accept'), 'close'],
              [key('removeKey'), 'take back'],
            ],
          }
        : { say: 'Click the next point, or press and drag it smooth', keys: [leaveIt] }
    case 'stroking':
      return { say: 'Draw around it and let go' }
    case 'selecting':
      return { say: state.lasso ? 'Points within the loop' : 'Points within the box' }
  }
  if (part && kindOf(part).pixels && tool === 'choose')
    return { say: part.name, keys: [[key('painted'), 'correct it with strokes']] }
  const kind = tool === 'choose' ? null : partKinds[tool]
  if (kind && (!part || part.kind !== tool)) return { say: `${kind.placing[0]!}, to trace something new` }
  if (!part)
    return opened.parts.length ? { say: 'Click a shape to correct it, or take a tool for something new' } : null
  if (!tracing.shapeOrGhost(part)) return kind ? { say: `${kind.placing[0]!}, for ${part.name}` } : null
  if (part.locked) return { say: `${part.name} is locked` }
  if (selected.points.length > 1)
    return {
      say: `${selected.points.length} points chosen`,
      keys: [
        ['drag', 'move'],
        [key('frame'), 'frame'],
      ],
    }
  if (selected.points.length === 1 && part.kind === 'outline' && tool === 'choose')
    return {
      say: 'One point',
      keys: [
        ['drag', 'move'],
        ['Ctrl drag', 'fade its edge'],
        [key('corner'), 'corner'],
        [key('smooth'), 'smooth'],
      ],
    }
  switch (opened.cell(part, playback.frame)) {
    case 'key':
      return {
        say: 'Key',
        keys: [
          [key('accept'), 'step on'],
          besideFollowed.value ? [key('followAgain'), 'follow anew beside it'] : [key('followOn'), 'follow on'],
        ],
      }
    case 'followed':
      return {
        say: `Followed, ${Math.round(100 * (opened.track(part).keys.find((one) => one.frame === playback.frame)?.followed ?? 0))} % sure`,
        keys: [
          ['drag', 'correct'],
          [key('accept'), 'make it a key'],
        ],
      }
    case 'away':
      return {
        say: 'Away on this frame',
        keys: [
          [key('accept'), 'it is back here'],
          [key('stepOn'), 'step on'],
        ],
      }
    case 'none':
      return {
        say: 'Ghost follows the motion',
        keys: [
          [key('accept'), 'accept and step'],
          ['drag', 'correct'],
        ],
      }
    case 'held':
      return {
        say: 'Held from its last key',
        keys: [
          [key('accept'), 'make it a key'],
          ['drag', 'correct'],
        ],
      }
    default:
      return {
        say: 'In-between',
        keys: [
          [key('accept'), 'make it a key'],
          ['drag', 'correct'],
        ],
      }
  }
})
const paintHint = computed<Hint>(() => {
  const part = selected.part?.kind === 'painted' ? selected.part : null
  const other: [string, string] = ['Shift', brush.value.wanted ? 'what is not' : 'what is wanted']
  if (part?.locked) return { say: `${part.name} is locked` }
  if (runs.answering) return { say: 'Looking at what was stroked' }
  const strokes = part ? project.childrenOf('stroke', part.id) : []
  const say = brush.value.wanted ? 'Stroke what is wanted' : 'Stroke what is not wanted'
  if (!part || (strokes.length === 0 && opened.cell(part, playback.frame) === 'none'))
    return { say: `${say}, to paint a matte`, keys: [other] }
  if (strokes.length && !strokes.some((one) => !one.wanted))
    return { say: 'Now stroke what is not wanted', keys: [['Shift', 'and draw']] }
  const state = opened.cell(part, playback.frame)
  if (state === 'none') return { say: `No matte here; ${say.toLowerCase()}`, keys: [[key('followOn'), 'carry it on']] }
  if (state === 'followed')
    return {
      say: `Carried, ${Math.round(100 * (opened.track(part).keys.find((one) => one.frame === playback.frame)?.followed ?? 0))} % sure`,
      keys: [
        ['stroke', 'correct'],
        [key('accept'), 'keep it'],
      ],
    }
  return {
    say,
    keys: [other, besideFollowed.value ? [key('followAgain'), 'carry anew beside it'] : [key('followOn'), 'carry on']],
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
      frame: 'Let go to keep it as a key of this frame',
      all: 'Let go to change all keys alike',
      range: selected.range
        ? `Let go to change the keys ${selected.range.from} to ${selected.range.to}`
        : 'Let go to keep it as a key',
      fade: `Let go; the change fades out over ${selected.fadeFrames} frames`,
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
