<script setup lang="ts">
import { say } from '#core/say.ts'
</script>

<!-- Over the whole page while a file is held over it. -->
<template>
  <div
    class="pointer-events-none fixed inset-3 z-10 flex items-center justify-center rounded-[9px] border-2 border-dashed border-wisp bg-ground/80 text-xl"
  >
    {{ say`Let go to bring it in` }}
  </div>
</template>
