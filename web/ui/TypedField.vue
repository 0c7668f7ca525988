<script setup lang="ts">
import { ref } from 'vue'

/** A field whose text counts once it is left or Enter is pressed; what is being typed stays, whatever is drawn anew meanwhile. */
defineProps<{ value: string | number }>()
const emit = defineEmits<{ typed: [text: string] }>()
const typed = ref<string | null>(null)

function take(): void {
  const text = typed.value
  typed.value = null
  if (text !== null) emit('typed', text)
}
</script>

<template>
  <input
    class="field numbers"
    :value="typed ?? value"
    @input="typed = ($event.target as HTMLInputElement).value"
    @change="take"
    @keydown.enter="take"
    @keydown.esc="typed = null"
  />
</template>
