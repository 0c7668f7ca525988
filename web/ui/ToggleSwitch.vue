<script setup lang="ts">
import { Switch } from '@headlessui/vue'

const on = defineModel<boolean>({ required: true })
</script>

<template>
  <Switch
    v-model="on"
    class="relative h-[18px] w-8 rounded-full transition-colors"
    :class="on ? 'bg-[#7fa86a]' : 'bg-[#4a4a4a]'"
  >
    <span
      class="absolute top-0.5 size-3.5 rounded-full bg-text transition-[left]"
      :class="on ? 'left-[15px]' : 'left-0.5'"
    />
  </Switch>
</template>
