<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { shortcuts } from '../../shortcuts.ts'

const open = defineModel<boolean>({ required: true })
</script>

<template>
  <Dialog class="fixed inset-0 z-20 flex items-center justify-center bg-black/60" :open="open" @close="open = false">
    <DialogPanel
      class="max-h-[90vh] w-[720px] overflow-y-auto rounded-[9px] border bg-panel p-5 shadow-[0_8px_24px_rgb(0_0_0/0.5)]"
    >
      <div class="mb-3 flex items-center justify-between">
        <DialogTitle class="text-l font-semibold">Keys</DialogTitle>
        <button type="button" class="button" @click="open = false">Close</button>
      </div>
      <div class="grid grid-cols-2 gap-x-8">
        <section v-for="group in shortcuts" :key="group.name" class="mb-4 break-inside-avoid">
          <h3 class="heading mb-1">{{ group.name }}</h3>
          <dl>
            <div v-for="one in group.keys" :key="one.does" class="flex h-7 items-center justify-between gap-3">
              <dt>{{ one.does }}</dt>
              <dd class="flex gap-1">
                <kbd v-for="key in one.shown" :key="key" class="key">{{ key }}</kbd>
              </dd>
            </div>
          </dl>
        </section>
      </div>
    </DialogPanel>
  </Dialog>
</template>
