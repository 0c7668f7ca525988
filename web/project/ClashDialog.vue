<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { say } from '#core/say.ts'
import { useProject } from './project.ts'

/** Two tabs changed the same thing: the other tab's change stands until the user decides. */
const project = useProject()
</script>

<template>
  <Dialog
    class="fixed inset-0 z-20 flex items-center justify-center bg-black/60"
    :open="project.clash !== null"
    @close="() => {}"
  >
    <DialogPanel class="w-[440px] rounded-[9px] border bg-panel p-5 shadow-[0_8px_24px_rgb(0_0_0/0.5)]">
      <DialogTitle class="mb-2 text-l font-semibold">{{ say`Changed in two places` }}</DialogTitle>
      <p class="mb-1">
        {{ say`Another tab was quicker:` }} <strong>{{ project.clash?.theirs.label }}</strong>.
      </p>
      <p class="mb-4 text-second">
        {{ say`Your change here,` }} <strong class="text-text">{{ project.clash?.mine.label }}</strong>{{
          say`, touches the same thing. You see the other tab's state now; nothing is lost yet.`
        }}
      </p>
      <div class="flex justify-end gap-2">
        <button type="button" class="button" @click="project.settle(false)">{{ say`Keep the other tab's` }}</button>
        <button type="button" class="button-main" @click="project.settle(true)">{{ say`Put mine back` }}</button>
      </div>
    </DialogPanel>
  </Dialog>
</template>
