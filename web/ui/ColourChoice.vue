<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { autoUpdate, flip, offset, shift, useFloating } from '@floating-ui/vue'
import { Pipette, Plus } from '@lucide/vue'
import { computed, inject, onBeforeUnmount, ref, useTemplateRef } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { still } from '#core/parameters/builders.ts'
import { colourOfLight } from '#core/pixels/colour/temperature.ts'
import { say } from '#core/say.ts'
import IconButton from './IconButton.vue'
import NumberField from './NumberField.vue'
import { colourSources, keepColour, keptColours, lastColours, noteColour } from './colours.ts'
import TypedField from './TypedField.vue'
import { hexColour } from './hexColour.ts'
import { attend } from './troubles.ts'

/**
 * A colour, chosen from the picture, from what the project uses, from what was used last, from those that were kept, by
 * temperature, or any other. What is pressed to choose goes into the slot.
 */
const props = defineProps<{ label: string; modelValue: string }>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
const sources = inject(colourSources, null)
const anchor = useTemplateRef('anchor')
const panel = useTemplateRef<{ $el: HTMLElement }>('panel')
const { floatingStyles } = useFloating(
  anchor,
  computed(() => panel.value?.$el ?? null),
  {
    strategy: 'fixed',
    placement: 'bottom-end',
    transform: false,
    middleware: [offset(4), flip(), shift({ padding: 8 })],
    whileElementsMounted: autoUpdate,
  },
)
const kelvin = ref(4500)
const temperature = still(
  say`Temperature`,
  'K',
  [1700, 12000, 50],
  4500,
  say`Light of a candle, a lamp, the sun, a blue sky.`,
)
const rows = computed(() => [
  { name: say`In this project`, colours: sources?.used.value ?? [] },
  { name: say`Used last`, colours: lastColours.value },
])

let changed = false
function set(hex: string): void {
  if (hex === props.modelValue) return
  changed = true
  emit('update:modelValue', hex)
}
function typed(text: string): void {
  const value = hexColour(text)
  if (value) set(value)
}
/** What was chosen at last is told, not all that was tried. */
function closed(): void {
  if (changed) noteColour(props.modelValue)
  changed = false
}
async function drop(close: () => void): Promise<void> {
  const taken = sources?.fromPicture.value?.()
  close()
  const hex = await taken
  if (!hex) return
  set(hex)
  noteColour(hex)
}
const remove = (hex: string) => (keptColours.value = keptColours.value.filter((one) => one !== hex))
onBeforeUnmount(closed)
</script>

<template>
  <Popover v-slot="{ close }" as="span" class="inline-flex min-w-0">
    <span ref="anchor" class="inline-flex min-w-0 flex-1">
      <PopoverButton
        class="inline-flex min-w-0 flex-1 rounded-[6px]"
        :aria-label="`${label}: ${modelValue}`"
        :title="label"
        ><slot
      /></PopoverButton>
    </span>
    <PopoverPanel
      ref="panel"
      class="menu z-40 flex w-[252px] flex-col gap-2 !p-3 text-base leading-[18px] whitespace-normal text-text"
      :style="floatingStyles"
      role="group"
      :aria-label="label"
      @vue:unmounted="closed"
    >
      <div class="flex items-center gap-2">
        <input
          type="color"
          class="swatch h-7 min-w-0 flex-1 cursor-pointer"
          :value="modelValue"
          :aria-label="say`${label}: any colour`"
          :title="say`Any colour`"
          @input="set(($event.target as HTMLInputElement).value)"
        />
        <TypedField
          class="!h-7 w-[76px] !px-1.5"
          spellcheck="false"
          :aria-label="say`${label} as a number`"
          :value="modelValue"
          @typed="typed"
        />
        <IconButton
          v-if="sources?.fromPicture.value"
          class="!size-7"
          :icon="Pipette"
          :label="say`From the picture`"
          @click="attend(drop(close), say`take a colour from the picture`)"
        />
      </div>
      <NumberField
        :of="temperature"
        :model-value="kelvin"
        @update:model-value="((kelvin = $event), set(colourOfLight($event)))"
      />
      <template v-for="row in rows" :key="row.name">
        <div v-if="row.colours.length">
          <p class="mb-1 text-s text-second">{{ row.name }}</p>
          <VueDraggable
            :model-value="row.colours"
            class="flex flex-wrap gap-1"
            :group="{ name: 'colours', pull: 'clone', put: false }"
            :sort="false"
          >
            <button
              v-for="hex in row.colours"
              :key="hex"
              type="button"
              class="size-[22px] rounded-[5px] border border-[#4a4a4a]"
              :style="{ background: hex }"
              :aria-label="`${row.name}: ${hex}`"
              :title="hex"
              @click="set(hex)"
            />
          </VueDraggable>
        </div>
      </template>
      <div>
        <p class="mb-1 text-s text-second">{{ say`Kept, for every project` }}</p>
        <VueDraggable
          v-model="keptColours"
          class="flex min-h-[22px] flex-wrap gap-1"
          group="colours"
          :animation="100"
          filter=".no-drag"
          @add="keptColours = [...new Set(keptColours)]"
        >
          <button
            v-for="hex in keptColours"
            :key="hex"
            type="button"
            class="size-[22px] rounded-[5px] border border-[#4a4a4a]"
            :style="{ background: hex }"
            :aria-label="say`Kept: ${hex}`"
            :title="say`${hex}; Delete takes it out`"
            @click="set(hex)"
            @keydown.delete.stop="remove(hex)"
          />
          <button
            type="button"
            class="no-drag inline-flex size-[22px] items-center justify-center rounded-[5px] border border-dashed border-[#4a4a4a] text-second hover:text-text"
            :aria-label="say`Keep ${modelValue}`"
            :title="say`Keep this colour; those above can be dragged here`"
            @click="keepColour(modelValue)"
          >
            <Plus :size="13" aria-hidden="true" />
          </button>
        </VueDraggable>
      </div>
    </PopoverPanel>
  </Popover>
</template>

<style scoped>
.swatch {
  appearance: none;
  border: 0;
  padding: 0;
  background: none;
}
.swatch::-webkit-color-swatch-wrapper {
  padding: 0;
}
.swatch::-webkit-color-swatch {
  border: 1px solid #4a4a4a;
  border-radius: 6px;
}
</style>
