<script setup lang="ts">
import { computed } from 'vue'
import { say } from '#core/say.ts'
import CastChip from '../editor/CastChip.vue'
import { useProject } from '../project/project.ts'
import WordChoice from '../ui/WordChoice.vue'

/** Somebody of the cast as a word of a sentence. `needed`: whether the sentence makes no sense without him. */
const props = defineProps<{
  label: string
  nothing: string
  options: readonly { value: string; label: string }[]
  needed?: boolean
}>()
const chosen = defineModel<string>({ required: true })
const project = useProject()
const member = computed(() => project.get('member', chosen.value))
const otherwise = computed(() =>
  chosen.value ? say`somebody who is gone` : props.needed ? say`nobody yet` : say`nobody`,
)
</script>

<template>
  <WordChoice
    :model-value="chosen"
    @update:model-value="chosen = $event"
    :label="label"
    :nothing="nothing"
    :options="options"
  >
    <CastChip v-if="member" :name="member.name" :colour="member.colour" />
    <span v-else class="word" :class="{ 'text-ember': needed }">{{ otherwise }}</span>
  </WordChoice>
</template>
