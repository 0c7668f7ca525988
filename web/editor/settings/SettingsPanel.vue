<script setup lang="ts">
import { ChevronRight } from '@lucide/vue'
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import type { ParameterGroup } from '#core/effects/effect.ts'
import type { ColourParameter, Parameter, Setting, Settings } from '#core/parameters/parameters.ts'
import ListField from './ListField.vue'
import ParameterField from './ParameterField.vue'
import StopsField from './StopsField.vue'
import { settingNow } from './moving.ts'

/** Settings made from their description: nobody writes a panel per kind. */
const props = defineProps<{
  parameters: readonly Parameter[]
  /** The same parameters by what somebody wants of them; a group with a title can be folded. */
  wishes?: readonly ParameterGroup[] | undefined
  settings: Settings
  frame: number
  /** Whose motion a fresh drive takes. */
  of?: string | undefined
  /** Whether numbers hang on motion only. */
  motionOnly?: boolean | undefined
}>()
const emit = defineEmits<{ change: [name: string, value: Setting] }>()

const groups = computed(() => props.wishes ?? [{ title: '', parameters: props.parameters }])
/** Titles of the groups that are folded; what is not needed stays away until it is. */
const folded = useLocalStorage<string[]>('wisp-folded', [])
const fold = (title: string) =>
  (folded.value = folded.value.includes(title)
    ? folded.value.filter((other) => other !== title)
    : [...folded.value, title])

/** Room for the key buttons, so that all rows end alike. */
const aligned = computed(() => props.parameters.some((p) => p.type === 'number' && p.keyed))
const valueOf = (p: Parameter): Setting => props.settings[p.name] ?? p.default
/** A colour of the settings as it is at the playhead. */
function colourNow(name: string): string {
  const p = props.parameters.find((one): one is ColourParameter => one.type === 'colour' && one.name === name)
  return p ? settingNow(p, valueOf(p), props.frame) : '#ffffff'
}
</script>

<template>
  <div class="flex flex-col gap-3">
    <section v-for="group in groups" :key="group.title" :aria-label="group.title || undefined">
      <h3 v-if="group.title">
        <button
          type="button"
          :aria-expanded="!folded.includes(group.title)"
          class="-mx-1 flex w-full items-center gap-1 rounded-md px-1 py-1 text-left font-semibold hover:bg-raised"
          @click="fold(group.title)"
        >
          <ChevronRight :size="13" :class="{ 'rotate-90': !folded.includes(group.title) }" aria-hidden="true" />
          {{ group.title }}
        </button>
      </h3>
      <div v-if="!folded.includes(group.title)" class="flex flex-col gap-0.5">
        <template v-for="p in group.parameters" :key="p.name">
          <StopsField
            v-if="p.type === 'list' && p.along"
            :parameter="p"
            :rows="valueOf(p) as Settings[]"
            :from="colourNow(p.along.from)"
            :to="colourNow(p.along.to)"
            @change="emit('change', p.name, $event)"
          />
          <ListField
            v-else-if="p.type === 'list'"
            :parameter="p"
            :rows="valueOf(p) as Settings[]"
            :inherited="settings"
            @change="emit('change', p.name, $event)"
          />
          <ParameterField
            v-else
            :parameter="p"
            :value="valueOf(p)"
            :frame="frame"
            :aligned="aligned"
            :of="of"
            :motion-only="motionOnly"
            @change="emit('change', p.name, $event)"
          />
        </template>
      </div>
    </section>
  </div>
</template>
