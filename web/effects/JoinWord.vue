<script setup lang="ts">
import { computed } from 'vue'
import { shotAfter } from '#core/records/film.ts'
import { shotLength } from '#core/records/types.ts'
import { useBench } from '../editor/bench.ts'
import { useEffects } from './effects.ts'
import { useProject } from '../project/project.ts'
import NumberField from '../ui/NumberField.vue'
import PopWord from '../ui/PopWord.vue'

/** The next shot and over how many frames it takes over. */
const project = useProject()
const bench = useBench()
const effects = useEffects()
const next = computed(() => (bench.shot ? shotAfter(project.records()!, bench.shot) : null))
</script>

<template>
  <PopWord v-if="next && bench.shot" label="How it is joined">
    <template #phrase>
      <span class="word" :class="{ 'text-ember': !bench.shot.join }">{{
        bench.shot.join ? `${next.name} over ${bench.shot.join} frames` : `${next.name}, which is not joined yet`
      }}</span>
    </template>
    <p class="text-s text-second">The last frames of this shot run together with the first ones of {{ next.name }}.</p>
    <NumberField
      label="Joined over"
      hint="Frames on which both shots run; 0 for a cut."
      unit="frames"
      :min="0"
      :max="Math.min(shotLength(bench.shot), shotLength(next))"
      :step="1"
      :standard="12"
      :model-value="bench.shot.join"
      @update:model-value="effects.join(bench.shot, $event)"
    />
  </PopWord>
  <span v-else class="text-ember">the next shot, but this one is the last</span>
</template>
