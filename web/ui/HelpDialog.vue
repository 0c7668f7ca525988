<script setup lang="ts">
import { computed, ref } from 'vue'
import { answersByChapter, soughtAnswers } from '#core/words/help.ts'
import { type Word, wordName, words } from '#core/words/words.ts'
import { say } from '#core/say.ts'
import ChapterList from './ChapterList.vue'
import SearchDialog from './SearchDialog.vue'
import WordDrawing from './WordDrawing.vue'

/** Help by what somebody wants, and our words with their drawings. */
const open = defineModel<boolean>({ required: true })
const sought = ref('')
const ourWords = say`Our words`
const chapters = [...answersByChapter.map(({ chapter }) => chapter), ourWords]
const chapter = ref(chapters[0]!)
const shown = computed(() =>
  sought.value.trim()
    ? soughtAnswers(sought.value)
    : (answersByChapter.find((one) => one.chapter === chapter.value)?.answers ?? []),
)
</script>

<template>
  <SearchDialog
    v-model="open"
    v-model:sought="sought"
    :title="say`Help`"
    :example="say`my blade is cut off …`"
    :search-label="say`What do you want to do?`"
  >
    <div class="flex min-h-0 flex-1">
      <ChapterList v-model="chapter" v-model:sought="sought" :label="say`Chapters`" :chapters="chapters" />
      <dl
        v-if="chapter === ourWords && !sought"
        class="scroll-thin grid min-h-0 flex-1 grid-cols-2 gap-x-6 gap-y-3 overflow-y-auto p-4"
        tabindex="0"
      >
        <div v-for="(says, word) in words" :key="word" class="grid grid-cols-[92px_1fr] gap-x-3">
          <dt class="contents font-semibold">
            <WordDrawing :of="word as Word" class="row-span-2 h-[46px] w-[92px]" />
            <span class="block first-letter:uppercase">{{ wordName(word as Word) }}</span>
          </dt>
          <dd class="text-second">{{ says }}</dd>
        </div>
      </dl>
      <dl v-else class="scroll-thin min-h-0 flex-1 overflow-y-auto px-5 py-3" tabindex="0" :aria-label="say`Answers`">
        <div v-for="one in shown" :key="one.asks" class="border-b py-2.5 last:border-0">
          <dt class="font-semibold">{{ one.asks }}</dt>
          <dd class="mt-0.5 max-w-[70ch] text-second">{{ one.says }}</dd>
        </div>
        <p v-if="shown.length === 0" class="py-3 text-second">
          {{ say`Nothing is said of that. Try other words, or look through the chapters at the left.` }}
        </p>
      </dl>
    </div>
  </SearchDialog>
</template>
