<script setup lang="ts">
import { Diamond, Plus, X } from '@lucide/vue'
import { computed } from 'vue'
import {
  curveAt,
  isCurve,
  withCurveKey,
  type NumberParameter,
  type Parameter,
  type Setting,
  type Settings,
} from '#core/model/parameters.ts'
import ChoiceField from '../common/ChoiceField.vue'
import ColourField from '../common/ColourField.vue'
import NumberField from '../common/NumberField.vue'

/** Settings made from their description: nobody writes a panel per kind. */
const props = defineProps<{ parameters: readonly Parameter[]; settings: Settings; frame: number }>()
const emit = defineEmits<{ change: [name: string, value: Setting] }>()

/** Room for the key buttons, so that all rows end alike. */
const keyed = computed(() => props.parameters.some((p) => p.type === 'number' && p.keyed))
const valueOf = (p: Parameter): Setting => props.settings[p.name] ?? p.default
const numberNow = (p: NumberParameter): number => {
  const value = valueOf(p)
  return isCurve(value) ? curveAt(value, props.frame) : Number(value)
}
const keyHere = (p: NumberParameter): boolean => {
  const value = valueOf(p)
  return isCurve(value) && value.keys.some((key) => key.frame === props.frame)
}

function setNumber(p: NumberParameter, number: number): void {
  const value = valueOf(p)
  if (!isCurve(value)) return emit('change', p.name, number)
  const before = value.keys.findLast((key) => key.frame <= props.frame)
  emit('change', p.name, withCurveKey(value, { frame: props.frame, value: number, ease: before?.ease ?? 'eased' }))
}

/** Writes a key at the playhead, or takes it away; without keys left the number is still again. */
function toggleKey(p: NumberParameter): void {
  const value = valueOf(p)
  const now = numberNow(p)
  if (!isCurve(value)) return emit('change', p.name, { keys: [{ frame: props.frame, value: now, ease: 'eased' }] })
  if (!keyHere(p)) return setNumber(p, now)
  const keys = value.keys.filter((key) => key.frame !== props.frame)
  emit('change', p.name, keys.length ? { keys } : now)
}

const rowsOf = (p: Parameter) => valueOf(p) as Settings[]
function setRow(p: Parameter, index: number, field: string, value: Setting): void {
  emit(
    'change',
    p.name,
    rowsOf(p).map((row, i) => (i === index ? { ...row, [field]: value } : row)),
  )
}
function addRow(p: Parameter & { type: 'list' }): void {
  const rows = rowsOf(p)
  const last = rows.at(-1)
  const fresh = Object.fromEntries(p.of.map((field) => [field.name, last?.[field.name] ?? field.default]))
  emit('change', p.name, [...rows, fresh])
}
</script>

<template>
  <div class="flex flex-col gap-0.5">
    <template v-for="p in parameters" :key="p.name">
      <div v-if="p.type === 'number'" class="flex items-center gap-1">
        <NumberField
          class="min-w-0 flex-1"
          :label="p.label"
          :hint="p.hint"
          :unit="p.unit"
          :min="p.min"
          :max="p.max"
          :step="p.step"
          :standard="p.default"
          :model-value="numberNow(p)"
          @update:model-value="setNumber(p, $event)"
        />
        <button
          v-if="p.keyed"
          type="button"
          class="inline-flex size-6 shrink-0 items-center justify-center rounded-[6px] hover:bg-raised"
          :aria-label="keyHere(p) ? `Remove the key of ${p.label} here` : `Key ${p.label} here`"
          :title="keyHere(p) ? `Remove the key of ${p.label} on this frame` : `Key ${p.label} on this frame`"
          :aria-pressed="keyHere(p)"
          @click="toggleKey(p)"
        >
          <Diamond
            :size="13"
            :class="isCurve(valueOf(p)) ? 'text-text' : 'text-third'"
            :fill="keyHere(p) ? 'currentColor' : 'none'"
            aria-hidden="true"
          />
        </button>
        <span v-else-if="keyed" class="w-6 shrink-0" />
      </div>
      <ColourField
        v-else-if="p.type === 'colour'"
        class="mr-7"
        :label="p.label"
        :hint="p.hint"
        :model-value="String(valueOf(p))"
        @update:model-value="emit('change', p.name, $event)"
      />
      <ChoiceField
        v-else-if="p.type === 'choice'"
        :label="p.label"
        :options="p.options"
        :model-value="String(valueOf(p))"
        @update:model-value="emit('change', p.name, $event)"
      />
      <section v-else class="my-2 border-y py-2" :aria-label="p.label">
        <header class="mb-1 flex items-center justify-between">
          <h3 class="heading" :title="p.hint">{{ p.label }}</h3>
          <button type="button" class="button-quiet" :disabled="rowsOf(p).length >= p.max" @click="addRow(p)">
            <Plus :size="14" aria-hidden="true" /> {{ p.item }}
          </button>
        </header>
        <div
          v-for="(row, i) in rowsOf(p)"
          :key="i"
          class="flex items-center gap-1"
          role="group"
          :aria-label="`${p.item} ${i + 1}`"
        >
          <template v-for="(field, k) in p.of" :key="field.name">
            <NumberField
              v-if="field.type === 'number'"
              bare
              :plain="k === 0"
              :class="k === 0 ? 'shrink-0' : 'min-w-0 flex-1'"
              :label="`${field.label} of ${p.item} ${i + 1}`"
              :hint="`${field.label}: ${field.hint}`"
              :unit="field.unit"
              :min="field.min"
              :max="field.max"
              :step="field.step"
              :standard="field.default"
              :model-value="Number(row[field.name] ?? field.default)"
              @update:model-value="setRow(p, i, field.name, $event)"
            />
            <ColourField
              v-else
              small
              class="order-first"
              :label="`${field.label} of ${p.item} ${i + 1}`"
              :hint="row[field.name] ? field.hint : `As ${field.inherits}, until it gets its own.`"
              :model-value="String(row[field.name] || settings[field.inherits ?? ''] || '#ffffff')"
              @update:model-value="setRow(p, i, field.name, $event)"
            />
          </template>
          <button
            type="button"
            class="inline-flex size-6 shrink-0 items-center justify-center rounded-[6px] text-third hover:bg-raised hover:text-text"
            :aria-label="`Remove ${p.item} ${i + 1}`"
            :title="`Remove this ${p.item}`"
            @click="
              emit(
                'change',
                p.name,
                rowsOf(p).filter((_, k) => k !== i),
              )
            "
          >
            <X :size="14" aria-hidden="true" />
          </button>
        </div>
      </section>
    </template>
  </div>
</template>
