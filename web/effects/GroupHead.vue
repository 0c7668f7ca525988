<script setup lang="ts">
import { ChevronDown, ChevronRight } from '@lucide/vue'
import { computed } from 'vue'
import { opacityParameter } from '#core/parameters/opacity.ts'
import type { Setting } from '#core/parameters/parameters.ts'
import type { Effect } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import SettingWord from '../editor/settings/SettingWord.vue'
import EditableName from '../ui/EditableName.vue'
import IconButton from '../ui/IconButton.vue'
import ToggleSwitch from '../ui/ToggleSwitch.vue'
import { useEffects } from './effects.ts'

/** Cards that stand together: named, folded and switched as one. */
const props = defineProps<{ cards: Effect[]; folded: boolean }>()
defineEmits<{ fold: [] }>()
const effects = useEffects()
/** One number for all of the group; it stands still. */
const share = { ...opacityParameter, label: say`Opacity of the group`, keyed: false }
const setShare = (value: Setting) =>
  effects.changeAll(props.cards, { groupOpacity: Number(value) }, say`Set the opacity of a group`)
const name = computed(() => props.cards[0]!.group)
</script>

<template>
  <header class="flex h-8 items-center gap-1 pr-1" :aria-label="say`Group ${name}`">
    <IconButton
      :icon="folded ? ChevronRight : ChevronDown"
      :label="folded ? say`Unfold ${name}` : say`Fold ${name}`"
      class="!size-6"
      @click="$emit('fold')"
    />
    <EditableName
      class="min-w-0 flex-1 font-semibold"
      :name="name"
      :label="say`Name of the group`"
      @rename="effects.changeAll(cards, { group: $event }, say`Rename a group`)"
    />
    <span class="text-second">
      <SettingWord :parameter="share" :value="cards[0]!.groupOpacity ?? 1" @change="setShare($event)" />
    </span>
    <ToggleSwitch
      :model-value="cards.some((one) => one.on)"
      :aria-label="say`${name} on`"
      @update:model-value="
        effects.changeAll(cards, { on: $event }, $event ? say`Turn a group on` : say`Turn a group off`)
      "
    />
  </header>
</template>
