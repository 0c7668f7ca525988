<script setup lang="ts">
import { computed } from 'vue'
import { still } from '#core/parameters/builders.ts'
import { shotAfter } from '#core/records/film.ts'
import { shotLength } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { joinShots } from '../project/joinShots.ts'
import { useProject } from '../project/project.ts'
import NumberField from '../ui/NumberField.vue'
import PopWord from '../ui/PopWord.vue'

/** The next shot and over how many frames it takes over. */
const project = useProject()
const opened = useOpenShot()
const next = computed(() => (opened.shot ? shotAfter(project.records()!, opened.shot) : null))
const frames = computed(() => {
  const most = next.value && opened.shot ? Math.min(shotLength(opened.shot), shotLength(next.value)) : 0
  return still(say`Joined over`, 'frames', [0, most, 1], 12, say`Frames on which both shots run; 0 for a cut.`)
})
</script>

<template>
  <PopWord v-if="next && opened.shot" :label="say`How it is joined`">
    <template #phrase>
      <span class="word" :class="{ 'text-ember': !opened.shot.join }">{{
        opened.shot.join
          ? say`${next.name} over ${opened.shot.join} frames`
          : say`${next.name}, which is not joined yet`
      }}</span>
    </template>
    <p class="text-s text-second">
      {{ say`The last frames of this shot run together with the first ones of ${next.name}.` }}
    </p>
    <NumberField :of="frames" :model-value="opened.shot.join" @update:model-value="joinShots(opened.shot, $event)" />
  </PopWord>
  <span v-else class="text-ember">{{ say`the next shot, but this one is the last` }}</span>
</template>
