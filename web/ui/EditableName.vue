<script setup lang="ts">
import { nextTick, ref } from 'vue'

/** A name that is edited in place: double click or `edit()`; Enter keeps, Escape leaves. */
const props = defineProps<{ name: string; label: string }>()
const emit = defineEmits<{ rename: [name: string] }>()
const typed = ref<string | null>(null)
const input = ref<HTMLInputElement | null>(null)

async function edit(): Promise<void> {
  typed.value = props.name
  await nextTick()
  input.value?.select()
}
function keep(): void {
  const name = typed.value?.trim() ?? ''
  typed.value = null
  if (name && name !== props.name) emit('rename', name)
}
defineExpose({ edit })
</script>

<template>
  <input
    v-if="typed !== null"
    ref="input"
    v-model="typed"
    maxlength="80"
    class="w-full min-w-0 rounded-[4px] bg-ground px-1 text-text"
    :aria-label="label"
    @blur="keep"
    @keydown.enter.stop="keep"
    @keydown.escape.stop="typed = null"
    @keydown.stop
    @click.stop
  />
  <span v-else class="truncate" @dblclick="edit">{{ name }}</span>
</template>
