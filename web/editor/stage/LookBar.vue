<script setup lang="ts">
import { Anchor, ChartColumn, CircleHelp, Layers, Maximize, ScanEye, SquareDashed, SunDim, ZoomIn } from '@lucide/vue'
import { computed } from 'vue'
import { type Look, useBench } from '../bench.ts'
import ChoiceField from '../../ui/ChoiceField.vue'
import IconButton from '../../ui/IconButton.vue'
import ViewOptions from './ViewOptions.vue'
import { qualities } from './view.ts'

/** Ways of looking, above the picture. */
const props = defineProps<{ looks: { value: Look; label: string }[]; zoom: number; light?: boolean }>()
const emit = defineEmits<{ fit: []; zoom: [k: number]; sheet: [] }>()
const bench = useBench()
function toggleWipe(): void {
  bench.wipe = bench.wipe === null ? 0.5 : null
  bench.look = 'result'
}
const percent = computed(() => Math.round(props.zoom * 100))
</script>

<template>
  <div class="flex h-9 shrink-0 items-center gap-1 bg-ground px-2" role="toolbar" aria-label="Ways of looking">
    <button
      v-for="one in looks"
      :key="one.value"
      type="button"
      class="button-quiet"
      :class="{ '!bg-selected !text-text': bench.look === one.value && bench.wipe === null }"
      :aria-pressed="bench.look === one.value && bench.wipe === null"
      @click="((bench.look = one.value), (bench.wipe = null))"
    >
      {{ one.label }}
    </button>
    <button
      v-if="light"
      type="button"
      class="button-quiet"
      :class="{ '!bg-selected !text-text': bench.wipe !== null }"
      :aria-pressed="bench.wipe !== null"
      title="Before and after beside each other, with a line to drag"
      @click="toggleWipe"
    >
      Wipe
    </button>
    <label v-if="bench.look === 'overlay'" class="flex items-center" title="Strength of the tint">
      <input
        v-model.number="bench.overlay"
        type="range"
        min="0"
        max="0.9"
        step="0.05"
        class="w-16 accent-[#a8a6a0]"
        aria-label="Strength of the tint"
      />
    </label>
    <label
      v-else-if="bench.look === 'result' && !light"
      class="flex items-center"
      title="How much of the result lies over the plate"
    >
      <input
        v-model.number="bench.through"
        type="range"
        min="0.1"
        max="1"
        step="0.05"
        class="w-16 accent-[#a8a6a0]"
        aria-label="How much of the result lies over the plate"
      />
    </label>
    <span class="flex-1" />
    <IconButton
      v-if="!light"
      :icon="Layers"
      label="Neighbouring shapes"
      keys="N"
      :pressed="bench.onion"
      @click="bench.onion = !bench.onion"
    />
    <template v-if="!light">
      <IconButton :icon="ZoomIn" label="Loupe" keys="Z" :pressed="bench.loupe" @click="bench.loupe = !bench.loupe" />
      <IconButton
        :icon="Anchor"
        label="Hold the part still"
        keys="H"
        :pressed="bench.steady !== null"
        @click="bench.holdSteady()"
      />
      <ViewOptions />
    </template>
    <template v-if="light">
      <IconButton
        :icon="ScanEye"
        label="The chosen card alone"
        :pressed="bench.onlyChosen"
        @click="bench.onlyChosen = !bench.onlyChosen"
      />
      <IconButton
        :icon="SquareDashed"
        label="Tint where the chosen card works"
        :pressed="bench.tintRegion"
        @click="bench.tintRegion = !bench.tintRegion"
      />
      <IconButton
        :icon="SunDim"
        label="Mark clipped highlights"
        :pressed="bench.clipped"
        @click="bench.clipped = !bench.clipped"
      />
      <IconButton
        :icon="ChartColumn"
        label="Histogram of the result"
        :pressed="bench.histogram"
        @click="bench.histogram = !bench.histogram"
      />
    </template>
    <ChoiceField
      v-if="light"
      v-model="bench.reduce"
      bare
      label="Size at which pictures are computed"
      :options="qualities"
    />
    <button
      type="button"
      class="button-quiet numbers w-12 !px-1"
      title="Actual pixels"
      :aria-label="`Zoom ${percent} %; press for actual pixels`"
      @click="emit('zoom', 1)"
    >
      {{ percent }}%
    </button>
    <IconButton :icon="Maximize" label="Fit" keys="F" @click="emit('fit')" />
    <IconButton :icon="CircleHelp" label="Keys" keys="?" @click="emit('sheet')" />
  </div>
</template>
