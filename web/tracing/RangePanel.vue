<script setup lang="ts">
import { X } from '@lucide/vue'
import { computed, ref } from 'vue'
import { toast } from 'vue-sonner'
import { still } from '#core/parameters/builders.ts'
import type { Tween } from '#core/records/types.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useSelection } from '../editor/selection.ts'
import { useTracing } from '../editor/tracing.ts'
import { tweens } from '../editor/tweens.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import IconButton from '../ui/IconButton.vue'
import NumberField from '../ui/NumberField.vue'
import { attend } from '../ui/troubles.ts'
import { typedNumber } from '../ui/typedNumber.ts'

/** What can be done to the keys of the range that is chosen on the sheet. */
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const tracing = useTracing()
const tolerance = ref(1)
const keys = computed(() => tracing.rangeKeys())
/** Those of painted mattes, too. */
const all = computed(() => tracing.rangeKeys(true).flatMap((one) => one.keys))
const count = computed(() => keys.value.reduce((sum, one) => sum + one.keys.length, 0))
const computedOnes = computed(() => all.value.filter((key) => !isHandKey(key)).length)
const styles: { value: Tween | '' | 'mixed'; label: string }[] = [
  { value: '', label: say`as the part` },
  ...tweens,
  { value: 'mixed', label: say`mixed` },
]
const style = computed(() => {
  const all = new Set(keys.value.flatMap((one) => one.keys.map((key) => key.tween)))
  return all.size === 1 ? [...all][0]! : all.size ? ('mixed' as const) : ('' as const)
})
async function thin(): Promise<void> {
  const dropped = await tracing.thinOut(tolerance.value)
  toast(dropped ? say`${dropped} of ${count.value + dropped} keys were not needed.` : say`Every key here is needed.`)
}
const within = still(
  say`Within`,
  'px',
  [0.1, 20, 0.1],
  1,
  say`Keys that the in-betweens explain within so many pixels can go.`,
)

/** The range as it is typed: an end beyond the other one takes that along. */
function typed(end: 'from' | 'to', event: Event): void {
  const input = event.target as HTMLInputElement
  const { range } = selected
  const value = typedNumber(input.value, end === 'from' ? say`The first frame` : say`The last frame`)
  if (range && value !== null) {
    const frame = Math.max(0, Math.min(opened.length - 1, Math.round(value)))
    selected.range =
      end === 'from'
        ? { ...range, from: frame, to: Math.max(frame, range.to) }
        : { ...range, from: Math.min(frame, range.from), to: frame }
  }
  input.value = String(selected.range?.[end] ?? '')
}
/** Half a second from here on: its ends are set then. */
function begin(): void {
  const { part } = selected
  if (!part) return
  const from = playback.frame
  const to = Math.min(opened.length - 1, from + Math.round((opened.media?.rate ?? 24) / 2))
  selected.range = { from, to, parts: [part.id] }
}
</script>

<template>
  <section v-if="selected.range" :aria-label="say`Chosen range`" class="mt-2 border-t pt-1.5">
    <header class="flex h-8 items-center justify-between">
      <h3 class="heading flex items-center gap-1">
        {{ say`Range` }}
        <input
          v-for="end in ['from', 'to'] as const"
          :key="end"
          class="field numbers !h-7 w-12 !px-1 text-center"
          inputmode="numeric"
          :aria-label="end === 'from' ? say`Range from frame` : say`Range to frame`"
          :value="selected.range[end]"
          @change="typed(end, $event)"
          @keydown.enter="($event.target as HTMLInputElement).blur()"
        />
      </h3>
      <span class="flex items-center gap-1 text-second">
        <span
          ><span class="numbers">{{ all.length }}</span> {{ all.length === 1 ? say`key` : say`keys` }}</span
        >
        <IconButton :icon="X" :label="say`Leave the range`" keys="Esc" class="!size-6" @click="selected.range = null" />
      </span>
    </header>
    <ChoiceField
      :label="say`Spans`"
      :options="style === 'mixed' ? styles : styles.slice(0, -1)"
      :model-value="style"
      @update:model-value="(value) => value !== 'mixed' && tracing.setSpans(value)"
    />
    <NumberField :of="within" v-model="tolerance" />
    <div class="mt-1 grid grid-cols-2 gap-1.5">
      <button type="button" class="button" :disabled="count < 1" @click="attend(thin(), say`thin out`)">
        {{ say`Thin out` }}
      </button>
      <button type="button" class="button" :disabled="all.length < 1" @click="tracing.removeKeys()">
        {{ say`Remove keys` }}
      </button>
      <button
        v-if="computedOnes"
        type="button"
        class="button col-span-2"
        :title="say`They count as set by hand from then on: no following and no carrying computes them anew`"
        @click="tracing.keepRange()"
      >
        {{ computedOnes === 1 ? say`Keep 1 frame as it is` : say`Keep ${computedOnes} frames as they are` }}
      </button>
    </div>
    <p class="mt-1.5 text-s text-third">
      {{ say`Drag a bead to move its keys, with Alt to copy; drag the range’s end to stretch them.` }}
    </p>
  </section>
  <button
    v-else-if="selected.part"
    type="button"
    class="button-quiet mt-1"
    :title="say`Or sweep over the sheet with Shift`"
    @click="begin"
  >
    {{ say`choose a range of frames` }}
  </button>
</template>
