<script setup lang="ts">
import { Diamond } from '@lucide/vue'
import { computed } from 'vue'
import {
  type ColourParameter,
  isColourCurve,
  isCurve,
  type NumberParameter,
  type Setting,
} from '#core/parameters/parameters.ts'
import { say } from '#core/say.ts'
import { hasKeyAt, withKeyToggled } from './moving.ts'

/** Writes a key of a setting at the playhead, or takes it away. */
const props = defineProps<{ parameter: NumberParameter | ColourParameter; value: Setting; frame: number }>()
const emit = defineEmits<{ change: [value: Setting] }>()
const here = computed(() => hasKeyAt(props.value, props.frame))
const moving = computed(() => isCurve(props.value) || isColourCurve(props.value))
</script>

<template>
  <button
    type="button"
    class="inline-flex size-6 shrink-0 items-center justify-center rounded-[6px] hover:bg-raised"
    :aria-label="here ? say`Remove the key of ${parameter.label} here` : say`Key ${parameter.label} here`"
    :title="here ? say`Remove the key of ${parameter.label} on this frame` : say`Key ${parameter.label} on this frame`"
    :aria-pressed="here"
    @click="emit('change', withKeyToggled(parameter, value, frame))"
  >
    <Diamond
      :size="13"
      :class="moving ? 'text-text' : 'text-third'"
      :fill="here ? 'currentColor' : 'none'"
      aria-hidden="true"
    />
  </button>
</template>
