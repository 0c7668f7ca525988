<script setup lang="ts">
import { computed, ref } from 'vue'
import { still } from '#core/parameters/builders.ts'
import { limits } from '#core/records/limits.ts'
import { say } from '#core/say.ts'
import { brush } from '../editor/brush.ts'
import { useCast } from '../editor/cast.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import RunPanel from '../editor/runs/RunPanel.vue'
import { useSelection } from '../editor/selection.ts'
import { keysOf } from '../editor/shortcuts.ts'
import { useTracing } from '../editor/tracing.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import NumberField from '../ui/NumberField.vue'
import { usePainting } from './painting.ts'

/** The brush of a painted matte, and how it is carried through the clip; `render` asks for its file. */
defineEmits<{ render: [] }>()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const cast = useCast()
const painting = usePainting()
const tracing = useTracing()

const sides = [
  { value: 'wanted' as const, label: say`what is wanted` },
  { value: 'not' as const, label: say`what is not` },
]
const side = computed({
  get: () => (brush.value.wanted ? ('wanted' as const) : ('not' as const)),
  set: (value) => (brush.value.wanted = value === 'wanted'),
})
const size = computed({ get: () => brush.value.size, set: (value) => (brush.value.size = value) })
const strokes = computed(() => (selected.part ? tracing.strokesAt(selected.part, playback.frame).length : 0))
/** Nothing is painted yet: there is no matte to make anything of. */
const empty = computed(() => !selected.part || opened.track(selected.part).keys.length === 0)
const tolerance = ref(1.5)
const keys = (name: 'brushSmaller' | 'brushLarger') => keysOf(name)[0]?.join(' ') ?? ''
const width = still(
  say`Size`,
  'px',
  [1, Math.min(200, limits.brush), 1],
  16,
  say`Width of a stroke (${keys('brushSmaller')} smaller, ${keys('brushLarger')} larger)`,
)
const tolerated = still(
  say`As outline`,
  'px',
  [0.5, 12, 0.5],
  1.5,
  say`How far an outline of few points may lie off the matte.`,
)
</script>

<template>
  <section v-if="selected.part" :aria-label="say`Paint`" class="flex flex-col">
    <h3 class="heading flex h-8 items-center">{{ say`Brush` }}</h3>
    <ChoiceField v-model="side" :label="say`Strokes say`" :options="sides" />
    <NumberField :of="width" v-model="size" />
    <div class="mt-1 flex items-center justify-between">
      <span class="text-second" data-testid="strokes"
        ><span class="numbers text-text">{{ strokes }}</span>
        {{ say`${strokes === 1 ? say`stroke` : say`strokes`} here` }}</span
      >
      <button
        type="button"
        class="button"
        :disabled="strokes === 0 || selected.part.locked"
        :title="say`Takes the strokes of this frame back, with the matte that came from them`"
        @click="painting.clearStrokes(selected.part)"
      >
        {{ say`take back` }}
      </button>
    </div>
  </section>
  <RunPanel
    v-if="selected.part"
    :title="say`Carry`"
    :verb="say`carry`"
    :past="say`carried`"
    :hand-frame="say`painted`"
    :again="say`The spans next to this painted frame are carried anew`"
    @go="painting.carry($event)"
  >
    <template #beside>
      <button
        type="button"
        class="button ml-auto !px-2"
        :aria-pressed="selected.part.locked"
        :title="
          selected.part.locked
            ? say`The matte is kept as it is and not computed again`
            : say`Keeps the matte as it is: no stroke and no carrying changes it`
        "
        @click="
          cast.change(
            selected.part!,
            { locked: !selected.part!.locked },
            `${selected.part!.locked ? say`Unlock` : say`Lock`} ${selected.part!.name}`,
          )
        "
      >
        {{ selected.part.locked ? say`unlock` : say`lock` }}
      </button>
    </template>
    <div class="mt-2 flex items-end gap-1.5">
      <NumberField :of="tolerated" v-model="tolerance" class="min-w-0 flex-1" />
    </div>
    <button
      type="button"
      class="button mt-1 w-full"
      :disabled="empty"
      :title="say`An outline part with the same few points on every frame that has a matte, beside this one`"
      @click="painting.toOutline(tolerance)"
    >
      {{ say`make an outline of it` }}
    </button>
    <button
      type="button"
      class="button mt-1 w-full"
      :disabled="empty"
      :title="say`Into the queue as pictures, as Output offers them: there it can be stopped, and asked for otherwise`"
      @click="$emit('render')"
    >
      {{ say`render the matte` }}
    </button>
  </RunPanel>
</template>
