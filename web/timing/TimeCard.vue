<script setup lang="ts">
import { computed } from 'vue'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useSelection } from '../editor/selection.ts'
import { useTiming, wordsOf } from './timing.ts'

/** When the frames of the shot run, as a sentence: it comes before all that is made of them. */
const opened = useOpenShot()
const selected = useSelection()
const timing = useTiming()

/** Pieces that are named in the sentence. */
const named = 3
const special = computed(() => timing.pieces.filter((piece) => wordsOf(piece)))
</script>

<template>
  <article
    class="rounded-[9px] border px-3"
    :class="selected.timing ? 'border-[#5d7a4c] bg-raised py-3' : 'border-transparent bg-[#222] py-1 hover:bg-raised'"
    :aria-label="say`Time card`"
    :aria-current="selected.timing"
  >
    <button type="button" class="block w-full text-left leading-7 text-second" @click="selected.timing = true">
      <strong class="font-semibold text-text">{{ say`Time` }}</strong>
      <template v-if="special.length === 0">{{ ' ' + say`runs as it was filmed` }}</template>
      <template v-else>
        {{ ' ' + say`of` }} <span class="numbers text-text">{{ opened.length }}</span> {{ say`frames` }}
        <template v-for="(piece, i) in special.slice(0, named)" :key="piece.at"
          >{{ i ? ', ' : '' }}<span class="numbers whitespace-nowrap text-text">{{ piece.at }}–{{ piece.to }}</span>
          {{ wordsOf(piece) }}</template
        >
        <template v-if="special.length > named">{{ ' ' + say`and ${special.length - named} more` }}</template>
      </template>
    </button>
  </article>
</template>
