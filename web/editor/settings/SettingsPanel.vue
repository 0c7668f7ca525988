<script setup lang="ts">
import { computed } from 'vue'
import type { ColourParameter, Parameter, Setting, Settings } from '#core/parameters/parameters.ts'
import ListField from './ListField.vue'
import ParameterField from './ParameterField.vue'
import StopsField from './StopsField.vue'
import { settingNow } from './moving.ts'

/** Settings made from their description: nobody writes a panel per kind. */
const props = defineProps<{
  parameters: readonly Parameter[]
  settings: Settings
  frame: number
  /** Whose motion a fresh drive takes. */
  of?: string | undefined
  /** Whether numbers hang on motion only. */
  motionOnly?: boolean | undefined
}>()
const emit = defineEmits<{ change: [name: string, value: Setting] }>()

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
  <div class="flex flex-col gap-0.5">
    <template v-for="p in parameters" :key="p.name">
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
</template>
