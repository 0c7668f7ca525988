<script setup lang="ts">
import { Plus, X } from '@lucide/vue'
import type { ListParameter, Parameter, Setting, Settings } from '#core/parameters/parameters.ts'
import { say } from '#core/say.ts'
import ColourField from '../../ui/ColourField.vue'
import NumberField from '../../ui/NumberField.vue'

/** Rows of numbers and colours, such as the halos of a blade. */
const props = defineProps<{
  parameter: ListParameter
  rows: Settings[]
  /** The settings around the list: what a colour without a value of its own takes. */
  inherited: Settings
}>()
const emit = defineEmits<{ change: [rows: Settings[]] }>()
const labelOf = (field: Parameter, row: number) => say`${field.label} of ${props.parameter.item} ${row + 1}`

function set(index: number, field: string, value: Setting): void {
  emit(
    'change',
    props.rows.map((row, i) => (i === index ? { ...row, [field]: value } : row)),
  )
}
/** A row more, like the last one. */
function add(): void {
  const last = props.rows.at(-1)
  const fresh = props.parameter.of.map((field) => [field.name, last?.[field.name] ?? field.default])
  emit('change', [...props.rows, Object.fromEntries(fresh) as Settings])
}
</script>

<template>
  <section class="my-2 border-y py-2" :aria-label="parameter.label">
    <header class="mb-1 flex items-center justify-between">
      <h3 class="heading" :title="parameter.hint">{{ parameter.label }}</h3>
      <button type="button" class="button-quiet" :disabled="rows.length >= parameter.max" @click="add">
        <Plus :size="14" aria-hidden="true" /> {{ parameter.item }}
      </button>
    </header>
    <div
      v-for="(row, i) in rows"
      :key="i"
      class="flex items-center gap-1"
      role="group"
      :aria-label="`${parameter.item} ${i + 1}`"
    >
      <template v-for="(field, k) in parameter.of" :key="field.name">
        <NumberField
          v-if="field.type === 'number'"
          bare
          :plain="k === 0"
          :class="k === 0 ? 'shrink-0' : 'min-w-0 flex-1'"
          :of="{ ...field, label: labelOf(field, i), hint: `${field.label}: ${field.hint}` }"
          :model-value="Number(row[field.name] ?? field.default)"
          @update:model-value="set(i, field.name, $event)"
        />
        <ColourField
          v-else
          small
          class="order-first"
          :label="labelOf(field, i)"
          :hint="row[field.name] ? field.hint : say`As ${field.inherits ?? ''}, until it gets its own.`"
          :model-value="String(row[field.name] || inherited[field.inherits ?? ''] || '#ffffff')"
          @update:model-value="set(i, field.name, $event)"
        />
      </template>
      <button
        type="button"
        class="inline-flex size-6 shrink-0 items-center justify-center rounded-[6px] text-third hover:bg-raised hover:text-text"
        :aria-label="say`Remove ${parameter.item} ${i + 1}`"
        :title="say`Remove this ${parameter.item}`"
        @click="
          emit(
            'change',
            rows.filter((_, k) => k !== i),
          )
        "
      >
        <X :size="14" aria-hidden="true" />
      </button>
    </div>
  </section>
</template>
