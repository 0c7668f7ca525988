<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { Search, X } from '@lucide/vue'
import { watch } from 'vue'
import { say } from '#core/say.ts'
import IconButton from './IconButton.vue'

/** A large dialog in which one of many things is chosen, and sought by words. */
defineProps<{ title: string; example: string; searchLabel: string }>()
const open = defineModel<boolean>({ required: true })
const sought = defineModel<string>('sought', { required: true })
/** Enter, while something is sought: the best answer is meant. */
const emit = defineEmits<{ first: [] }>()
watch(open, (now) => {
  if (now) sought.value = ''
})
</script>

<template>
  <Dialog :open="open" class="fixed inset-0 z-20" @close="open = false">
    <div class="absolute inset-0 bg-black/50" aria-hidden="true" />
    <div class="absolute inset-0 flex items-center justify-center p-6">
      <DialogPanel class="flex h-[560px] w-[860px] max-w-full flex-col rounded-[10px] border bg-panel">
        <header class="flex h-12 shrink-0 items-center gap-3 border-b pr-2 pl-4">
          <DialogTitle class="text-l font-semibold">{{ title }}</DialogTitle>
          <label class="field ml-auto flex h-8 w-64 items-center gap-2 !px-2">
            <Search :size="15" class="text-third" aria-hidden="true" />
            <input
              v-model="sought"
              class="min-w-0 flex-1 bg-transparent outline-none"
              type="search"
              :placeholder="example"
              :aria-label="searchLabel"
              @keydown.enter.prevent="sought.trim() && emit('first')"
            />
          </label>
          <IconButton :icon="X" :label="say`Close`" @click="open = false" />
        </header>
        <slot />
      </DialogPanel>
    </div>
  </Dialog>
</template>
