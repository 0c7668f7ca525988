<script setup lang="ts">
import {
  Anchor,
  ChartColumn,
  GalleryHorizontal,
  Layers,
  Maximize,
  ScanEye,
  SquareDashed,
  SunDim,
  ZoomIn,
} from '@lucide/vue'
import { useWindowSize } from '@vueuse/core'
import { computed } from 'vue'
import { say } from '#core/say.ts'
import ChoiceField from '../../ui/ChoiceField.vue'
import IconButton from '../../ui/IconButton.vue'
import { useViewing, type ViewMode } from '../viewing.ts'
import ViewOptions from './ViewOptions.vue'
import { qualities } from './view.ts'

/** Ways of looking, above the picture. */
const props = defineProps<{ looks: { value: ViewMode; label: string }[]; zoom: number; light?: boolean }>()
const emit = defineEmits<{ fit: []; zoom: [k: number] }>()
const viewing = useViewing()
function toggleWipe(): void {
  viewing.wipe = viewing.wipe === null ? 0.5 : null
  viewing.mode = 'result'
}
/** Where there is no room for all ways of looking beside each other they are a list. */
const { width } = useWindowSize()
const look = computed({
  get: () => viewing.mode,
  set(mode: ViewMode) {
    viewing.mode = mode
    viewing.wipe = null
  },
})
const percent = computed(() => Math.round(props.zoom * 100))
</script>

<template>
  <div
    class="flex min-h-9 min-w-0 flex-1 flex-wrap items-center gap-x-0.5 bg-ground"
    role="toolbar"
    :aria-label="say`Ways of looking`"
  >
    <ChoiceField
      v-if="width < 860 && looks.length > 3"
      v-model="look"
      bare
      :label="say`Way of looking`"
      :options="looks"
    />
    <template v-else>
      <button
        v-for="one in looks"
        :key="one.value"
        type="button"
        class="button-quiet !px-1.5"
        :class="{ '!bg-selected !text-text': viewing.mode === one.value && viewing.wipe === null }"
        :aria-pressed="viewing.mode === one.value && viewing.wipe === null"
        @click="look = one.value"
      >
        {{ one.label }}
      </button>
    </template>
    <button
      v-if="light"
      type="button"
      class="button-quiet !px-1.5"
      :class="{ '!bg-selected !text-text': viewing.wipe !== null }"
      :aria-pressed="viewing.wipe !== null"
      :title="say`Before and after beside each other, with a line to drag`"
      @click="toggleWipe"
    >
      {{ say`Wipe` }}
    </button>
    <label v-if="viewing.mode === 'overlay'" class="flex items-center" :title="say`Strength of the tint`">
      <input
        v-model.number="viewing.overlay"
        type="range"
        min="0"
        max="0.9"
        step="0.05"
        class="w-12 accent-[#a8a6a0]"
        :aria-label="say`Strength of the tint`"
      />
    </label>
    <label
      v-else-if="viewing.mode === 'result' && !light"
      class="flex items-center"
      :title="say`How much of the result lies over the plate`"
    >
      <input
        v-model.number="viewing.through"
        type="range"
        min="0.1"
        max="1"
        step="0.05"
        class="w-12 accent-[#a8a6a0]"
        :aria-label="say`How much of the result lies over the plate`"
      />
    </label>
    <span class="flex-1" />
    <IconButton
      v-if="!light"
      :icon="Layers"
      :label="say`Neighbouring shapes`"
      keys="N"
      :pressed="viewing.onion"
      @click="viewing.onion = !viewing.onion"
    />
    <IconButton
      :icon="GalleryHorizontal"
      :label="say`Neighbouring frames`"
      keys="Shift+N"
      :pressed="viewing.strip"
      @click="viewing.strip = !viewing.strip"
    />
    <template v-if="!light">
      <IconButton
        :icon="ZoomIn"
        :label="say`Loupe`"
        keys="Z"
        :pressed="viewing.loupe"
        @click="viewing.loupe = !viewing.loupe"
      />
      <IconButton
        :icon="Anchor"
        :label="say`Hold the part still`"
        keys="H"
        :pressed="viewing.steady !== null"
        @click="viewing.holdSteady()"
      />
    </template>
    <template v-if="light">
      <IconButton
        :icon="ScanEye"
        :label="say`The chosen card alone`"
        :pressed="viewing.onlyChosen"
        @click="viewing.onlyChosen = !viewing.onlyChosen"
      />
      <IconButton
        :icon="SquareDashed"
        :label="say`Tint where the chosen card works`"
        :pressed="viewing.tintRegion"
        @click="viewing.tintRegion = !viewing.tintRegion"
      />
      <IconButton
        :icon="SunDim"
        :label="say`Mark clipped highlights`"
        :pressed="viewing.clipped"
        @click="viewing.clipped = !viewing.clipped"
      />
      <IconButton
        :icon="ChartColumn"
        :label="say`Histogram of the result`"
        :pressed="viewing.histogram"
        @click="viewing.histogram = !viewing.histogram"
      />
    </template>
    <ViewOptions :shapes="!light" />
    <ChoiceField
      v-if="light"
      v-model="viewing.quality"
      bare
      :label="say`Size at which pictures are computed`"
      :options="qualities"
    />
    <button
      type="button"
      class="button-quiet numbers w-11 !px-0"
      :title="say`Actual pixels`"
      :aria-label="say`Zoom ${percent} %; press for actual pixels`"
      @click="emit('zoom', 1)"
    >
      {{ percent }}%
    </button>
    <IconButton :icon="Maximize" :label="say`Fit`" keys="F" @click="emit('fit')" />
  </div>
</template>
