<script setup lang="ts">
import { Signpost, X } from '@lucide/vue'
import { inject } from 'vue'
import { say } from '#core/say.ts'
import IconButton from '../../ui/IconButton.vue'
import { guideKey, guiding } from '../guide.ts'

/** The next thing to do for who goes this way for the first time; it watches what is done, and can be left. */
const guide = inject(guideKey, null)
</script>

<template>
  <div
    v-if="guide"
    class="flex w-fit max-w-full items-center gap-2 rounded-[9px] bg-panel/95 py-1 pr-1 pl-3"
    role="status"
    :aria-label="say`What next`"
    data-testid="guide"
  >
    <Signpost :size="16" class="shrink-0 text-wisp" aria-hidden="true" />
    <span class="min-w-0">{{ guide.say }}</span>
    <template v-for="[press, what] in guide.keys ?? []" :key="press">
      <kbd class="key whitespace-nowrap">{{ press }}</kbd> <span class="text-second">{{ what }}</span>
    </template>
    <button v-if="guide.go" type="button" class="button !h-7 shrink-0" @click="guide.go.run()">
      {{ guide.go.label }}
    </button>
    <IconButton class="!size-7" :icon="X" :label="say`No more of this`" @click="guiding = false" />
  </div>
</template>
