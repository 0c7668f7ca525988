<script setup lang="ts">
import { Activity, Plus, X } from '@lucide/vue'
import { computed } from 'vue'
import { colourCurveAt } from '#core/parameters/curves.ts'
import type { Drive } from '#core/parameters/drives.ts'
import {
  type ColourParameter,
  isColourCurve,
  isDrive,
  type NumberParameter,
  type Parameter,
  type Setting,
  type Settings,
  type Tone,
} from '#core/parameters/parameters.ts'
import ChoiceField from '../../ui/ChoiceField.vue'
import ColourField from '../../ui/ColourField.vue'
import NumberField from '../../ui/NumberField.vue'
import DriveFields from './DriveFields.vue'
import KeyButton from './KeyButton.vue'
import SettingWord from './SettingWord.vue'
import ToneField from './ToneField.vue'
import { settingNow, withSettingNow } from './moving.ts'

/** Settings made from their description: nobody writes a panel per kind. */
const props = defineProps<{ parameters: readonly Parameter[]; settings: Settings; frame: number; of?: string }>()
const emit = defineEmits<{ change: [name: string, value: Setting] }>()

/** Room for the key buttons, so that all rows end alike. */
const keyed = computed(() => props.parameters.some((p) => p.type === 'number' && p.keyed))
const valueOf = (p: Parameter): Setting => props.settings[p.name] ?? p.default
const colourNow = (p: ColourParameter): string => {
  const value = valueOf(p)
  return isColourCurve(value) ? colourCurveAt(value, props.frame) : String(value)
}
const set = (p: NumberParameter | ColourParameter, now: number | string) =>
  emit('change', p.name, withSettingNow(valueOf(p), props.frame, now))
/** A drive to begin with: the speed of the first of the cast, from the number's default up. */
const freshDrive = (p: NumberParameter): Drive => ({
  ...{ signal: 'speed', of: props.of ?? '', with: '', from: [0, 40], bend: [0, 0, 1, 1], smooth: 1, lag: 0 },
  to: [p.min > 0 ? p.min : Math.max(p.min, 0), p.default > Math.max(p.min, 0) ? p.default : p.max],
})

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
      <DriveFields
        v-if="p.type === 'number' && isDrive(valueOf(p))"
        :parameter="p"
        :drive="valueOf(p) as Drive"
        @change="emit('change', p.name, $event)"
        @release="emit('change', p.name, p.default)"
      />
      <div v-else-if="p.type === 'number'" class="flex items-center gap-0.5">
        <NumberField
          class="min-w-0 flex-1"
          :label="p.label"
          :hint="p.hint"
          :unit="p.unit"
          :min="p.min"
          :max="p.max"
          :step="p.step"
          :standard="p.default"
          :model-value="settingNow(p, valueOf(p), frame)"
          @update:model-value="set(p, $event)"
        />
        <template v-if="p.keyed">
          <button
            type="button"
            class="inline-flex h-6 w-5 shrink-0 items-center justify-center rounded-[6px] text-third hover:bg-raised hover:text-text"
            :aria-label="`Drive ${p.label} by motion`"
            :title="`Drive ${p.label} by a signal of the traced motion`"
            @click="emit('change', p.name, freshDrive(p))"
          >
            <Activity :size="13" aria-hidden="true" />
          </button>
          <KeyButton :parameter="p" :value="valueOf(p)" :frame="frame" @change="emit('change', p.name, $event)" />
        </template>
        <span v-else-if="keyed" class="w-[46px] shrink-0" />
      </div>
      <div v-else-if="p.type === 'colour'" class="flex items-center gap-1">
        <ColourField
          class="min-w-0 flex-1"
          :label="p.label"
          :hint="p.hint"
          :model-value="colourNow(p)"
          @update:model-value="set(p, $event)"
        />
        <KeyButton
          v-if="p.keyed"
          :parameter="p"
          :value="valueOf(p)"
          :frame="frame"
          @change="emit('change', p.name, $event)"
        />
        <span v-else-if="keyed" class="w-6 shrink-0" />
      </div>
      <div
        v-else-if="p.type === 'member' || p.type === 'media' || p.type === 'text'"
        class="flex min-h-7 items-center gap-2"
        :title="p.hint"
      >
        <span class="w-[88px] shrink-0 truncate text-second">{{ p.label }}</span>
        <SettingWord :parameter="p" :value="valueOf(p)" @change="emit('change', p.name, $event)" />
      </div>
      <ToneField
        v-else-if="p.type === 'tone'"
        :label="p.label"
        :hint="p.hint"
        :model-value="valueOf(p) as Tone"
        @update:model-value="emit('change', p.name, $event)"
      />
      <ChoiceField
        v-else-if="p.type === 'choice'"
        :label="p.label"
        :options="p.options"
        :model-value="String(valueOf(p))"
        @update:model-value="emit('change', p.name, $event)"
      />
      <section v-else-if="p.type === 'list'" class="my-2 border-y py-2" :aria-label="p.label">
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
