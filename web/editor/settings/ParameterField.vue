<script setup lang="ts">
import { Activity } from '@lucide/vue'
import { type Drive, freshDrive } from '#core/parameters/drives.ts'
import {
  type ColourParameter,
  isDrive,
  type NumberParameter,
  type Parameter,
  type Setting,
  type Tone,
} from '#core/parameters/parameters.ts'
import { say } from '#core/say.ts'
import ChoiceField from '../../ui/ChoiceField.vue'
import ColourField from '../../ui/ColourField.vue'
import FieldLabel from '../../ui/FieldLabel.vue'
import NumberField from '../../ui/NumberField.vue'
import DriveFields from './DriveFields.vue'
import KeyButton from './KeyButton.vue'
import SettingWord from './SettingWord.vue'
import ToneField from './ToneField.vue'
import { settingNow, withSettingNow } from './moving.ts'

/** One setting as a row, made from its description; `aligned` where the rows around it carry key buttons. */
const props = defineProps<{
  parameter: Exclude<Parameter, { type: 'list' }>
  value: Setting
  frame: number
  aligned: boolean
  /** Whose motion a fresh drive takes. */
  of?: string | undefined
  motionOnly?: boolean | undefined
}>()
const emit = defineEmits<{ change: [value: Setting] }>()
const set = (now: number | string) => emit('change', withSettingNow(props.value, props.frame, now))
const now = (p: NumberParameter | ColourParameter) => settingNow(p, props.value, props.frame)
</script>

<template>
  <DriveFields
    v-if="parameter.type === 'number' && isDrive(value)"
    :parameter="parameter"
    :drive="value as Drive"
    :motion-only="motionOnly"
    @change="emit('change', $event)"
    @release="emit('change', parameter.default)"
  />
  <div v-else-if="parameter.type === 'number' || parameter.type === 'colour'" class="flex items-center gap-0.5">
    <NumberField
      v-if="parameter.type === 'number'"
      class="min-w-0 flex-1"
      :of="parameter"
      :model-value="now(parameter) as number"
      @update:model-value="set"
    />
    <ColourField
      v-else
      class="min-w-0 flex-1"
      :label="parameter.label"
      :hint="parameter.hint"
      :model-value="now(parameter) as string"
      @update:model-value="set"
    />
    <button
      v-if="parameter.type === 'number' && parameter.keyed"
      type="button"
      class="inline-flex h-6 w-5 shrink-0 items-center justify-center rounded-[6px] text-third hover:bg-raised hover:text-text"
      :aria-label="say`Drive ${parameter.label} by motion`"
      :title="say`Drive ${parameter.label} by a signal of the traced motion`"
      @click="emit('change', freshDrive(parameter, of ?? ''))"
    >
      <Activity :size="13" aria-hidden="true" />
    </button>
    <span v-else-if="aligned" class="w-5 shrink-0" />
    <KeyButton
      v-if="parameter.keyed"
      :parameter="parameter"
      :value="value"
      :frame="frame"
      @change="emit('change', $event)"
    />
    <span v-else-if="aligned" class="w-6 shrink-0" />
  </div>
  <ToneField
    v-else-if="parameter.type === 'tone'"
    :label="parameter.label"
    :hint="parameter.hint"
    :model-value="value as Tone"
    @update:model-value="emit('change', $event)"
  />
  <ChoiceField
    v-else-if="parameter.type === 'choice'"
    :label="parameter.label"
    :options="parameter.options"
    :model-value="String(value)"
    @update:model-value="emit('change', $event)"
  />
  <div v-else class="flex min-h-7 items-center gap-2" :title="parameter.hint">
    <FieldLabel :label="parameter.label" />
    <SettingWord :parameter="parameter" :value="value" @change="emit('change', $event)" />
  </div>
</template>
