<script setup lang="ts">
import { Toaster } from 'vue-sonner'
import { say } from '#core/say.ts'
import { useOutputs } from '../output/outputs.ts'

// A page that is rendering asks before it goes.
const outputs = useOutputs()
window.addEventListener('beforeunload', (event) => {
  if (outputs.busy) event.preventDefault()
})
</script>

<template>
  <RouterView />
  <!-- Beside the page, which an open dialog shuts off: what a toast offers can be taken all the same. -->
  <Teleport to="body">
    <Toaster
      theme="dark"
      :container-aria-label="say`Notices`"
      position="bottom-right"
      :visible-toasts="4"
      :toast-options="{
        style: {
          background: '#262626',
          color: '#ebe9e4',
          border: '1px solid #2e2e2e',
          fontFamily: 'var(--font-sans)',
          fontSize: '13px',
        },
        actionButtonStyle: { background: '#3a3a3a', color: '#ebe9e4', fontSize: '13px', height: '28px' },
      }"
    />
  </Teleport>
</template>
