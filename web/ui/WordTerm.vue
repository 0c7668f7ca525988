<script setup lang="ts">
import { autoUpdate, flip, offset, shift, useFloating } from '@floating-ui/vue'
import { useId, ref, useTemplateRef } from 'vue'
import { type Word, wordName, words } from '#core/words/words.ts'
import WordDrawing from './WordDrawing.vue'

/** One of our words that says what it means, in a sentence and a small drawing, to the mouse and to the keyboard. */
defineProps<{ of: Word }>()
const anchor = useTemplateRef('anchor')
const panel = useTemplateRef('panel')
const open = ref(false)
const id = useId()
/** Milliseconds that the mouse rests on a word before it speaks; and after it has left. */
const patience = { in: 350, out: 120 }
let timer: ReturnType<typeof setTimeout> | undefined
function soon(now: boolean): void {
  clearTimeout(timer)
  timer = setTimeout(() => (open.value = now), now ? patience.in : patience.out)
}
function at(now: boolean): void {
  clearTimeout(timer)
  open.value = now
}
const { floatingStyles } = useFloating(anchor, panel, {
  open,
  strategy: 'fixed',
  placement: 'bottom-start',
  middleware: [offset(6), flip(), shift({ padding: 8 })],
  whileElementsMounted: autoUpdate,
})
function leave(event: KeyboardEvent): void {
  if (!open.value) return
  event.stopPropagation()
  at(false)
}
</script>

<template>
  <span
    ref="anchor"
    class="cursor-help rounded-[3px] decoration-third/70 decoration-dotted underline-offset-4 hover:underline"
    role="term"
    tabindex="0"
    :aria-describedby="open ? id : undefined"
    @pointerenter="soon(true)"
    @pointerleave="soon(false)"
    @focus="at(($event.target as HTMLElement).matches(':focus-visible'))"
    @blur="at(false)"
    @keydown.escape="leave"
    ><slot>{{ wordName(of) }}</slot></span
  >
  <Teleport v-if="open" to="body">
    <div
      :id="id"
      ref="panel"
      role="tooltip"
      class="menu z-50 flex w-[300px] items-start gap-3 !p-2.5 text-base leading-[18px] font-normal text-text"
      :style="floatingStyles"
      @pointerenter="at(true)"
      @pointerleave="soon(false)"
    >
      <WordDrawing :of="of" class="w-[104px]" />
      <p class="min-w-0 whitespace-normal">{{ words[of] }}</p>
    </div>
  </Teleport>
</template>
