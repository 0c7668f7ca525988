<script setup lang="ts" generic="T extends string | number">
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { Check, ChevronDown } from '@lucide/vue'
import { computed, nextTick, ref } from 'vue'
import FieldLabel from './FieldLabel.vue'

const props = defineProps<{
  label: string
  modelValue: T
  options: readonly { value: T; label: string }[]
  /** Shows the choice alone, as in a bar. */
  bare?: boolean
  /** Opens upwards. */
  up?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [value: T] }>()
/** Opens upwards where there is no room below. */
const flipped = ref(false)
function look(event: Event): void {
  const button = event.currentTarget as HTMLElement
  const room = button.closest('.scroll-thin')?.getBoundingClientRect().bottom ?? window.innerHeight
  const { top, bottom } = button.getBoundingClientRect()
  const needed = props.options.length * 32 + 16
  flipped.value = bottom + needed > room && top > needed
}
/** Whether the choice is made with the mouse: then the keys go back to the picture. */
const byMouse = ref(false)
async function choose(value: T): Promise<void> {
  emit('update:modelValue', value)
  if (!byMouse.value) return
  await nextTick()
  setTimeout(() => (document.activeElement as HTMLElement | null)?.blur())
}
const chosen = computed(() => props.options.find((option) => option.value === props.modelValue)?.label ?? '')
</script>

<template>
  <Listbox
    :model-value="modelValue"
    as="div"
    class="relative flex items-center gap-2"
    @update:model-value="choose"
    @pointerdown.capture="byMouse = true"
    @keydown.capture="byMouse = false"
  >
    <FieldLabel v-if="!bare" :label="label" />
    <ListboxButton
      class="button min-w-0 justify-between gap-1.5 px-2.5"
      :class="bare ? 'h-7' : 'h-auto min-h-7 flex-1 py-1 text-left leading-4 whitespace-normal'"
      :aria-label="`${label}: ${chosen}`"
      :title="label"
      @pointerdown="look"
      @keydown="look"
    >
      <span :class="{ truncate: bare }">{{ chosen }}</span>
      <ChevronDown :size="14" class="shrink-0 text-second" aria-hidden="true" />
    </ListboxButton>
    <ListboxOptions class="menu absolute right-0" :class="up || flipped ? 'bottom-full mb-1' : 'top-full mt-1'">
      <ListboxOption
        v-for="option in options"
        :key="option.value"
        v-slot="{ active, selected }"
        :value="option.value"
        as="template"
      >
        <li class="menu-item" :class="{ 'menu-item-active': active }">
          <Check :size="14" :class="{ invisible: !selected }" aria-hidden="true" /> {{ option.label }}
        </li>
      </ListboxOption>
    </ListboxOptions>
  </Listbox>
</template>
