<script setup lang="ts">
import { computed, ref } from 'vue'
import { framesIn, frameText } from '#core/parameters/frameList.ts'
import { signals } from '#core/parameters/drives.ts'
import { isDrive, type Parameter, type Setting } from '#core/parameters/parameters.ts'
import { valueOf, writtenOf } from '#core/parameters/written.ts'
import { colourName } from '#core/pixels/colour/colourName.ts'
import { decimals, said, say } from '#core/say.ts'
import { useProject } from '../../project/project.ts'
import ColourChoice from '../../ui/ColourChoice.vue'
import WordChoice from '../../ui/WordChoice.vue'
import { typedNumber } from '../../ui/typedNumber.ts'
import CastChip from '../CastChip.vue'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { settingNow, withSettingNow } from './moving.ts'

/** A setting as a word of a sentence, edited where it stands. */
const props = defineProps<{ parameter: Parameter; value: Setting }>()
const emit = defineEmits<{ change: [value: Setting] }>()
const opened = useOpenShot()
const playback = usePlayback()
const project = useProject()

const p = computed(() => props.parameter)
const typed = ref<string | null>(null)
const number = computed(() => {
  if (p.value.type !== 'number') return 0
  return Number(writtenOf(p.value, settingNow(p.value, props.value, playback.frame)).toFixed(2))
})
function take(): void {
  const entered = typed.value === null ? null : typedNumber(typed.value, p.value.label)
  typed.value = null
  if (entered === null || p.value.type !== 'number') return
  const bounded = Math.min(p.value.max, Math.max(p.value.min, valueOf(p.value, entered)))
  emit('change', withSettingNow(props.value, playback.frame, bounded))
}
/** Frames are written in their order, each once, and lie in the shot. */
function takeText(event: Event): void {
  const input = event.target as HTMLInputElement
  const list = p.value.type === 'text' && p.value.frames
  const text = list ? frameText(framesIn(input.value).filter((frame) => frame < opened.length)) : input.value
  input.value = text
  emit('change', text)
}
const colour = computed(() => (p.value.type === 'colour' ? settingNow(p.value, props.value, playback.frame) : ''))
const member = computed(() => project.get('member', String(props.value)))
const clips = computed(() => project.clips.map((media) => ({ value: media.id, label: media.name })))
</script>

<template>
  <span v-if="isDrive(value)" class="word" :title="parameter.label">{{
    say`driven by ${signals[value.signal].label}`
  }}</span>
  <span v-else-if="p.type === 'number'" class="whitespace-nowrap" :title="p.label">
    <input
      class="word numbers grow-with bg-transparent"
      :aria-label="p.label"
      inputmode="decimal"
      :value="typed ?? decimals(number)"
      @focus="($event.target as HTMLInputElement).select()"
      @input="typed = ($event.target as HTMLInputElement).value"
      @blur="take"
      @keydown.enter="($event.target as HTMLInputElement).blur()"
    />
    {{ said(p.unit) }}
  </span>
  <ColourChoice
    v-else-if="p.type === 'colour'"
    class="align-baseline whitespace-nowrap"
    :label="p.label"
    :model-value="colour"
    @update:model-value="emit('change', withSettingNow(value, playback.frame, $event))"
  >
    <span class="inline-flex items-baseline"
      ><span class="mr-1 inline-block size-2.5 rounded-full" :style="{ background: colour }" /><span class="word">{{
        colourName(colour)
      }}</span></span
    >
  </ColourChoice>
  <WordChoice
    v-else-if="p.type === 'choice'"
    :label="p.label"
    nothing=""
    :options="p.options"
    :model-value="String(value)"
    @update:model-value="emit('change', $event)"
  >
    <span class="word">{{ p.options.find((one) => one.value === value)?.label }}</span>
  </WordChoice>
  <WordChoice
    v-else-if="p.type === 'member'"
    :label="p.label"
    :nothing="say`Trace somebody first.`"
    :options="opened.reachable.map((one) => ({ value: one.id, label: one.name }))"
    :model-value="String(value)"
    @update:model-value="emit('change', $event)"
  >
    <CastChip v-if="member" :name="member.name" :colour="member.colour" />
    <span v-else class="word text-ember">{{ say`nobody yet` }}</span>
  </WordChoice>
  <WordChoice
    v-else-if="p.type === 'media'"
    :label="p.label"
    :nothing="say`Bring a clip in first.`"
    :options="clips"
    :model-value="String(value)"
    @update:model-value="emit('change', $event)"
  >
    <span class="word" :class="{ 'text-ember': !clips.some((one) => one.value === value) }">
      {{ clips.find((one) => one.value === value)?.label ?? (value ? say`a clip that is gone` : say`no clip yet`) }}
    </span>
  </WordChoice>
  <textarea
    v-else-if="p.type === 'text' && p.lines"
    class="word grow-with max-w-full resize-none bg-transparent align-top"
    rows="1"
    :aria-label="p.label"
    :maxlength="p.max"
    :value="String(value)"
    @change="emit('change', ($event.target as HTMLTextAreaElement).value)"
  />
  <input
    v-else-if="p.type === 'text'"
    class="word grow-with max-w-full bg-transparent"
    :aria-label="p.label"
    :maxlength="p.max"
    :value="String(value)"
    :placeholder="p.frames ? say`none yet` : undefined"
    @change="takeText"
    @keydown.enter="($event.target as HTMLInputElement).blur()"
  />
</template>

<style scoped>
/* The field is as wide as what stands in it, so that the sentence closes up. */
.grow-with {
  field-sizing: content;
  min-width: 1ch;
}
</style>
