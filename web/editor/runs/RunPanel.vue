<script setup lang="ts">
import { computed, ref } from 'vue'
import type { FrameSpan } from '#core/edits/frameSpan.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import ChoiceField from '../../ui/ChoiceField.vue'
import ProgressBar from '../../ui/ProgressBar.vue'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { useSelection } from '../selection.ts'
import { keysOf } from '../shortcuts.ts'
import { followWishes } from './followWishes.ts'
import { useRuns } from './runs.ts'

/**
 * Work that goes on over frames of the chosen part: over which, how far it is, how to stop it, and what came of it. The slot
 * `beside` stands in the row of its buttons, the other below while nothing runs.
 */
const props = defineProps<{
  title: string
  /** What it does, as the word on its button and in the past. */
  verb: string
  past: string
  /** What frames set by hand are called. */
  handFrame: string
  again: string
}>()
const emit = defineEmits<{ go: [span: FrameSpan] }>()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const runs = useRuns()

const span = ref<Exclude<FrameSpan, 'again' | 'all'>>('on')
const spans = computed(() => [
  { value: 'on' as const, label: say`on to the next ${props.handFrame}` },
  { value: 'back' as const, label: say`back to the ${props.handFrame} before` },
  { value: 'both' as const, label: say`both ways` },
  { value: 'end' as const, label: say`on to the end` },
  { value: 'start' as const, label: say`back to the start` },
  { value: 'step' as const, label: say`one frame on` },
  { value: 'stepBack' as const, label: say`one frame back` },
  {
    value: 'range' as const,
    label: selected.range ? say`frames ${selected.range.from} to ${selected.range.to}` : say`the chosen range`,
  },
])
const made = computed(() => {
  const keys = selected.part ? opened.track(selected.part).keys.filter((key) => !isHandKey(key)) : []
  return { all: keys.length, unsure: keys.filter((key) => key.followed! < followWishes.value.unsure).length }
})
/** How many frames a run would compute; null where it can not begin. */
const computes = (over: FrameSpan) => {
  const frames = selected.part && !runs.run ? runs.framesOf(selected.part, over) : null
  return frames && typeof frames !== 'string' ? frames.total : null
}
const counts = computed(() => ({ go: computes(span.value), again: onHandKey.value ? computes('again') : null }))
/** Whether the run is about the chosen part, or about several of its member. */
const isOurs = computed(() => {
  const part = opened.parts.find((one) => one.id === runs.run?.part)
  return part?.id === selected.partId || (runs.run?.among && part?.member === selected.part?.member)
})
const onHandKey = computed(() => selected.part && opened.cell(selected.part, playback.frame) === 'key')
</script>

<template>
  <section v-if="selected.part" :aria-label="title" class="mt-2 border-t pt-1">
    <header class="flex h-8 items-center justify-between">
      <h3 class="heading">{{ title }}</h3>
      <span v-if="made.all" class="text-s text-second" :data-testid="past"
        ><span class="numbers">{{ made.all }}</span> {{ say`frames`
        }}<template v-if="made.unsure"
          >,
          <span class="text-ember"
            ><span class="numbers">{{ made.unsure }}</span> {{ say`unsure` }}</span
          ></template
        ></span
      >
    </header>
    <template v-if="runs.run && isOurs">
      <ProgressBar :label="say`Frames ${past}`" :share="runs.progress" />
      <div class="mt-1.5 flex items-center justify-between gap-2">
        <span class="text-second" aria-live="polite"
          ><template v-if="runs.run.among"
            >{{ say`part ${runs.run.among.place + 1} of ${runs.run.among.count}` }},{{ ' ' }}</template
          >{{ say`frame` }} <span class="numbers text-text">{{ playback.frame }}</span></span
        >
        <button type="button" class="button" :disabled="runs.stopping" @click="runs.stop()">
          {{ say`stop, keep it` }} <kbd class="key">{{ say`Esc` }}</kbd>
        </button>
      </div>
    </template>
    <template v-else>
      <ChoiceField v-model="span" :label="say`Over`" :options="spans" />
      <div class="mt-1.5 flex flex-wrap items-center gap-1.5">
        <button
          type="button"
          class="button-main"
          :disabled="runs.run !== null || selected.part.locked"
          @click="emit('go', span)"
        >
          {{ verb
          }}<kbd v-if="span === 'on'" class="key !border-on-wisp/40 !text-on-wisp">{{
            keysOf('followOn')[0]?.join(' ')
          }}</kbd>
        </button>
        <button
          type="button"
          class="button"
          :disabled="runs.run !== null || selected.part.locked || !onHandKey"
          :title="`${props.again} (${keysOf('followAgain')[0]?.join(' ') ?? ''})`"
          @click="emit('go', 'again')"
        >
          {{ say`again` }}
        </button>
        <slot name="beside" />
      </div>
      <p v-if="counts.go !== null" class="mt-1 text-s text-second" data-testid="run-frames">
        <span class="numbers">{{ counts.go }}</span>
        {{ say`${counts.go === 1 ? say`frame` : say`frames`} to be ${past}`
        }}<template v-if="counts.again"
          >, <span class="numbers">{{ counts.again }}</span> {{ say`again` }}</template
        >
      </p>
      <slot />
    </template>
  </section>
</template>
