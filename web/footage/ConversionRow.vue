<script setup lang="ts">
import { RadioGroup, RadioGroupLabel, RadioGroupOption } from '@headlessui/vue'
import { X } from '@lucide/vue'
import { computed, ref } from 'vue'
import type { ConversionChoices, ConversionState } from '#core/records/exchange.ts'
import { say } from '#core/say.ts'
import { heard } from '../language/heard.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import IconButton from '../ui/IconButton.vue'
import ProgressBar from '../ui/ProgressBar.vue'
import { useConversions } from './conversions.ts'

/** A clip that is being converted: what is asked of it, how far it is, or why it can not be. */
const props = defineProps<{ one: ConversionState }>()
const conversions = useConversions()

const chosen = ref<ConversionChoices | null>(props.one.questions && { ...props.one.questions.best })
const asked = computed(() => (props.one.state === 'asking' && chosen.value ? props.one.questions : null))
const fits = (is: boolean) => (is ? say` (fits)` : '')
const streams = computed(
  () =>
    asked.value?.streams.map(({ stream, label }, i) => ({
      value: stream,
      label: `${i + 1}: ${label}${fits(stream === asked.value!.best.stream)}`,
    })) ?? [],
)
const widths = computed(
  () =>
    asked.value?.widths.map((width) => ({
      value: width,
      label: say`${width} px${fits(width === asked.value!.best.width)}`,
    })) ?? [],
)
const pictures = [
  { value: 'frame' as const, label: say`two fields, one picture (fits)` },
  { value: 'field' as const, label: say`a picture of each field` },
]
const lights = [
  {
    value: 'kept' as const,
    label: say`all of its light (fits)`,
    about: say`drawn together: sky and lamps keep their detail`,
  },
  {
    value: 'cut' as const,
    label: say`white as usual`,
    about: say`more contrast: what is brighter than white is white`,
  },
]
/** Pictures that could not be made. */
const unseen = ref(new Set<string>())
const said = computed(() => {
  const { state, share, left } = props.one
  if (state === 'waiting') return say`waits for its turn`
  const rest =
    left === null ? '' : left < 60 ? say`, ${Math.ceil(left)} s left` : say`, ${Math.ceil(left / 60)} min left`
  return `${Math.round(100 * share)}%${rest}`
})
</script>

<template>
  <li class="flex min-h-11 flex-wrap items-center gap-3 rounded-[9px] bg-raised px-3 py-2">
    <span class="w-56 truncate" :title="one.name">{{ one.name }}</span>
    <span v-if="one.error" class="flex-1 text-ember" role="alert">{{ heard(one.error) }}</span>
    <template v-else-if="asked && chosen">
      <span class="whitespace-nowrap text-second">{{ one.called }}</span>
      <span class="flex flex-1 flex-wrap items-center justify-end gap-x-4 gap-y-1">
        <ChoiceField
          v-if="streams.length > 1"
          v-model="chosen.stream"
          :label="say`Picture`"
          class="w-64"
          :options="streams"
        />
        <ChoiceField
          v-if="asked.interlaced"
          v-model="chosen.picture"
          :label="say`Interlaced`"
          class="w-80"
          :options="pictures"
        />
        <ChoiceField
          v-if="widths.length > 1"
          v-model="chosen.width"
          :label="say`Width`"
          class="w-64"
          :options="widths"
        />
        <button type="button" class="button-main" @click="conversions.choose(one, chosen)">
          {{ say`Bring it in` }}
        </button>
      </span>
      <RadioGroup v-if="asked.bright" v-model="chosen.bright" class="order-last flex w-full gap-3 pt-1">
        <RadioGroupLabel class="w-56 text-second">{{
          say`It holds more light than a usual screen shows. What becomes of it?`
        }}</RadioGroupLabel>
        <RadioGroupOption
          v-for="light in lights"
          :key="light.value"
          v-slot="{ checked }"
          :value="light.value"
          as="template"
        >
          <div
            class="flex w-72 cursor-pointer flex-col gap-1 rounded-[7px] p-2"
            :class="checked ? 'bg-selected' : 'hover:bg-panel'"
          >
            <span v-if="unseen.has(light.value)" class="py-6 text-center text-second">{{
              say`no preview of this clip`
            }}</span>
            <img
              v-else
              class="aspect-video w-full rounded bg-ground object-contain"
              :src="conversions.preview(one, light.value)"
              :alt="`${one.name}, ${light.label}`"
              @error="unseen.add(light.value)"
            />
            <span class="flex items-center gap-2">
              <span class="flex size-4 shrink-0 items-center justify-center rounded-full border border-third">
                <span v-if="checked" class="size-2 rounded-full bg-text" />
              </span>
              {{ light.label }}
            </span>
            <span class="text-s text-second">{{ light.about }}</span>
          </div>
        </RadioGroupOption>
      </RadioGroup>
    </template>
    <template v-else>
      <span
        class="whitespace-nowrap text-second"
        :title="
          one.slow ? say`Install ffmpeg where the Wisp Trail server runs: it is several times as fast` : undefined
        "
        >{{ say`${one.called}, being converted${one.slow ? say` slowly` : ''}` }}</span
      >
      <ProgressBar class="flex-1" :label="say`Converting ${one.name}`" :share="one.share" />
      <span class="numbers w-40 text-right text-second">{{ said }}</span>
    </template>
    <IconButton :icon="X" :label="one.error ? say`Dismiss` : say`Cancel ${one.name}`" @click="conversions.drop(one)" />
  </li>
</template>
