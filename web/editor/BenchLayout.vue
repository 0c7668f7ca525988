<script setup lang="ts">
import { PanelLeft, PanelRight } from '@lucide/vue'
import { useLocalStorage, useWindowSize } from '@vueuse/core'
import { computed } from 'vue'
import IconButton from '../ui/IconButton.vue'
import SplitHandle from '../ui/SplitHandle.vue'
import { useViewing } from './viewing.ts'

/**
 * The bench of a step: what it works with on the left, the picture in the middle, settings of what is chosen on the right, lanes
 * below. The picture takes all that the others do not need; how somebody has drawn them is remembered for every step.
 */
const props = defineProps<{
  step: string
  /** What stands on the left and on the right, as a screen reader calls them. */
  left: string
  right: string
  leftWidth: number
  rightWidth: number
  /** Whether there is anything to set: otherwise the right side gives its room to the picture. */
  chosen: boolean
  /** Px that the lanes need, and how many of them they take by themselves at most. */
  lanes: number
  lanesMost: number
  /** Px of the lanes that stay in the quiet view. */
  lanesQuiet?: number
}>()
const viewing = useViewing()
const window = useWindowSize()

interface Drawn {
  left?: number
  right?: number
  lanes?: number
  leftFolded?: boolean
  rightFolded?: boolean
}
const all = useLocalStorage<Record<string, Drawn>>('wisp-benches', {})
const drawn = computed(() => all.value[props.step] ?? {})
const draw = (change: Drawn) => (all.value = { ...all.value, [props.step]: { ...drawn.value, ...change } })
function reset(what: keyof Drawn): void {
  const { [what]: _, ...rest } = drawn.value
  all.value = { ...all.value, [props.step]: rest }
}

/** Px that a side may take at most: the picture keeps half of the window. */
const sideMost = computed(() => Math.max(200, Math.floor(window.width.value * 0.3)))
const lanesMax = computed(() => Math.floor(window.height.value * 0.5))
const sized = (name: 'left' | 'right', own: number) =>
  computed({
    get: () => Math.min(drawn.value[name] ?? own, sideMost.value),
    set: (size: number) => draw({ [name]: size }),
  })
const leftSize = sized('left', props.leftWidth)
const rightSize = sized('right', props.rightWidth)
const lanesSize = computed({
  get: () => Math.min(drawn.value.lanes ?? Math.min(props.lanes, props.lanesMost), lanesMax.value),
  set: (size: number) => draw({ lanes: size }),
})
const showsLeft = computed(() => !viewing.quiet && !drawn.value.leftFolded)
const showsRight = computed(() => !viewing.quiet && props.chosen && !drawn.value.rightFolded)
</script>

<template>
  <main class="relative flex min-h-0 flex-1 flex-col">
    <div class="flex min-h-0 flex-1">
      <aside
        v-if="showsLeft"
        class="relative flex shrink-0 flex-col border-r bg-panel"
        :style="{ width: `${leftSize}px` }"
        :aria-label="left"
      >
        <slot name="left" />
        <SplitHandle
          v-model="leftSize"
          :label="`Width of: ${left}`"
          at="right"
          :least="180"
          :most="sideMost"
          @reset="reset('left')"
        />
      </aside>
      <div class="flex min-w-0 flex-1 flex-col">
        <div v-if="!viewing.quiet" class="flex items-center gap-1 bg-ground px-1">
          <IconButton
            :icon="PanelLeft"
            :label="left"
            :pressed="showsLeft"
            class="!size-7"
            @click="draw({ leftFolded: showsLeft })"
          />
          <slot name="bar" />
          <IconButton
            :icon="PanelRight"
            :label="chosen ? right : `${right}: choose something first`"
            :pressed="showsRight"
            :disabled="!chosen"
            class="!size-7"
            @click="draw({ rightFolded: showsRight })"
          />
        </div>
        <slot name="picture" />
      </div>
      <aside
        v-if="showsRight"
        class="relative flex shrink-0 flex-col border-l bg-panel"
        :style="{ width: `${rightSize}px` }"
        :aria-label="right"
      >
        <SplitHandle
          v-model="rightSize"
          :label="`Width of: ${right}`"
          at="left"
          :least="220"
          :most="sideMost"
          @reset="reset('right')"
        />
        <slot name="right" />
      </aside>
    </div>
    <template v-if="!viewing.quiet"><slot name="transport" /></template>
    <div
      v-if="viewing.quiet ? lanesQuiet : lanesSize > 0"
      class="relative flex shrink-0 flex-col border-t bg-panel"
      :style="{ height: `${viewing.quiet ? lanesQuiet : lanesSize}px` }"
    >
      <SplitHandle
        v-if="!viewing.quiet"
        v-model="lanesSize"
        label="Height of the lanes"
        at="top"
        :least="40"
        :most="lanesMax"
        @reset="reset('lanes')"
      />
      <slot name="lanes" />
    </div>
    <slot />
  </main>
</template>
